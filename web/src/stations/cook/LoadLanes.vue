<script setup lang="ts">
/** Beside the columns, on the same clock: how many hands are wanted, who stays where, and what each circuit carries. */
import { computed } from 'vue'
import type { StepRun } from '../../bench/fold'
import type { BenchStep } from './useBench'

interface Circuit { name: string; limit_w: number | null; base_w: number }
const props = defineProps<{ runs: StepRun[]; steps: Map<string, BenchStep>; people: number; circuits: Circuit[]; inputs: Map<string, { circuit: string; input_w: number }>; y: (at: number) => number; shared: Map<string, string> }>()
interface Span { start: number; end: number; load: number }
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
    const group = props.shared.get(`${r.batch}|${r.step}`)
    if (!group) return true
    if (seen.has(group)) return false
    seen.add(group)
    return true
  })
})
const of = (r: StepRun) => props.steps.get(`${r.batch}|${r.step}`)
const hands = computed(() => stacked(once.value.filter((r) => of(r)?.attention === 'hands' && r.end > r.start).map((r) => ({ start: r.start, end: r.end, load: 1 }))))
const watched = computed(() => stacked(once.value.filter((r) => of(r)?.attention === 'watched' && r.end > r.start).map((r) => ({ start: r.start, end: r.end, load: 1 }))))
const lanes = computed(() => props.circuits.map((c) => {
  const spans = new Map<string, { start: number; end: number; load: number }>()
  for (const r of props.runs) {
    const s = of(r)
    const input = s?.appliance ? props.inputs.get(s.appliance) : undefined
    if (!s || !input || input.circuit !== c.name || !['come_up', 'cook'].includes(s.phase)) continue
    const before = spans.get(s.appliance!)
    spans.set(s.appliance!, { start: Math.min(before?.start ?? r.start, r.start), end: Math.max(before?.end ?? r.end, r.end), load: input.input_w })
  }
  return { ...c, spans: stacked([...spans.values()]).map((s) => ({ ...s, load: s.load + c.base_w })) }
}).filter((c) => c.spans.length))
defineExpose({ count: computed(() => 1 + lanes.value.length) })
const box = (s: Span) => ({ top: `${props.y(s.start)}px`, height: `${Math.max(2, props.y(s.end) - props.y(s.start))}px` })
</script>

<template>
  <div class="lanes">
    <div class="lane" title="Hands wanted; hatched: someone stays there">
      <span class="name">hands</span>
      <i v-for="(s, i) in watched" :key="`w${i}`" class="watched" :style="box(s)" />
      <i v-for="(s, i) in hands" :key="i" :class="{ over: s.load > people }" :style="{ ...box(s), width: `${Math.min(100, (100 * s.load) / people)}%` }" :title="`${s.load} of ${people}`" />
    </div>
    <div v-for="c in lanes" :key="c.name" class="lane" :title="`Circuit ${c.name}, full input of all that may heat at once`">
      <span class="name">{{ c.name }}</span>
      <i v-for="(s, i) in c.spans" :key="i" class="load" :class="{ over: c.limit_w !== null && s.load > c.limit_w }" :style="{ ...box(s), width: `${c.limit_w ? Math.min(100, (100 * s.load) / c.limit_w) : 50}%` }" :title="`${(s.load / 1000).toFixed(1)} kW${c.limit_w ? ` of ${(c.limit_w / 1000).toFixed(1)}` : ''}`" />
    </div>
  </div>
</template>

<style scoped>
.lanes { display: flex; gap: 2px; position: relative; border-left: 1px solid var(--line-strong); }
.lane { position: relative; flex: 1; min-width: 22px; background: color-mix(in srgb, var(--paper) 60%, transparent); }
.name { position: sticky; top: 60px; display: block; writing-mode: vertical-rl; font-size: 12px; color: var(--ink-soft); padding: 4px 2px; z-index: 3; }
.lane i { position: absolute; left: 0; background: var(--hand); z-index: 1; }
.lane .watched { width: 100%; background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 4px, var(--hatch-dark-b) 4px 8px); z-index: 0; }
.lane .load { background: var(--line-strong); }
.lane .over { background: var(--beet); }
</style>
