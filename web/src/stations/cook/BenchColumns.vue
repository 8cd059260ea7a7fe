<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import { countdown } from '../../bench/units'
import { useSession } from '../../session'
import BenchColumn from './BenchColumn.vue'
import { columnsOf } from './columns'
import LoadLanes from './LoadLanes.vue'
import { circuitsUsed, useThisBench } from './useBench'
import type { BatchOutlook } from './useOutlook'

const props = defineProps<{ chosen: string | null; outlook: Map<string, BatchOutlook> }>()
const emit = defineEmits<{ pick: [batch: string] }>()
const { bench: shown, state, standing, tick: now } = useThisBench()
const bench = computed(() => shown.value!)
const runs = computed(() => state.value.runs)
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const LEAST_PX_PER_MIN = 7
// Six ways, hands and three circuits stand side by side on a screen of 1280.
const LEAST_WIDE = 120
const scroller = ref<HTMLElement>()
const { height } = useElementSize(scroller)
const from = computed(
  () =>
    Math.floor((Math.min(...runs.value.map((r) => r.start), bench.value.shift.serve_from) - 180) / 300) * 300,
)
const until = computed(() => Math.max(...runs.value.map((r) => r.end), bench.value.shift.serve_until) + 360)
const scale = computed(() =>
  Math.max(LEAST_PX_PER_MIN / 60, (height.value - 62) / (until.value - from.value)),
)
const y = (at: number) => (at - from.value) * scale.value
const every = computed(() => (scale.value * 60 * 10 >= 60 ? 600 : scale.value * 60 * 30 >= 60 ? 1800 : 3600))
const lines = computed(() => {
  const first = Math.ceil(from.value / every.value) * every.value
  return Array.from(
    { length: Math.max(0, Math.ceil((until.value - first) / every.value)) },
    (_, i) => first + i * every.value,
  )
})
const lanesWide = computed(() => 26 * (1 + circuitsUsed(bench.value).length))
const many = computed(() => bench.value.batches.length)
const grid = computed(() => ({
  gridTemplateColumns: `64px repeat(${many.value}, minmax(${LEAST_WIDE}px, 1fr)) ${lanesWide.value}px`,
  minWidth: `${64 + LEAST_WIDE * many.value + lanesWide.value}px`,
}))
const axis = computed(() => ({ y, scale: scale.value, from: from.value, until: until.value }))
const columns = computed(() =>
  columnsOf(
    { bench: bench.value, now: now.value, zone: zone.value },
    runs.value,
    standing.value,
    props.outlook,
    axis.value,
  ),
)
watch(
  () => [height.value > 0, bench.value.shift.id],
  async ([ready]) => {
    if (!ready) return
    await nextTick()
    scroller.value?.scrollTo({ top: Math.max(0, y(now.value) - height.value * 0.45) })
  },
  { immediate: true },
)
</script>

<template>
  <div ref="scroller" class="scroller" tabindex="0" aria-label="Columns of methods, time flows down">
    <div class="heads" :style="grid">
      <span />
      <button
        v-for="(c, i) in columns"
        :key="c.batch.id"
        class="head"
        :class="{ chosen: chosen === c.batch.id }"
        :aria-pressed="chosen === c.batch.id"
        @click="emit('pick', c.batch.id)"
      >
        <LoafMark :mark="c.batch.mark" :size="34" /><span class="names"
          ><strong
            >{{ c.batch.tag }}<template v-if="c.batch.replicate > 1"> {{ c.batch.replicate }}</template>
            <span class="key">{{ i + 1 }}</span></strong
          ><small
            >{{ c.batch.rescue || c.batch.name
            }}<span v-if="c.since" class="mono since"> {{ countdown(now - c.since) }}</span></small
          ></span
        >
      </button>
      <span class="lane-head small soft">hands, circuits</span>
    </div>
    <div class="field" :style="{ ...grid, height: `${y(until)}px` }">
      <div class="axis">
        <span v-for="t in lines" :key="t" class="mono" :style="{ top: `${y(t)}px` }">{{
          clock(t, zone)
        }}</span>
      </div>
      <BenchColumn
        v-for="c in columns"
        :key="c.batch.id"
        :column="c"
        :chosen="chosen === c.batch.id"
        :axis="axis"
        :zone="zone"
      />
      <LoadLanes :runs="runs" :bench="bench" :y="y" />
      <div class="lines"><i v-for="t in lines" :key="t" :style="{ top: `${y(t)}px` }" /></div>
      <div
        class="serve"
        :style="{
          top: `${y(bench.shift.serve_from)}px`,
          height: `${Math.max(3, y(bench.shift.serve_until) - y(bench.shift.serve_from))}px`,
        }"
      >
        <span
          >{{ bench.shift.same_age ? 'one after another' : 'plates meet' }}
          {{ clock(bench.shift.serve_from, zone) }} – {{ clock(bench.shift.serve_until, zone) }}</span
        >
      </div>
      <div v-if="now > from && now < until" class="now" :style="{ top: `${y(now)}px` }">
        <span class="mono inverse">{{ clock(now, zone) }}</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.scroller {
  flex: 1;
  overflow: auto;
  position: relative;
  min-height: 0;
}
.heads {
  display: grid;
  position: sticky;
  top: 0;
  z-index: 5;
  background: var(--flour);
  border-bottom: 1px solid var(--line-strong);
}
.head {
  display: flex;
  gap: var(--gap-1);
  align-items: center;
  padding: var(--gap-2);
  min-height: 56px;
  background: none;
  border: 0;
  border-left: 1px solid var(--line);
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  min-width: 0;
}
.head.chosen {
  background: var(--paper);
  box-shadow: inset 0 -4px 0 var(--ink);
}
.names {
  display: grid;
  min-width: 0;
  line-height: 1.15;
}
.since {
  margin-left: var(--gap-2);
  font-weight: 700;
  color: var(--ink);
}
.names strong {
  white-space: nowrap;
}
.names small {
  color: var(--ink-soft);
  font-size: var(--type-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.field {
  display: grid;
  position: relative;
}
.lane-head {
  align-self: center;
  font-size: var(--type-1);
  line-height: 1.1;
  padding: 0 var(--gap-0);
  overflow: hidden;
}
.axis {
  position: relative;
}
.axis span {
  position: absolute;
  right: 8px;
  transform: translateY(-50%);
  font-size: var(--type-2);
  color: var(--ink-soft);
}
.lines {
  position: absolute;
  inset: 0;
  left: 64px;
  pointer-events: none;
  z-index: 0;
}
.lines i {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px solid var(--line);
  opacity: 0.7;
}
.serve {
  position: absolute;
  left: 64px;
  right: 0;
  background: var(--serve);
  border-top: 2px solid var(--herb);
  border-bottom: 2px solid var(--herb);
  z-index: 2;
  pointer-events: none;
}
.serve span {
  position: absolute;
  top: 100%;
  right: 8px;
  color: var(--herb);
  font-size: var(--type-2);
  white-space: nowrap;
  background: var(--flour);
  padding: 0 var(--gap-1);
  border-radius: 3px;
}
.now {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 3px solid var(--ink);
  z-index: 4;
  pointer-events: none;
}
.now span {
  position: absolute;
  left: 0;
  transform: translateY(-55%);
  background: var(--ink);
  color: var(--flour);
  padding: var(--gap-0) var(--gap-2);
  border-radius: 4px;
  font-size: var(--type-2);
}
</style>
