<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { preheatsBeside, when, type FoldEntry, type StepRun } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock, countdown, temperature } from '../../bench/units'
import LoadLanes from './LoadLanes.vue'
import { circuitsUsed, type Bench, type BenchStep } from './useBench'
import type { BatchOutlook } from './useOutlook'

const props = defineProps<{
  bench: Bench
  runs: StepRun[]
  now: number
  chosen: string | null
  standing: FoldEntry[]
  outlook: Map<string, BatchOutlook>
  zone?: string
}>()
const emit = defineEmits<{ pick: [batch: string] }>()
const LEAST_PX_PER_MIN = 7
const HAND_PX = 19
const scroller = ref<HTMLElement>()
const { height } = useElementSize(scroller)
const from = computed(
  () =>
    Math.floor((Math.min(...props.runs.map((r) => r.start), props.bench.shift.serve_from) - 180) / 300) * 300,
)
const until = computed(() => Math.max(...props.runs.map((r) => r.end), props.bench.shift.serve_until) + 360)
const scale = computed(() =>
  Math.max(LEAST_PX_PER_MIN / 60, (height.value - 62) / (until.value - from.value)),
)
const y = (at: number) => (at - from.value) * scale.value
const every = computed(() => (scale.value * 60 * 10 >= 60 ? 600 : scale.value * 60 * 30 >= 60 ? 1800 : 3600))
const lines = computed(() => {
  const first = Math.ceil(from.value / every.value) * every.value
  return Array.from(
    { length: Math.max(0, Math.ceil((until.value - first) / every.value)) },
    (_, i) => first + i * every.value,
  )
})
const lanesWide = computed(() => 26 * (1 + circuitsUsed(props.bench).length))
const grid = computed(() => ({
  gridTemplateColumns: `64px repeat(${props.bench.batches.length}, minmax(130px, 1fr)) ${lanesWide.value}px`,
  minWidth: `${64 + 130 * props.bench.batches.length + lanesWide.value}px`,
}))
interface Block {
  run: StepRun
  step: BenchStep
  top: number
  height: number
  pad: number
  look: string
  label: string
}
const columns = computed(() =>
  props.bench.batches.map((b) => {
    const own = props.runs.filter((r) => r.batch === b.id)
    const beside = preheatsBeside(b.steps)
    const blocks: Block[] = []
    for (const run of own) {
      const step = b.steps.find((s) => s.key === run.step)
      if (!step || (run.state === 'todo' && run.end === run.start)) continue
      const hands = step.attention === 'hands'
      const top = y(run.start)
      // What runs past its time is still running: its block grows with now until a tap ends it.
      const end = run.state === 'running' ? Math.max(run.end, props.now) : run.end
      const tall = Math.max(hands ? HAND_PX : 3, (end - run.start) * scale.value - (hands ? 0 : 2))
      const look = hands
        ? 'hand'
        : step.phase === 'cook'
          ? 'cook'
          : step.phase === 'wait'
            ? 'rest'
            : step.attention === 'watched'
              ? 'hatch watched'
              : 'hatch'
      const sets = [
        step.set_point_c !== null && step.phase === 'come_up' && temperature(step.set_point_c),
        step.power_w && `${step.power_w} W`,
      ]
        .filter(Boolean)
        .join(' ')
      const reached = step.what.includes('°') ? '' : sets
      blocks.push({
        run,
        step,
        top,
        height: tall,
        pad: 0,
        look: `${look} ${run.state}${beside.has(step.key) ? ' beside' : beside.size ? ' narrow' : ''}`,
        label:
          beside.has(step.key) && sets
            ? sets
            : [step.what, reached, step.phase === 'cook' && step.attention === 'watched' && 'watched']
                .filter(Boolean)
                .join(', '),
      })
    }
    // Hand work shorter than its words is drawn as tall as they need; what stands under it moves its own
    // words down.
    const hands = blocks.filter((k) => k.look.startsWith('hand'))
    for (const k of blocks)
      if (!k.look.startsWith('hand') && !k.look.endsWith('beside'))
        k.pad = Math.max(
          0,
          ...hands
            .filter((h) => h.top <= k.top + 2 && h.top + h.height > k.top)
            .map((h) => h.top + h.height - k.top),
        )
    const void_ = props.standing
      .filter((e) => e.batch === b.id && (e.kind === 'void' || e.kind === 'handling_error'))
      .at(-1)
    const facts = props.standing.filter(
      (e) =>
        e.batch === b.id &&
        ['temperature', 'cue', 'photo', 'weight', 'note'].includes(e.kind) &&
        when(e) > from.value,
    )
    const f = props.outlook.get(b.id)?.forecast
    const ready =
      f?.basis && f.ready_at && f.target_c !== null && !props.bench.shift.ended
        ? {
            at: f.ready_at,
            low: f.ready_low ?? f.ready_at,
            high: f.ready_high ?? f.ready_at,
            probe: f.basis === 'probe',
            words: `${temperature(f.target_c)} ${clock(f.ready_at, props.zone)}`,
          }
        : null
    const points = f?.curve.map(([t, , middle]) => [t ?? 0, middle ?? 0] as const) ?? []
    const least = Math.min(...points.map((p) => p[1]))
    const most = Math.max(f?.target_c ?? 0, ...points.map((p) => p[1]))
    const curve =
      ready && most > least
        ? points
            .filter(([t]) => y(t) <= y(until.value))
            .map(([t, c]) => `${(6 + (88 * (c - least)) / (most - least)).toFixed(1)},${y(t).toFixed(1)}`)
            .join(' ')
        : ''
    // Whatever is in its heat counts up, throw-aways too.
    const heat = own.find(
      (r) => r.state === 'running' && b.steps.find((s) => s.key === r.step)?.phase === 'cook',
    )
    // Cooking that the food ends: until when it may last.
    const late = own
      .map((run) => ({ run, step: b.steps.find((s) => s.key === run.step) }))
      .find(
        ({ run, step }) =>
          step?.phase === 'cook' && (step.longest_s ?? 0) > step.duration_s && run.state !== 'done',
      )
    const latest =
      late && late.run.start + late.step!.longest_s! > late.run.end + 30
        ? { from: late.run.end, until: late.run.start + late.step!.longest_s! }
        : null
    return { batch: b, since: heat?.start ?? null, latest, blocks, flag: void_, facts, ready, curve }
  }),
)
function factWords(e: FoldEntry): string {
  const p = e.payload as Record<string, string | number>
  return e.kind === 'temperature'
    ? `${p.where} ${temperature(Number(p.celsius), 1)}`
    : e.kind === 'weight'
      ? `weighed, ${p.of}`
      : e.kind === 'photo'
        ? 'photo'
        : String(p.text ?? '')
}
watch(
  () => [height.value > 0, props.bench.shift.id],
  async ([ready]) => {
    if (!ready) return
    await nextTick()
    scroller.value?.scrollTo({ top: Math.max(0, y(props.now) - height.value * 0.45) })
  },
  { immediate: true },
)
</script>

<template>
  <div ref="scroller" class="scroller" tabindex="0" aria-label="Columns of methods, time flows down">
    <div class="heads" :style="grid">
      <span />
      <button
        v-for="(c, i) in columns"
        :key="c.batch.id"
        class="head"
        :class="{ chosen: chosen === c.batch.id }"
        :aria-pressed="chosen === c.batch.id"
        @click="emit('pick', c.batch.id)"
      >
        <LoafMark :mark="c.batch.mark" :size="34" /><span class="names"
          ><strong
            >{{ c.batch.tag }}<template v-if="c.batch.replicate > 1"> {{ c.batch.replicate }}</template>
            <span class="key">{{ i + 1 }}</span></strong
          ><small
            >{{ c.batch.rescue || c.batch.name
            }}<span v-if="c.since" class="mono since"> {{ countdown(now - c.since) }}</span></small
          ></span
        >
      </button>
      <span class="lane-head small soft">hands, circuits</span>
    </div>
    <div class="field" :style="{ ...grid, height: `${y(until)}px` }">
      <div class="axis">
        <span v-for="t in lines" :key="t" class="mono" :style="{ top: `${y(t)}px` }">{{
          clock(t, zone)
        }}</span>
      </div>
      <div
        v-for="c in columns"
        :key="c.batch.id"
        class="column"
        :style="{ '--m': c.batch.mark.colour }"
        :class="{ chosen: chosen === c.batch.id }"
      >
        <div
          v-for="b in c.blocks"
          :key="b.run.step"
          class="block"
          :class="b.look"
          :style="{ top: `${b.top}px`, height: `${b.height}px`, paddingTop: `${b.pad + 1}px` }"
        >
          <span>{{ b.label }}</span>
        </div>
        <span
          v-for="e in c.facts"
          :key="e.id"
          class="fact"
          :class="e.kind"
          :style="{ top: `${y(when(e))}px` }"
          :title="`${clock(when(e), zone)} ${factWords(e)}`"
        />
        <svg
          v-if="c.curve"
          class="curve"
          :viewBox="`0 0 100 ${y(until)}`"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <polyline :points="c.curve" class="under" />
          <polyline :points="c.curve" />
        </svg>
        <div
          v-if="c.ready"
          class="ready"
          :class="{ probe: c.ready.probe }"
          :style="{
            top: `${y(c.ready.low)}px`,
            height: `${Math.max(2, y(Math.min(c.ready.high, until)) - y(c.ready.low))}px`,
          }"
          :title="`core ready between ${clock(c.ready.low, zone)} and ${clock(c.ready.high, zone)}`"
        >
          <i :style="{ top: `${y(c.ready.at) - y(c.ready.low)}px` }" /><span
            class="mono"
            :style="{ top: `${y(c.ready.at) - y(c.ready.low)}px` }"
            >{{ c.ready.words }}</span
          >
        </div>
        <div
          v-if="c.latest"
          class="latest"
          :style="{ top: `${y(c.latest.from)}px`, height: `${y(c.latest.until) - y(c.latest.from)}px` }"
          :title="`the food ends it: at most until ${clock(c.latest.until, zone)}`"
        />
        <p v-if="c.flag" class="flag">
          {{ c.flag.kind === 'void' ? 'void' : 'handling error' }}: {{ c.flag.payload.why }}
        </p>
      </div>
      <LoadLanes :runs="runs" :bench="bench" :y="y" />
      <div class="lines"><i v-for="t in lines" :key="t" :style="{ top: `${y(t)}px` }" /></div>
      <div
        class="serve"
        :style="{
          top: `${y(bench.shift.serve_from)}px`,
          height: `${Math.max(3, y(bench.shift.serve_until) - y(bench.shift.serve_from))}px`,
        }"
      >
        <span
          >{{ bench.shift.same_age ? 'one after another' : 'plates meet' }}
          {{ clock(bench.shift.serve_from, zone) }} – {{ clock(bench.shift.serve_until, zone) }}</span
        >
      </div>
      <div v-if="now > from && now < until" class="now" :style="{ top: `${y(now)}px` }">
        <span class="mono">{{ clock(now, zone) }}</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.latest {
  position: absolute;
  right: 0;
  width: 8px;
  z-index: 3;
  border-right: 3px dotted var(--ink);
  border-bottom: 3px solid var(--ink);
}
.scroller {
  flex: 1;
  overflow: auto;
  position: relative;
  min-height: 0;
}
.heads {
  display: grid;
  position: sticky;
  top: 0;
  z-index: 5;
  background: var(--flour);
  border-bottom: 1px solid var(--line-strong);
}
.head {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  padding: var(--gap-2);
  min-height: 56px;
  background: none;
  border: 0;
  border-left: 1px solid var(--line);
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  min-width: 0;
}
.head.chosen {
  background: var(--paper);
  box-shadow: inset 0 -4px 0 var(--ink);
}
.names {
  display: grid;
  min-width: 0;
  line-height: 1.15;
}
.since {
  margin-left: var(--gap-2);
  font-weight: 700;
  color: var(--ink);
}
.names small {
  color: var(--ink-soft);
  font-size: var(--type-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.field {
  display: grid;
  position: relative;
}
.lane-head {
  align-self: center;
  font-size: var(--type-1);
  line-height: 1.1;
  padding: 0 var(--gap-0);
  overflow: hidden;
}
.axis {
  position: relative;
}
.axis span {
  position: absolute;
  right: 8px;
  transform: translateY(-50%);
  font-size: var(--type-2);
  color: var(--ink-soft);
}
.column {
  position: relative;
  border-left: 1px solid var(--line);
}
.column.chosen {
  background: var(--paper);
}
.lines {
  position: absolute;
  inset: 0;
  left: 64px;
  pointer-events: none;
  z-index: 0;
}
.lines i {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px solid var(--line);
  opacity: 0.7;
}
.block {
  position: absolute;
  left: 8px;
  right: 8px;
  border-radius: 5px;
  padding: var(--gap-0) var(--gap-2);
  font-size: var(--type-2);
  line-height: 17px;
  overflow: hidden;
  z-index: 1;
}
.block span {
  display: block;
  overflow: hidden;
}
.hand span {
  text-overflow: ellipsis;
  white-space: nowrap;
}
.hand {
  background: var(--hand);
  color: var(--flour);
  right: 14%;
  z-index: 3;
  font-size: var(--type-1);
  padding-left: var(--gap-2);
}
.hand.done {
  background: var(--hand-past);
}
/* A preheat beside what the food does: a lane of its own at the column's edge. */
.narrow {
  right: 34px;
}
.hand.narrow {
  right: 34px;
}
.beside {
  left: auto;
  right: 6px;
  width: 24px;
  padding: var(--gap-1) var(--gap-0);
  writing-mode: vertical-rl;
  font-size: var(--type-1);
  line-height: 19px;
}
.beside span {
  white-space: nowrap;
  text-overflow: ellipsis;
}
.hatch {
  background: repeating-linear-gradient(135deg, var(--hatch-a) 0 7px, var(--hatch-b) 7px 14px);
  color: var(--ink);
}
.hatch.watched {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 7px, var(--hatch-dark-b) 7px 14px);
}
.hatch.done {
  opacity: 0.8;
}
.cook {
  background: var(--m);
  color: var(--white);
}
.cook.done {
  background: color-mix(in srgb, var(--m) 30%, var(--flour));
  color: var(--ink);
}
.rest {
  background: var(--paper);
  border: 1px dashed var(--line-strong);
  color: var(--ink-soft);
}
.fact {
  position: absolute;
  right: 3px;
  width: 9px;
  height: 9px;
  margin-top: -4px;
  border-radius: 50%;
  background: var(--paper);
  border: 2px solid var(--ink);
  z-index: 4;
}
.fact.note,
.fact.cue {
  border-radius: 2px;
}
.curve {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  z-index: 2;
  pointer-events: none;
}
.curve polyline {
  fill: none;
  stroke: var(--paper);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
.curve .under {
  stroke: var(--ink);
  stroke-width: 4.5;
}
.ready {
  position: absolute;
  right: 2px;
  width: 12px;
  z-index: 4;
  border-right: 3px dotted var(--ink);
}
.ready.probe {
  border-right-style: solid;
}
.ready i {
  position: absolute;
  right: -3px;
  width: 14px;
  border-top: 3px solid var(--ink);
}
.ready span {
  position: absolute;
  right: 14px;
  transform: translateY(-50%);
  white-space: nowrap;
  font-size: var(--type-1);
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--ink);
  border-radius: 4px;
  padding: 0 var(--gap-1);
}
.flag {
  position: absolute;
  top: 4px;
  left: 8px;
  right: 8px;
  z-index: 4;
  background: var(--warn-bg);
  border-left: 5px solid var(--beet);
  font-size: var(--type-2);
  padding: var(--gap-0) var(--gap-2);
}
.serve {
  position: absolute;
  left: 64px;
  right: 0;
  background: var(--serve);
  border-top: 2px solid var(--herb);
  border-bottom: 2px solid var(--herb);
  z-index: 2;
  pointer-events: none;
}
.serve span {
  position: absolute;
  top: 100%;
  right: 8px;
  color: var(--herb);
  font-size: var(--type-2);
  white-space: nowrap;
  background: var(--flour);
  padding: 0 var(--gap-1);
  border-radius: 3px;
}
.now {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 3px solid var(--ink);
  z-index: 4;
  pointer-events: none;
}
.now span {
  position: absolute;
  left: 0;
  transform: translateY(-55%);
  background: var(--ink);
  color: var(--flour);
  padding: var(--gap-0) var(--gap-2);
  border-radius: 4px;
  font-size: var(--type-2);
}
</style>
