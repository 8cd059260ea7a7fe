<script setup lang="ts">
import { computed } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import { countdown } from '../../bench/units'
import { useSession } from '../../session'
import LoadLanes from './LoadLanes.vue'
import { useThisBench } from './useBench'

defineProps<{ chosen: string }>()
const emit = defineEmits<{ pick: [batch: string] }>()
const { bench: shown, state, standing, tick: now } = useThisBench()
const bench = computed(() => shown.value!)
const runs = computed(() => state.value.runs)
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const from = computed(() => Math.min(...runs.value.map((r) => r.start), bench.value.shift.serve_from))
const until = computed(() => Math.max(...runs.value.map((r) => r.end), bench.value.shift.serve_until))
const x = (at: number) => (100 * (at - from.value)) / (until.value - from.value)
const rows = computed(() =>
  bench.value.batches.map((b) => {
    const own = runs.value.filter((r) => r.batch === b.id)
    const running = own.find((r) => r.state === 'running')
    const action = state.value.actions.find((a) => a.batch === b.id)
    const stepOf = (k: string | undefined) => b.steps.find((s) => s.key === k)
    const flag = standing.value
      .filter((e) => e.batch === b.id && (e.kind === 'void' || e.kind === 'handling_error'))
      .at(-1)
    const text = flag
      ? `${flag.kind === 'void' ? 'void' : 'handling error'}: ${flag.payload.why}`
      : running
        ? `${stepOf(running.step)?.what}`
        : action
          ? `next: ${stepOf(action.step)?.what}`
          : 'nothing left to do'
    return {
      b,
      text,
      left: action ? action.due - now.value : null,
      bars: own.map((r) => ({ r, s: stepOf(r.step) })).filter((k) => k.s),
    }
  }),
)
</script>

<template>
  <ul class="rows">
    <li v-for="(row, i) in rows" :key="row.b.id" :class="{ chosen: chosen === row.b.id }">
      <button :aria-pressed="chosen === row.b.id" @click="emit('pick', row.b.id)">
        <LoafMark :mark="row.b.mark" :size="30" />
        <span class="grow"
          ><strong
            >{{ row.b.tag }}<template v-if="row.b.replicate > 1"> {{ row.b.replicate }}</template></strong
          >
          <span class="key">{{ i + 1 }}</span> {{ row.b.name
          }}<span class="soft small line">{{ row.text }}</span></span
        >
        <span v-if="row.left !== null" class="mono left" :class="{ late: row.left < 0 }">{{
          countdown(row.left)
        }}</span>
      </button>
      <div class="bar" :style="{ '--m': row.b.mark.colour }">
        <i
          v-for="k in row.bars"
          :key="k.r.step"
          :class="[k.s!.attention === 'hands' ? 'hand' : k.s!.phase, k.r.state]"
          :style="{ left: `${x(k.r.start)}%`, width: `max(3px, ${x(k.r.end) - x(k.r.start)}%)` }"
        />
        <b :style="{ left: `${Math.min(100, Math.max(0, x(now)))}%` }" />
      </div>
    </li>
  </ul>
  <div class="below"><LoadLanes across :runs="runs" :bench="bench" :y="x" /></div>
  <p class="soft small span">
    <span class="mono">{{ clock(from, zone) }}</span><span
      >{{ bench.shift.same_age ? 'one after another from' : 'plates meet' }}
      {{ clock(bench.shift.serve_from, zone) }}</span
    ><span class="mono">{{ clock(until, zone) }}</span>
  </p>
</template>

<style scoped>
.rows {
  list-style: none;
  margin: 0;
  padding: 0 var(--gap-4);
  overflow: auto;
  flex: 1;
}
li {
  border-bottom: 1px solid var(--line);
  padding: var(--gap-2) 0 var(--gap-3);
}
li.chosen {
  background: var(--paper);
  box-shadow: inset 6px 0 0 var(--ink);
  padding-left: var(--gap-3);
}
button {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  width: 100%;
  min-height: 52px;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.line {
  display: block;
}
.left {
  font-size: var(--type-5);
  font-weight: 700;
}
.left.late {
  color: var(--beet);
}
.bar {
  position: relative;
  height: 18px;
  background: var(--paper);
  border: 1px solid var(--line);
}
.bar i {
  position: absolute;
  top: 0;
  bottom: 0;
}
.bar .come_up {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 5px, var(--hatch-dark-b) 5px 10px);
}
.bar .cook {
  background: var(--m);
}
.bar .hand {
  background: var(--hand);
  z-index: 1;
}
.bar b {
  position: absolute;
  top: -5px;
  bottom: -5px;
  border-left: 3px solid var(--ink);
  z-index: 2;
}
.below {
  padding: var(--gap-2) var(--gap-4) 0;
}
.span {
  display: flex;
  justify-content: space-between;
  padding: var(--gap-1) var(--gap-4);
}
</style>
