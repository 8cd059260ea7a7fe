<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{
  values: number[]
  mean: number | null
  range: [number, number]
  colour: string
}>()
const x = (v: number) => 6 + (188 * (v - props.range[0])) / (props.range[1] - props.range[0])
const dots = computed(() => {
  const stacked: { x: number; y: number }[] = []
  const heights = new Map<number, number>()
  for (const v of [...props.values].sort((a, b) => a - b)) {
    const slot = Math.round(x(v) / 8)
    const n = heights.get(slot) ?? 0
    heights.set(slot, n + 1)
    stacked.push({ x: slot * 8, y: 48 - 6 - n * 9 })
  }
  return stacked
})
const label = computed(() =>
  props.values.length ? `${props.values.length} tasters: ${props.values.join(', ')}` : 'nobody answered',
)
</script>

<template>
  <svg viewBox="0 0 200 68" role="img" :aria-label="label">
    <line x1="4" x2="196" y1="49" y2="49" class="axis" />
    <circle v-for="(d, i) in dots" :key="i" :cx="d.x" :cy="d.y" r="4.2" :fill="colour" />
    <template v-if="mean !== null">
      <line :x1="x(mean)" :x2="x(mean)" y1="40" y2="56" class="mean" />
      <text :x="Math.min(168, x(mean) + 5)" y="65" class="mono">{{ mean.toFixed(1) }}</text>
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
