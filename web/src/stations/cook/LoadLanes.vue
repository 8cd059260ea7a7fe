<script setup lang="ts">
/**
 * Beside the columns, or below the rows, on the same clock: how many hands are wanted, who stays where, and
 * what each circuit carries.
 */
import { computed } from 'vue'
import type { StepRun } from '../../bench/fold'
import { circuitsUsed, type Bench } from './useBench'

const props = defineProps<{ runs: StepRun[]; bench: Bench; y: (at: number) => number; across?: boolean }>()
const people = computed(() => props.bench.shift.people)
const steps = computed(
  () => new Map(props.bench.batches.flatMap((b) => b.steps.map((s) => [`${b.id}|${s.key}`, s] as const))),
)
const shared = computed(
  () =>
    new Map(
      props.bench.batches.flatMap((b) =>
        Object.entries(b.shared).map(([k, g]) => [`${b.id}|${k}`, g] as const),
      ),
    ),
)
interface Span {
  start: number
  end: number
  load: number
}
/** Stretches of one height, from things that begin and end. */
function stacked(items: { start: number; end: number; load: number }[]): Span[] {
  const cuts = [...new Set(items.flatMap((i) => [i.start, i.end]))].sort((a, b) => a - b)
  const found: Span[] = []
  cuts.slice(0, -1).forEach((a, n) => {
    const b = cuts[n + 1]!
    const load = items.filter((i) => i.start < b && i.end > a).reduce((sum, i) => sum + i.load, 0)
    if (load > 0) found.push({ start: a, end: b, load })
  })
  return found
}
const once = computed(() => {
  const seen = new Set<string>()
  return props.runs.filter((r) => {
    const group = shared.value.get(`${r.batch}|${r.step}`)
    if (!group) return true
    if (seen.has(group)) return false
    seen.add(group)
    return true
  })
})
const of = (r: StepRun) => steps.value.get(`${r.batch}|${r.step}`)
const hands = computed(() =>
  stacked(
    once.value
      .filter((r) => of(r)?.attention === 'hands' && r.end > r.start)
      .map((r) => ({ start: r.start, end: r.end, load: 1 })),
  ),
)
const watched = computed(() =>
  stacked(
    once.value
      .filter((r) => of(r)?.attention === 'watched' && r.end > r.start)
      .map((r) => ({ start: r.start, end: r.end, load: 1 })),
  ),
)
/**
 * From an appliance's first heat to its last it may draw its full input; a hob as many shares of it as it has
 * vessels on.
 */
const lanes = computed(() =>
  circuitsUsed(props.bench)
    .map((c) => {
      const spans = new Map<string, { start: number; end: number; load: number }>()
      for (const r of props.runs) {
        const s = of(r)
        const input = s?.appliance ? props.bench.mains[s.appliance] : undefined
        if (!s || !input || input.circuit !== c.name || !['come_up', 'cook'].includes(s.phase)) continue
        const key = input.rings > 1 ? `${s.appliance}|${r.batch}` : s.appliance!
        const before = spans.get(key)
        spans.set(key, {
          start: Math.min(before?.start ?? r.start, r.start),
          end: Math.max(before?.end ?? r.end, r.end),
          load: input.input_w / input.rings,
        })
      }
      return { ...c, spans: stacked([...spans.values()]).map((s) => ({ ...s, load: s.load + c.base_w })) }
    })
    .filter((c) => c.spans.length),
)
/**
 * Where a stretch lies on the clock, and how far it fills its lane; a lane runs down with `y` in px, or
 * across with `y` in %.
 */
const box = (s: Span, share = 1) => {
  const full = `${100 * Math.min(1, share)}%`
  return props.across
    ? { left: `${props.y(s.start)}%`, width: `max(2px, ${props.y(s.end) - props.y(s.start)}%)`, height: full }
    : {
        top: `${props.y(s.start)}px`,
        height: `${Math.max(2, props.y(s.end) - props.y(s.start))}px`,
        width: full,
      }
}
</script>

<template>
  <div class="lanes" :class="{ across }">
    <div class="lane" title="Hands wanted; hatched: someone stays there">
      <span class="name">hands</span>
      <i v-for="(s, i) in watched" :key="`w${i}`" class="watched" :style="box(s)" />
      <i
        v-for="(s, i) in hands"
        :key="i"
        :class="{ over: s.load > people }"
        :style="box(s, s.load / people)"
        :title="`${s.load} of ${people}`"
      />
    </div>
    <div
      v-for="c in lanes"
      :key="c.name"
      class="lane"
      :title="`Circuit ${c.name}, full input of all that may heat at once`"
    >
      <span class="name">{{ c.name }}</span>
      <i
        v-for="(s, i) in c.spans"
        :key="i"
        class="load"
        :class="{ over: c.limit_w !== null && s.load > c.limit_w }"
        :style="box(s, c.limit_w ? s.load / c.limit_w : 0.5)"
        :title="`${(s.load / 1000).toFixed(1)} kW${c.limit_w ? ` of ${(c.limit_w / 1000).toFixed(1)}` : ''}`"
      />
    </div>
  </div>
</template>

<style scoped>
.lanes {
  display: flex;
  gap: var(--gap-0);
  position: relative;
  border-left: 1px solid var(--line-strong);
}
.lane {
  position: relative;
  flex: 1;
  min-width: 22px;
  background: color-mix(in srgb, var(--paper) 60%, transparent);
}
.name {
  position: sticky;
  top: 60px;
  display: block;
  writing-mode: vertical-rl;
  font-size: var(--type-1);
  color: var(--ink-soft);
  padding: var(--gap-1) var(--gap-0);
  z-index: 3;
}
.lane i {
  position: absolute;
  left: 0;
  background: var(--hand);
  z-index: 1;
}
.across {
  flex-direction: column;
  border-left: 0;
  gap: var(--gap-0);
}
.across .lane {
  min-height: 18px;
  border: 1px solid var(--line);
}
.across .lane i {
  left: auto;
  bottom: 0;
}
.across .name {
  position: absolute;
  top: 0;
  left: 4px;
  writing-mode: horizontal-tb;
  padding: 0 var(--gap-0);
  line-height: 18px;
  background: color-mix(in srgb, var(--paper) 70%, transparent);
}
.lane .watched {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 4px, var(--hatch-dark-b) 4px 8px);
  z-index: 0;
}
.lane .load {
  background: var(--line-strong);
}
.lane .over {
  background: var(--beet);
}
</style>
