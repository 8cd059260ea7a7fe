<script setup lang="ts">
/** One batch of the bench as a column: time flows down. */
import { computed } from 'vue'
import { when } from '../../bench/fold'
import StepBlock from '../../bench/StepBlock.vue'
import { clock } from '../../bench/dates'
import { factWords, type Axis, type Column } from './columns'

const props = defineProps<{ column: Column; chosen: boolean; axis: Axis; zone?: string }>()
const readyUntil = computed(() => Math.min(props.column.ready?.high ?? 0, props.axis.until))
</script>

<template>
  <div class="column" :style="{ '--m': column.batch.mark.colour }" :class="{ chosen }">
    <StepBlock
      v-for="b in column.blocks"
      :key="b.run.step"
      :look="b.look"
      :label="b.label"
      :style="{ top: `${b.top}px`, height: `${b.height}px`, paddingTop: `${b.pad + 1}px` }"
    />
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
