<script setup lang="ts">
/**
 * Numbered points on a vessel's map: dragged, or moved with the arrow keys, and taken away with Delete. Drawn
 * in the map's slot.
 */
import { ref } from 'vue'
import type { HeatPoint } from './heatPoints'

const props = defineProps<{
  points: HeatPoint[]
  /** The picture's measure to a metre, its height, and where in the vessel a pointer is [m]. */
  k: number
  height: number
  at: (e: PointerEvent) => [number, number]
}>()
const emit = defineEmits<{ move: [index: number, x: number, y: number]; remove: [index: number] }>()
const held = ref(-1)
function down(e: PointerEvent, i: number) {
  held.value = i
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
}
function drag(e: PointerEvent) {
  if (held.value >= 0) emit('move', held.value, ...props.at(e))
}
const STEP = 0.005
const BY: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, STEP],
  ArrowDown: [0, -STEP],
}
function key(e: KeyboardEvent, i: number) {
  const by = BY[e.key]
  const p = props.points[i]!
  if (by) emit('move', i, p.x_m + by[0], p.y_m + by[1])
  else if (['Delete', 'Backspace'].includes(e.key)) emit('remove', i)
  else return
  e.preventDefault()
}
</script>

<template>
  <g
    v-for="(p, i) in points"
    :key="i"
    class="point"
    role="img"
    tabindex="0"
    :transform="`translate(${p.x_m * k} ${height - p.y_m * k})`"
    :aria-label="`point ${i + 1}: arrow keys move it, Delete takes it away`"
    @pointerdown="down($event, i)"
    @pointermove="drag"
    @pointerup="held = -1"
    @pointercancel="held = -1"
    @keydown="key($event, i)"
  >
    <circle r="44" class="hold" />
    <circle r="30" class="mark" />
    <text y="12">{{ i + 1 }}</text>
  </g>
</template>

<style scoped>
.point {
  cursor: grab;
}
.hold {
  fill: transparent;
}
.mark {
  fill: var(--ink);
  stroke: var(--paper);
  stroke-width: 5;
}
text {
  text-anchor: middle;
  fill: var(--flour);
  /* stylelint-disable-next-line declaration-property-value-disallowed-list -- in the picture's own measure */
  font: 700 34px var(--mono);
}
.point:focus-visible {
  outline: none;
}
.point:focus-visible .mark {
  stroke: var(--crust);
  stroke-width: 10;
}
</style>
