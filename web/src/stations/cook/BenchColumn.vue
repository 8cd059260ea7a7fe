<script setup lang="ts">
/** One batch of the bench as a column: time flows down. */
import { computed } from 'vue'
import { when } from '../../bench/fold'
import { clock } from '../../bench/units'
import { factWords, type Axis, type Column } from './columns'

const props = defineProps<{ column: Column; chosen: boolean; axis: Axis; zone?: string }>()
const readyUntil = computed(() => Math.min(props.column.ready?.high ?? 0, props.axis.until))
</script>

<template>
  <div class="column" :style="{ '--m': column.batch.mark.colour }" :class="{ chosen }">
    <div
      v-for="b in column.blocks"
      :key="b.run.step"
      class="block"
      :class="b.look"
      :style="{ top: `${b.top}px`, height: `${b.height}px`, paddingTop: `${b.pad + 1}px` }"
    >
      <span>{{ b.label }}</span>
    </div>
    <span
      v-for="e in column.facts"
      :key="e.id"
      class="fact"
      :class="e.kind"
      :style="{ top: `${axis.y(when(e))}px` }"
      :title="`${clock(when(e), zone)} ${factWords(e)}`"
    />
    <svg
      v-if="column.curve"
      class="curve"
      :viewBox="`0 0 100 ${axis.y(axis.until)}`"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <polyline :points="column.curve" class="under" />
      <polyline :points="column.curve" />
    </svg>
    <div
      v-if="column.ready"
      class="ready"
      :class="{ probe: column.ready.probe }"
      :style="{
        top: `${axis.y(column.ready.low)}px`,
        height: `${Math.max(2, axis.y(readyUntil) - axis.y(column.ready.low))}px`,
      }"
      :title="`core ready between ${clock(column.ready.low, zone)} and ${clock(column.ready.high, zone)}`"
    >
      <i :style="{ top: `${axis.y(column.ready.at) - axis.y(column.ready.low)}px` }" /><span
        class="mono"
        :style="{ top: `${axis.y(column.ready.at) - axis.y(column.ready.low)}px` }"
        >{{ column.ready.words }}</span
      >
    </div>
    <div
      v-if="column.latest"
      class="latest"
      :style="{
        top: `${axis.y(column.latest.from)}px`,
        height: `${axis.y(column.latest.until) - axis.y(column.latest.from)}px`,
      }"
      :title="`the food ends it: at most until ${clock(column.latest.until, zone)}`"
    />
    <p v-if="column.flag" class="flag">
      {{ column.flag.kind === 'void' ? 'void' : 'handling error' }}: {{ column.flag.payload.why }}
    </p>
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
.column {
  position: relative;
  border-left: 1px solid var(--line);
}
.column.chosen {
  background: var(--paper);
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
@media (forced-colors: active) {
  .block {
    border: 1px solid CanvasText;
    forced-color-adjust: none;
  }
  .block.hatch {
    border-style: dotted;
  }
  .block.cook {
    background: Canvas;
    color: CanvasText;
    border-left: 8px solid var(--m);
  }
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
</style>
