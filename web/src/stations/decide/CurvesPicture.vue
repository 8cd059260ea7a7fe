<script setup lang="ts">
/** Curves on one axis, a line a group: dashes tell them apart in grey too, names stand at their ends. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ picture: Schemas['Picture']; narrow: boolean }>()
const DASHES = ['', '9 5', '2 5', '12 4 2 4', '5 3']
const W = computed(() => (props.narrow ? 372 : 760))
const H = 270
const PAD = { left: 52, right: 132, top: 14, bottom: 40 }
const marks = computed(() => (props.picture.marks ?? []).filter((m) => m.at != null && m.value != null))
const ends = (values: number[]) => [Math.min(...values), Math.max(...values)] as const
const along = computed(() => ends(marks.value.map((m) => m.at!)))
/** Scores are told on their whole scale, everything else from its least to its most. */
const up = computed(() =>
  props.picture.scale === 'score' ? ([0, 10] as const) : ends(marks.value.map((m) => m.value!)),
)
const x = (at: number) =>
  PAD.left +
  ((at - along.value[0]) / (along.value[1] - along.value[0] || 1)) * (W.value - PAD.left - PAD.right)
const y = (v: number) =>
  H - PAD.bottom - ((v - up.value[0]) / (up.value[1] - up.value[0] || 1)) * (H - PAD.top - PAD.bottom)
const lines = computed(() => {
  const by = new Map<string, Schemas['Mark'][]>()
  for (const m of marks.value) by.set(m.group ?? '', [...(by.get(m.group ?? '') ?? []), m])
  const all = [...by].map(([name, rows], n) => {
    const sorted = [...rows].sort((a, b) => a.at! - b.at!)
    return { name, rows: sorted, dash: DASHES[n % DASHES.length]!, label: y(sorted.at(-1)!.value!) }
  })
  // Names that would lie on one another move apart.
  const down = [...all].sort((a, b) => a.label - b.label)
  down.forEach((l, n) => {
    if (n) l.label = Math.max(l.label, down[n - 1]!.label + 15)
  })
  return all
})
const number = (v: number) => (Number.isInteger(v) || Math.abs(v) >= 3 ? v.toFixed(0) : v.toFixed(2))
const place = (at: number) => (props.picture.axis === 'time' ? `${(at / 60).toFixed(0)} min` : number(at))
/** Rungs by their own words, where they have some. */
const rungs = computed(() => {
  const at = new Map(marks.value.map((m) => [m.at!, m.label]))
  const own = marks.value.every((m) => m.label !== m.group && !(m.group ?? '').startsWith(m.label))
  return own && at.size < 9
    ? [...at].map(([a, label]) => ({ at: a, label }))
    : along.value.map((a) => ({ at: a, label: place(a) }))
})
const levels = computed(() => [up.value[0], (up.value[0] + up.value[1]) / 2, up.value[1]])
</script>

<template>
  <figure v-if="marks.length" class="picture">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`${picture.scale} along ${picture.axis}`">
      <g v-for="v in levels" :key="v">
        <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(v)" :y2="y(v)" class="rule" />
        <text :x="PAD.left - 8" :y="y(v) + 5" text-anchor="end">{{ number(v) }}</text>
      </g>
      <text v-for="r in rungs" :key="r.at" :x="x(r.at)" :y="H - 14" text-anchor="middle">{{ r.label }}</text>
      <g v-for="l in lines" :key="l.name">
        <polyline
          :points="l.rows.map((m) => `${x(m.at!)},${y(m.value!)}`).join(' ')"
          class="curve"
          :stroke-dasharray="l.dash"
        />
        <circle
          v-for="m in l.rows.length < 9 ? l.rows : []"
          :key="m.at!"
          :cx="x(m.at!)"
          :cy="y(m.value!)"
          r="4"
          :class="{ picked: m.picked }"
        />
        <text :x="x(l.rows.at(-1)!.at!) + 8" :y="l.label + 5">{{ l.name }}</text>
      </g>
    </svg>
    <figcaption class="small soft">{{ picture.scale }} along {{ picture.axis }}.</figcaption>
  </figure>
</template>

<style scoped src="./picture.css"></style>

<style scoped>
.picked {
  stroke: var(--ink);
  stroke-width: 2.5;
}
</style>
