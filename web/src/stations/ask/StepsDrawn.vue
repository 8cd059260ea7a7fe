<script setup lang="ts">
/**
 * A method's steps on a clock that runs down, as the bench will show them: moved by hand, stretched at their
 * lower edge; by keys the arrows move a step, and plus and minus give it time or take it.
 */
import { computed, nextTick, ref } from 'vue'
import StepBlock from '../../bench/StepBlock.vue'
import { stepLook } from '../../bench/stepLook'
import { minutes } from '../../bench/units'
import { beforeAt, beforeNext, drawn, moved, nudged, stretched } from './stepsDrawn'
import type { StepRow } from './stepRows'

const rows = defineModel<StepRow[]>('rows', { required: true })
defineProps<{ colour: string }>()
const emit = defineEmits<{ pick: [index: number] }>()
const blocks = computed(() => drawn(rows.value))
const height = computed(() => Math.max(...blocks.value.map((b) => b.top + b.height), 0))
const moving = ref<{ index: number; from: number; by: number } | null>(null)
/** While an edge is held the picture's measure stays as it was, or the edge would run from the hand. */
const pulling = ref<{ index: number; from: number; seconds: number; scale: number } | null>(null)
const lasts = (i: number) => {
  const d = rows.value[i]!.duration
  return typeof d === 'number' ? minutes(d) : (d ?? 'no time')
}
const label = (i: number) => `${rows.value[i]!.what || 'no name yet'}, ${lasts(i)}`
const said = ref('')
function take(e: PointerEvent, index: number) {
  if (e.button) return
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  moving.value = { index, from: e.clientY, by: 0 }
}
function drag(e: PointerEvent) {
  if (moving.value) moving.value.by = e.clientY - moving.value.from
  if (pulling.value) {
    const { index, from, seconds, scale } = pulling.value
    rows.value[index]!.duration = stretched(seconds, (e.clientY - from) * scale)
  }
}
function drop() {
  const m = moving.value
  moving.value = null
  if (pulling.value) {
    said.value = label(pulling.value.index)
    pulling.value = null
    return
  }
  if (!m) return
  if (Math.abs(m.by) < 6) {
    emit('pick', m.index)
    return
  }
  const block = blocks.value[m.index]!
  place(m.index, beforeAt(blocks.value, m.index, block.top + block.height / 2 + m.by))
}
function pull(e: PointerEvent, index: number) {
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  const block = blocks.value[index]!
  pulling.value = { index, from: e.clientY, seconds: block.seconds ?? 60, scale: block.scale }
}
/** Where the row stands afterwards; -1 where it may not go there. */
function place(from: number, before: number) {
  const row = rows.value[from]!
  const found = moved(rows.value, from, before)
  if (!found) return -1
  rows.value = found
  const to = found.indexOf(row)
  said.value = `${row.what}: now step ${to + 1} of ${found.length}`
  return to
}
const list = ref<HTMLElement>()
function key(e: KeyboardEvent, i: number) {
  const up = e.key === 'ArrowUp'
  if (up || e.key === 'ArrowDown') {
    const to = place(i, beforeNext(rows.value, i, up))
    if (to >= 0) void nextTick(() => (list.value?.children[to] as HTMLElement | undefined)?.focus())
  } else if (['+', '=', '-'].includes(e.key)) {
    const row = rows.value[i]!
    if (typeof row.duration !== 'number') return
    row.duration = nudged(row.duration, e.key !== '-')
    said.value = label(i)
  } else if (e.key === 'Enter') emit('pick', i)
  else return
  e.preventDefault()
}
const lift = (i: number) =>
  moving.value?.index === i ? { transform: `translateY(${moving.value.by}px)`, zIndex: 6 } : {}
</script>

<template>
  <section class="drawn" aria-label="Steps as the bench draws them">
    <p class="soft small">
      Move a step by hand; pull its lower edge for its time. By keys: ↑ ↓ move, + and − change the time.
    </p>
    <div ref="list" class="clock" :style="{ height: `${height + 4}px`, '--m': colour }">
      <StepBlock
        v-for="b in blocks"
        :key="b.index"
        class="step"
        :class="{ during: b.during, cut: b.cut }"
        :look="stepLook(rows[b.index]!)"
        :label="label(b.index)"
        :style="{ top: `${b.top}px`, height: `${b.height}px`, ...lift(b.index) }"
        role="button"
        tabindex="0"
        :aria-label="`Step ${b.index + 1}: ${label(b.index)}`"
        @pointerdown="take($event, b.index)"
        @pointermove="drag"
        @pointerup="drop"
        @pointercancel="moving = null"
        @keydown="key($event, b.index)"
      >
        <i
          v-if="!b.during && b.seconds !== null"
          class="edge"
          aria-hidden="true"
          @pointerdown.stop="pull($event, b.index)"
          @pointermove.stop="drag"
          @pointerup.stop="drop"
          @pointercancel.stop="pulling = null"
        />
      </StepBlock>
    </div>
    <p class="visually-hidden" role="status">{{ said }}</p>
  </section>
</template>

<style scoped>
.clock {
  position: relative;
  border-left: 1px solid var(--line-strong);
  background: var(--paper);
}
.step {
  padding-top: var(--gap-1);
  cursor: grab;
  touch-action: none;
  user-select: none;
}
.step.hand {
  right: 8px;
}
.step.during {
  left: 40%;
}
.step.cut {
  border-bottom: 3px dashed var(--ink);
}
.edge {
  position: absolute;
  left: 0;
  right: 0;
  bottom: 0;
  height: 12px;
  cursor: ns-resize;
  touch-action: none;
}
.edge::after {
  content: '';
  position: absolute;
  left: calc(50% - 16px);
  bottom: 3px;
  width: 32px;
  border-bottom: 2px solid currentcolor;
  opacity: 0.6;
}
</style>
