<script setup lang="ts">
/**
 * A vessel seen from above, front edge below: pieces can be dragged, or moved with the arrow keys once
 * chosen. What else lies on the map is drawn in its slot, in the picture's own measure (`k` to a metre).
 */
import { computed, ref } from 'vue'
import type { Mark, Schemas } from '../../api/client'

type Place = Omit<Schemas['PlaceView'], 'tag' | 'piece'> & { tag?: string; piece?: number }
const markOf = (p: Place) => props.marks[p.tag ?? '']
const props = defineProps<{
  map: Schemas['MapView']
  places: Place[]
  marks: Record<string, Mark>
  movable?: boolean
  size?: number
  /** Pieces are shown faintly and the map's own spots are not: something else is being put on it. */
  aside?: boolean
}>()
const emit = defineEmits<{
  move: [index: number, x: number, y: number]
  done: []
  pick: [index: number]
  /** The map was touched where no piece lies. */
  touch: [x: number, y: number]
}>()
const W = 1000
const k = computed(() => W / props.map.width_m)
const H = computed(() => props.map.depth_m * k.value)
const r = computed(() => (props.map.piece_m / 2) * k.value)
const svg = ref<SVGSVGElement>()
const held = ref(-1)
function at(e: PointerEvent): [number, number] {
  const box = svg.value!.getBoundingClientRect()
  return [
    ((e.clientX - box.left) / box.width) * props.map.width_m,
    (1 - (e.clientY - box.top) / box.height) * props.map.depth_m,
  ]
}
function down(e: PointerEvent, i: number) {
  emit('pick', i)
  if (!props.movable) return
  held.value = i
  ;(e.target as Element).setPointerCapture(e.pointerId)
}
function move(e: PointerEvent) {
  if (held.value < 0) return
  const [x, y] = at(e)
  emit('move', held.value, x, y)
}
function touched(e: PointerEvent) {
  if (props.aside) emit('touch', ...at(e))
}
function up() {
  if (held.value >= 0) emit('done')
  held.value = -1
}
const STEP = 0.005
function key(e: KeyboardEvent, i: number) {
  const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, STEP], ArrowDown: [0, -STEP] }[
    e.key
  ]
  if (!by || !props.movable) return
  e.preventDefault()
  const p = props.places[i]!
  emit('move', i, p.x_m + by[0]!, p.y_m + by[1]!)
  emit('done')
}
const f = computed(() => r.value / 82)
const laid = computed(() => props.places.filter((p) => p.tag).length)
</script>

<template>
  <svg
    ref="svg"
    class="map"
    :viewBox="`0 0 ${W} ${H}`"
    :style="{ width: `${size ?? 560}px` }"
    role="group"
    :aria-label="`${map.name}: ${laid} pieces`"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="up"
  >
    <ellipse
      v-if="map.round"
      :cx="W / 2"
      :cy="H / 2"
      :rx="W / 2 - 4"
      :ry="H / 2 - 4"
      class="rim"
      @pointerdown="touched"
    />
    <rect v-else x="4" y="4" :width="W - 8" :height="H - 8" rx="26" class="rim" @pointerdown="touched" />
    <g v-for="(s, i) in aside ? [] : map.spots" :key="'s' + i">
      <circle :cx="s.x_m * k" :cy="H - s.y_m * k" :r="W / 6" class="spot" :class="{ cool: s.k < 0 }" />
      <text :x="s.x_m * k" :y="H - s.y_m * k - W / 9" class="spot-word">
        {{ s.k > 0 ? '+' : '' }}{{ s.k }} {{ map.heat_unit }}
      </text>
    </g>
    <g
      v-for="(p, i) in places"
      :key="i"
      class="piece"
      :class="{ empty: !p.tag, movable, aside }"
      :tabindex="movable ? 0 : undefined"
      :style="{ '--m': markOf(p)?.colour ?? 'var(--line-strong)' }"
      :aria-label="p.tag ? `${p.tag} ${p.piece}` : `empty place ${i + 1}`"
      @pointerdown="down($event, i)"
      @keydown="key($event, i)"
    >
      <circle :cx="p.x_m * k" :cy="H - p.y_m * k" :r="r" class="disc" />
      <g
        v-if="markOf(p)"
        :transform="`translate(${p.x_m * k - 50 * f} ${H - p.y_m * k - 66 * f}) scale(${f})`"
      >
        <polyline
          v-for="(s, n) in markOf(p)!.strokes"
          :key="n"
          :points="s.map((q) => q.join(',')).join(' ')"
          class="stroke"
        />
        <circle v-for="(d, n) in markOf(p)!.dots" :key="'d' + n" :cx="d[0]" :cy="d[1]" r="8" class="dot" />
      </g>
      <text v-if="p.tag" :x="p.x_m * k" :y="H - p.y_m * k + r * 0.74" :font-size="r * 0.46">
        {{ p.tag }}{{ p.piece || '' }}
      </text>
    </g>
    <slot :k="k" :height="H" :at="at" />
  </svg>
</template>

<style scoped>
.map {
  display: block;
  max-width: 100%;
  touch-action: none;
  user-select: none;
}
.rim {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 7;
}
.spot {
  fill: var(--crust);
  opacity: 0.17;
}
.spot.cool {
  fill: var(--steel);
}
.spot-word {
  /* stylelint-disable-next-line declaration-property-value-disallowed-list -- in the picture's own measure */
  font: 700 26px var(--mono);
  text-anchor: middle;
  fill: var(--ink-soft);
}
.disc {
  fill: color-mix(in srgb, var(--m) 16%, var(--paper));
  stroke: var(--m);
  stroke-width: 4;
}
.empty .disc {
  fill: none;
  stroke-dasharray: 10 8;
}
.piece.aside {
  opacity: 0.3;
  pointer-events: none;
}
.stroke {
  fill: none;
  stroke: var(--m);
  stroke-width: 9;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.dot {
  fill: var(--m);
}
text {
  text-anchor: middle;
  fill: var(--ink);
  font-family: var(--mono);
}
.movable {
  cursor: grab;
}
.piece:focus-visible {
  outline: none;
}
.piece:focus-visible .disc {
  stroke: var(--ink);
  stroke-width: 9;
}
</style>
