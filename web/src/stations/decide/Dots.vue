<script setup lang="ts">
import { computed } from 'vue'
import { figure } from './figure'

const props = defineProps<{
  values: number[]
  mean: number | null
  range: [number, number]
  colour: string
}>()
const x = (v: number) => 6 + (188 * (v - props.range[0])) / (props.range[1] - props.range[0])
/** How far apart two dots lie that do not touch. */
const WIDE = 8.6
/** Each where it lies; above another where they would touch. */
const dots = computed(() => {
  const ends: number[] = []
  return [...props.values]
    .sort((a, b) => a - b)
    .map((v) => {
      const free = ends.findIndex((end) => x(v) - end >= WIDE)
      const n = free < 0 ? ends.length : free
      ends[n] = x(v)
      return { x: x(v), y: 48 - 6 - n * 9 }
    })
})
const label = computed(() => {
  const n = props.values.length
  return n ? `${n} ${n === 1 ? 'taster' : 'tasters'}: ${props.values.join(', ')}` : 'nobody answered'
})
</script>

<template>
  <svg viewBox="0 0 200 68" role="img" :aria-label="label">
    <line x1="4" x2="196" y1="49" y2="49" class="axis" />
    <circle v-for="(d, i) in dots" :key="i" :cx="d.x" :cy="d.y" r="4.2" :fill="colour" />
    <template v-if="mean !== null">
      <line :x1="x(mean)" :x2="x(mean)" y1="40" y2="56" class="mean" />
      <text :x="Math.min(168, x(mean) + 5)" y="65" class="mono">{{ figure(mean) }}</text>
    </template>
    <text v-else x="6" y="40" class="none">no answers</text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 220px;
  display: block;
}
.axis {
  stroke: var(--line-strong);
}
.mean {
  stroke: var(--ink);
  stroke-width: 3;
}
text {
  /* stylelint-disable-next-line declaration-property-value-disallowed-list -- in the picture's own measure */
  font: 14px var(--mono);
  fill: var(--ink);
}
.none {
  fill: var(--ink-soft);
  font-family: var(--text);
}
</style>
