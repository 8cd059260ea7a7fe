<script setup lang="ts">
/**
 * When each step was done, typed into one table: for a shift that was logged on paper, and for a tap that was
 * forgotten. A changed time is a correction that keeps the first value; an emptied one takes it back.
 */
import { computed, reactive, ref } from 'vue'
import { when, type FoldEntry, type StepRun } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { nearest } from '../../bench/placedBack'
import { clock } from '../../bench/dates'
import type { BenchBatch, BenchStep } from './useBench'

const props = defineProps<{
  batches: BenchBatch[]
  runs: StepRun[]
  standing: FoldEntry[]
  zone?: string
  now: number
  log: (batch: string, kind: string, payload: Record<string, unknown>, supersedes?: string) => Promise<void>
  together: (batch: string, step: string) => { batch: string; step: string }[]
}>()
const emit = defineEmits<{ close: [] }>()
const END_KIND: Record<string, string> = { load: 'in', turn: 'turned', out: 'out' }
interface Line {
  key: string
  batch: BenchBatch
  step: BenchStep
  kind: string
  expected: number
  entry: FoldEntry | undefined
}
const chosen = ref(props.batches[0]?.id ?? '')
const byTime = ref(false)
const entryOf = (batch: string, step: string, begins: boolean) =>
  props.standing
    .filter(
      (e) =>
        e.batch === batch &&
        e.payload.step === step &&
        (begins ? ['started'] : ['done', 'in', 'turned', 'out']).includes(e.kind),
    )
    .at(-1)
const lines = computed<Line[]>(() => {
  const found: Line[] = []
  for (const batch of props.batches)
    for (const step of batch.steps) {
      const run = props.runs.find((r) => r.batch === batch.id && r.step === step.key)
      // What runs by itself ends where the next begins; only the start of a preheat is somebody's act.
      if (!run || (step.attention !== 'hands' && step.phase !== 'come_up')) continue
      // What is done once for several stands once in the list of all.
      const first = props.together(batch.id, step.key)[0]
      if (byTime.value && first && first.batch !== batch.id) continue
      const begins = step.attention !== 'hands'
      const entry = entryOf(batch.id, step.key, begins)
      found.push({
        key: `${batch.id}|${step.key}`,
        batch,
        step,
        kind: begins ? 'started' : (END_KIND[step.phase] ?? 'done'),
        expected: begins ? run.start : run.end,
        entry,
      })
    }
  return byTime.value
    ? found.sort((a, b) => (a.entry ? when(a.entry) : a.expected) - (b.entry ? when(b.entry) : b.expected))
    : found.filter((l) => l.batch.id === chosen.value)
})
const typed = reactive<Record<string, string>>({})
const stands = (l: Line) => (l.entry ? clock(when(l.entry), props.zone) : '')
const shown = (l: Line) => typed[l.key] ?? stands(l)
const problems = reactive<Record<string, string>>({})
const changed = computed(() => Object.keys(typed).length)
const saving = ref(false)
function asPlanned() {
  for (const l of lines.value) if (!l.entry && !shown(l)) typed[l.key] = clock(l.expected, props.zone)
}
async function save() {
  saving.value = true
  const every = byTime.value
  byTime.value = true
  for (const l of lines.value) {
    const text = typed[l.key]
    if (text === undefined) continue
    delete problems[l.key]
    if (text === stands(l)) {
      delete typed[l.key]
      continue
    }
    const several = props.together(l.batch.id, l.step.key)
    if (!text.trim()) {
      for (const m of several) {
        const old = entryOf(m.batch, m.step, l.kind === 'started')
        if (old) await props.log(m.batch, 'undone', {}, old.id)
      }
      delete typed[l.key]
      continue
    }
    const at = nearest(text, l.entry ? when(l.entry) : l.expected, props.zone)
    if (at === null) problems[l.key] = 'Give a clock time, as 17:05.'
    else if (at > props.now) problems[l.key] = 'This time has not come yet.'
    else {
      for (const m of several) {
        const old = entryOf(m.batch, m.step, l.kind === 'started')
        const payload = { ...(old?.payload ?? {}), step: m.step, at }
        await props.log(m.batch, old?.kind ?? l.kind, payload, old?.id)
      }
      delete typed[l.key]
    }
  }
  byTime.value = every
  saving.value = false
  if (!Object.keys(problems).length) emit('close')
}
</script>

<template>
  <form class="stack" @submit.prevent="save">
    <p class="soft small">
      When each was done, by the kitchen’s clock. A changed time is a correction, and the first value is kept;
      an emptied one is taken back. Readings, weights and notes are logged as ever and re-timed in the log.
    </p>
    <div class="row">
      <button
        v-for="b in batches"
        :key="b.id"
        type="button"
        class="act"
        :class="{ strong: !byTime && b.id === chosen }"
        @click="((chosen = b.id), (byTime = false))"
      >
        <LoafMark :mark="b.mark" :size="24" />{{ b.tag }}{{ b.replicate > 1 ? ` ${b.replicate}` : '' }}
      </button>
      <button type="button" class="act" :class="{ strong: byTime }" @click="byTime = true">
        All by time
      </button>
      <span class="grow" />
      <button type="button" class="act quiet" @click="asPlanned">Fill in as planned</button>
    </div>
    <div class="scroll" role="region" tabindex="0" aria-label="Table of times, scrolls sideways">
      <table class="plain">
        <thead>
          <tr>
            <th v-if="byTime" />
            <th>Step</th>
            <th>Planned</th>
            <th>Done at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines" :key="l.key">
            <td v-if="byTime">
              <strong>{{ l.batch.tag }}</strong>
            </td>
            <td>{{ l.kind === 'started' ? `Begun: ${l.step.what}` : l.step.what }}</td>
            <td class="mono soft">{{ clock(l.expected, zone) }}</td>
            <td>
              <el-input
                :model-value="shown(l)"
                class="time"
                inputmode="numeric"
                placeholder="--:--"
                :aria-label="`${l.batch.tag}, ${l.step.what}, done at`"
                @update:model-value="(v: string) => (typed[l.key] = v)"
              />
              <span v-if="problems[l.key]" class="bad small" role="alert">{{ problems[l.key] }}</span>
              <span v-else-if="l.entry?.supersedes" class="soft small">corrected</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row">
      <button class="act strong" :disabled="!changed || saving">Keep these times</button>
      <button type="button" class="act quiet" @click="emit('close')">Close</button>
    </div>
  </form>
</template>

<style scoped>
.scroll {
  max-height: 50vh;
  overflow: auto;
}
.time {
  width: 110px;
}
</style>
