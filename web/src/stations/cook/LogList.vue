<script setup lang="ts">
import { computed, ref } from 'vue'
import { when, type FoldEntry } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { nearest } from '../../bench/placedBack'
import { clock } from '../../bench/dates'
import { lengthText, mass, minutes, padLength, padMass, padTemperature, temperature } from '../../bench/units'
import KeptPhoto from './KeptPhoto.vue'
import type { BenchBatch, BenchStep } from './useBench'

const props = defineProps<{
  standing: FoldEntry[]
  batches: Map<string, BenchBatch>
  steps: Map<string, BenchStep>
  trial: string
  zone?: string
  now: number
}>()
const emit = defineEmits<{
  correct: [e: FoldEntry, payload: Record<string, unknown>]
  undo: [e: FoldEntry]
}>()
const newestFirst = computed(() => [...props.standing].reverse())
function foreseen(step: string | undefined, p: Record<string, string | number>): string {
  const [at, low, high] = [p.ends_at, p.low, p.high].map((t) => clock(Number(t), props.zone))
  const target = `${step}: ${temperature(Number(p.target_c))}`
  return p.high === null
    ? `${target} not before ${low}`
    : `${target} at about ${at}, between ${low} and ${high}`
}
function words(e: FoldEntry): string {
  const p = e.payload as Record<string, string | number>
  const step = p.step ? props.steps.get(`${e.batch}|${p.step}`)?.what : ''
  switch (e.kind) {
    case 'temperature':
      return `${p.where} ${temperature(Number(p.celsius), 1)}`
    case 'weight':
      return `${p.item ? `${p.item}, by eye` : p.of}: ${mass(Number(p.kg))}`
    case 'size':
      return `${p.of} ${p.when}${p.piece ? `, ${p.piece}` : ''}: ${lengthText(Number(p.metre))}`
    case 'tally':
      return `${p.of}: ${p.count} of ${p.out_of}`
    case 'energy':
      return `${(Number(p.joule) / 3.6e6).toFixed(2)} kWh`
    case 'extended':
      return `${step}: ${Number(p.seconds) > 0 ? '+' : '−'}${minutes(Math.abs(Number(p.seconds)))}`
    case 'foreseen':
      return foreseen(step, p)
    case 'effort':
      return [
        p.hands_s && `hands ${minutes(Number(p.hands_s))}`,
        p.wash_items && `${p.wash_items} to wash`,
        p.wash_s && `washing ${minutes(Number(p.wash_s))}`,
        (e.payload.nuisance as string[] | undefined)?.join(', '),
      ]
        .filter(Boolean)
        .join(', ')
    case 'handling_error':
    case 'void':
      return String(p.why)
    case 'ready': {
      const items = (e.payload.items as { text: string; waived?: string }[]) ?? []
      const w = items.filter((i) => i.waived)
      const waived = w.map((i) => `${i.text} (${i.waived})`).join('; ')
      return `${items.length - w.length} ticked${waived ? `; not needed: ${waived}` : ''}`
    }
    case 'confirmed':
      return `${step}: ${p.sign}`
    case 'looked':
      return [p.water && `water ${p.water}`, p.added_kg && `${mass(Number(p.added_kg))} added`, p.text]
        .filter(Boolean)
        .join(', ')
    case 'timer':
      return `${p.name}`
    case 'timer_done':
      return ''
    case 'probe':
      return p.where === 'out' ? `${p.name} taken out` : `${p.name} into the ${p.where}`
    case 'rescued':
      return `${p.finish}, because ${p.why}`
    case 'wash_item':
      return `${p.item}, ${minutes(Number(p.seconds))}`
    case 'washed':
      return `${p.thing}`
    case 'photo':
      return p.face ? String(p.face) : ''
    default:
      return String(p.text ?? step ?? '')
  }
}
const KIND: Record<string, string> = {
  handling_error: 'handling error',
  started: 'started',
  in: 'in',
  out: 'out',
  timer_done: 'timer stopped',
  wash_item: 'washed up',
  tally: 'counted',
  confirmed: 'it started',
  looked: 'looked in',
  foreseen: 'by its probe',
  rescued: 'rescue',
}
const editing = ref<string | null>(null)
const value = ref('')
const time = ref('')
const problem = ref('')
const VALUED = ['temperature', 'weight', 'size', 'cue', 'note']
// What was tapped at the wrong moment, or too late, is placed where it belongs; the kitchen's own entries are
// not.
const TIMED = [...VALUED, 'started', 'done', 'in', 'turned', 'out', 'confirmed', 'looked', 'energy', 'washed']
const correctable = (e: FoldEntry) => TIMED.includes(e.kind)
const UNIT: Record<string, () => string> = {
  temperature: () => padTemperature.unit,
  weight: () => padMass.unit,
  size: () => padLength.unit,
}
function begin(e: FoldEntry) {
  editing.value = e.id
  time.value = clock(when(e), props.zone)
  problem.value = ''
  value.value = e.kind === 'cue' || e.kind === 'note' ? String(e.payload.text) : ''
}
function save(e: FoldEntry) {
  const v = Number(value.value.replace(',', '.'))
  const p: Record<string, unknown> = { ...e.payload, at: when(e) }
  // An empty value stays as it was: perhaps only the time was wrong.
  const given = value.value.trim() !== ''
  if (given && e.kind === 'temperature' && Number.isFinite(v)) p.celsius = padTemperature.toSi(v)
  else if (given && e.kind === 'weight' && Number.isFinite(v)) {
    p.kg = padMass.toSi(v)
    // Of two weighings one was read wrongly; what was used is known now, and what is left of the bottle.
    if (typeof p.before_kg === 'number') p.after_kg = p.before_kg - Number(p.kg)
  } else if (given && e.kind === 'size' && Number.isFinite(v)) p.metre = padLength.toSi(v)
  else if (given && (e.kind === 'cue' || e.kind === 'note')) p.text = value.value
  else if (given) {
    problem.value = 'Give a number.'
    return
  }
  if (time.value !== clock(when(e), props.zone)) {
    const at = nearest(time.value, when(e), props.zone)
    if (at === null || at > props.now) {
      problem.value = at === null ? 'Give a clock time, as 17:05.' : 'This time has not come yet.'
      return
    }
    p.at = at
  }
  emit('correct', e, p)
  editing.value = null
}
</script>

<template>
  <p class="soft small">Nothing is deleted: a correction is a new entry, and the first value is kept.</p>
  <ol class="lines log">
    <li v-for="e in newestFirst" :key="e.id" class="row">
      <span class="mono">{{ clock(when(e), zone) }}</span><LoafMark
        v-if="batches.get(e.batch)"
        :mark="batches.get(e.batch)!.mark"
        :size="22"
      /><strong>{{ batches.get(e.batch)?.tag }}</strong>
      <span class="grow"
        ><span class="soft">{{ KIND[e.kind] ?? e.kind }}</span> {{ words(e)
        }}<em v-if="e.supersedes" class="soft"> (corrected)</em
        ><KeptPhoto v-if="e.kind === 'photo'" :trial="trial" :photo="String(e.payload.photo_id)" alt="" thumb
      /></span>
      <template v-if="editing === e.id"
        ><el-input v-model="time" class="time" aria-label="When it was" @keyup.enter="save(e)" /><el-input
          v-if="VALUED.includes(e.kind)"
          v-model="value"
          class="short"
          :aria-label="`New value, ${UNIT[e.kind]?.() ?? 'words'}`"
          @keyup.enter="save(e)"
        /><button class="act" @click="save(e)">Correct</button
        ><span v-if="problem" class="bad small" role="alert">{{ problem }}</span></template
      >
      <template v-else
        ><button v-if="correctable(e)" class="act quiet" @click="begin(e)">Correct</button
        ><button class="act quiet" @click="emit('undo', e)">Take back</button></template
      >
    </li>
  </ol>
</template>

<style scoped>
.log {
  margin-top: var(--gap-2);
  max-height: 60vh;
  overflow: auto;
}
img {
  display: block;
  height: 90px;
  border-radius: 6px;
  margin-top: var(--gap-1);
}
.time {
  width: 80px;
}
.short {
  width: 140px;
}
.act {
  padding: var(--gap-1) var(--gap-3);
}
</style>
