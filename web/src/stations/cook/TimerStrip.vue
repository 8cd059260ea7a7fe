<script setup lang="ts">
/** What rings: look-ins and timers of one's own, soonest first; a new one takes two touches. */
import { ref } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import type { Timer } from '../../bench/timers'
import { countdown, minutes } from '../../bench/units'
import { useThisBench } from './useBench'

defineProps<{ timers: Timer[]; keyLabel: string }>()
const emit = defineEmits<{
  set: [seconds: number, name: string, every: number | null]
  over: [id: string]
  looked: [batch: string]
}>()
const { tick: now, batches } = useThisBench()
const making = ref(false)
const again = ref(false)
const MINUTES = [1, 2, 3, 5, 8, 10, 15, 20, 30, 45, 60, 90]
const name = ref('')
const own = ref('')
const problem = ref('')
/** "2:30" is minutes and seconds, "45 s" seconds, a bare number minutes; null where it is none of these. */
function secondsOf(text: string): number | null {
  const clocked = /^\s*(\d{1,3}):([0-5]\d)\s*$/.exec(text)
  if (clocked) return Number(clocked[1]) * 60 + Number(clocked[2])
  const said = /^\s*(\d+(?:[.,]\d+)?)\s*(s|min|h)?\s*$/.exec(text)
  if (!said) return null
  const unit = { s: 1, min: 60, h: 3600 }[said[2] ?? 'min'] ?? 60
  return Math.round(Number(said[1]!.replace(',', '.')) * unit)
}
function start(seconds: number) {
  const lasts = minutes(seconds)
  const called = name.value.trim() || (again.value ? `every ${lasts}` : lasts)
  emit('set', seconds, called, again.value ? seconds : null)
  making.value = again.value = false
  name.value = own.value = problem.value = ''
}
const set = (m: number) => start(m * 60)
function setOwn() {
  const seconds = secondsOf(own.value)
  if (seconds === null || seconds < 1 || seconds > 7 * 86400)
    problem.value = 'Give a time, as 2:30, 45 s or 12 min.'
  else start(seconds)
}
function open() {
  making.value = !making.value
}
defineExpose({ open })
const late = (t: Timer) => t.rings <= now.value
</script>

<template>
  <div class="timers">
    <div v-for="t in timers" :key="t.id" class="timer" :class="{ late: late(t) }">
      <LoafMark v-if="batches.get(t.batch)" :mark="batches.get(t.batch)!.mark" :size="22" /><span class="grow"
        >{{ t.name
        }}<span v-if="t.own" class="soft small"> set {{ countdown(now - t.began) }} ago</span></span
      >
      <span class="mono">{{ countdown(t.rings - now) }}</span>
      <button v-if="t.own" class="act quiet" @click="emit('over', t.id)">Stop</button
      ><button v-else class="act quiet" @click="emit('looked', t.batch)">Looked</button>
    </div>
    <div v-if="making" class="set">
      <el-input v-model="name" class="wide" name="timer-name" aria-label="What for" placeholder="What for" />
      <button v-for="m in MINUTES" :key="m" class="act" @click="set(m)">{{ m }}<small>min</small></button>
      <form class="wide row" @submit.prevent="setOwn">
        <el-input v-model="own" class="grow" name="timer-time" aria-label="Another time" placeholder="2:30" />
        <button class="act quiet">Set</button>
      </form>
      <p v-if="problem" class="bad small wide" role="alert">{{ problem }}</p>
      <button class="act quiet wide" :aria-pressed="again" @click="again = !again">
        {{ again ? 'again and again' : 'once' }}
      </button>
    </div>
    <button class="act quiet" :aria-expanded="making" @click="open">
      Timer<kbd>{{ keyLabel }}</kbd>
    </button>
  </div>
</template>

<style scoped>
.timers {
  margin-top: var(--gap-2);
  display: grid;
  gap: var(--gap-1);
  justify-items: start;
}
.timer {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  width: 100%;
  border-bottom: 1px solid var(--line);
  min-height: 40px;
}
.timer .act {
  padding: var(--gap-1) var(--gap-3);
  min-height: 36px;
}
.timer.late .mono {
  color: var(--beet);
  font-weight: 700;
}
.set {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: var(--gap-2);
  width: 100%;
}
.set .act {
  min-height: 56px;
  font-size: var(--type-4);
  justify-content: center;
  flex-direction: column;
  gap: 0;
}
.set .wide {
  grid-column: 1 / -1;
  font-size: var(--type-2);
  min-height: 44px;
}
.set small {
  font-size: var(--type-1);
}
</style>
