<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { NextAction } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import { countdown } from '../../bench/units'
import { useSession } from '../../session'
import LastTime from './LastTime.vue'
import CardActs from './CardActs.vue'
import { doneWordOf, EARLY_S, factsOf, outOf, saidAloud, whatToDo } from './cardWords'
import ThenList from './ThenList.vue'
import { useThisBench } from './useBench'
import { useKeys } from './useKeys'
import { canSpeak, say, toggleVoice, voiceOn } from './useVoice'
import NextStation from '../NextStation.vue'

const props = defineProps<{
  actions: NextAction[]
  big: boolean
  stays: string[]
  last: Map<string, Schemas['LastTimeView']>
  begun: (batch: string) => boolean
  doubts: Map<string, string>
}>()
const emit = defineEmits<{
  act: [a: NextAction]
  later: [a: NextAction]
  undo: []
  notYet: [a: NextAction, seconds: number]
  sign: [a: NextAction, sign: string]
  water: [a: NextAction, level: string]
}>()
const { bench, state, steps, batches, tick: now, undoable, together } = useThisBench()
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const waitingForPlan = computed(() => !bench.value?.plan)
const nothing = computed(() => {
  if (!waitingForPlan.value) return 'Nothing left for the hands'
  return bench.value?.shift.planning ? 'The plan is being made …' : 'No plan yet: Plan again makes one'
})
// What to have ready is told this long before it is wanted [s].
const READY_S = 300
const keys = useKeys()
const next = computed(() => props.actions[0] ?? null)
const stepOf = (a: NextAction) => steps.value.get(`${a.batch}|${a.step}`)
const step = computed(() => (next.value ? stepOf(next.value) : undefined))
const batch = computed(() => (next.value ? batches.value.get(next.value.batch) : undefined))
const left = computed(() => (next.value ? next.value.due - now.value : 0))
const early = computed(() => left.value > EARLY_S)
const asking = ref(false)
// A hand already on its way when the card changes meant what stood there before, and so does the second
// half of a double tap: for this long after a change nothing is taken [ms].
const SETTLE_MS = 350
const unsettled = ref(false)
let changedAt = -Infinity
watch(
  () => next.value && `${next.value.batch}|${next.value.step}`,
  () => {
    asking.value = unsettled.value = false
    changedAt = performance.now()
  },
)
const what = (a: NextAction) => whatToDo(a, stepOf(a))
const facts = computed(() => {
  const [b, s] = [batch.value, step.value]
  return b && s
    ? factsOf(b, s, shared.value.length, outOf(b, s, state.value.runs, now.value, zone.value))
    : ''
})
const doneWord = computed(() => doneWordOf(next.value))
const shared = computed(() =>
  (next.value ? together(next.value.batch, next.value.step) : [])
    .map((m) => batches.value.get(m.batch))
    .filter((b) => !!b),
)
// Food pulled bit by bit from one pot: whether the water still stands over it is asked at each pull.
const WET = ['hob', 'pressure_cooker', 'slow_cooker', 'water_bath']
const inWater = computed(
  () =>
    !!batch.value?.together &&
    batch.value.steps.some((s) => s.phase === 'cook' && WET.includes(s.appliance_kind ?? '')),
)
const lastTime = computed(() =>
  batch.value && !props.begun(batch.value.id) ? props.last.get(batch.value.method_id) : undefined,
)
const ready = computed(() => (left.value < READY_S ? (step.value?.ready ?? []) : []))
/** Not yet: look again after a tenth of the time, at least half a minute. */
const again = computed(() =>
  Math.min(300, Math.max(30, Math.round((step.value?.duration_s ?? 300) / 10 / 30) * 30)),
)
const doubt = computed(() =>
  next.value?.type === 'confirm' && step.value?.end_rule === 'core'
    ? (props.doubts.get(next.value.batch) ?? '')
    : '',
)
function done() {
  if (!next.value) return
  unsettled.value = performance.now() - changedAt < SETTLE_MS
  if (unsettled.value) return
  if ((early.value || doubt.value) && !asking.value) {
    asking.value = true
    return
  }
  asking.value = false
  emit('act', next.value)
}
const aloud = computed(() =>
  next.value && batch.value
    ? `${batch.value.tag.split('').join(' ')}, ${batch.value.name}. ` +
      `${what(next.value)} ${saidAloud(left.value)}.`
    : 'Nothing left for the hands.',
)
const sayIt = () => say(aloud.value)
// Said by itself when another thing comes up and when it falls due.
watch(
  () => (next.value ? `${next.value.batch}|${next.value.step}|${left.value <= 0}` : ''),
  (to) => {
    if (voiceOn.value && to) sayIt()
  },
)
defineExpose({
  done,
  sayIt,
  notYet: () => {
    if (next.value?.type === 'confirm') emit('notYet', next.value, again.value)
  },
})
</script>

<template>
  <div class="card" :class="{ due: next && left <= 0, big }">
    <p class="soft row">
      <span class="grow">next for your hands</span
      ><button
        v-if="canSpeak"
        class="voice"
        :aria-pressed="voiceOn"
        :title="`Say it aloud when it changes; once: ${keys.label('say')}`"
        @click="
          () => {
            toggleVoice()
            voiceOn && sayIt()
          }
        "
      >
        {{ voiceOn ? 'said aloud' : 'silent' }}
      </button>
    </p>
    <template v-if="next && step && batch">
      <div class="head">
        <LoafMark :mark="batch.mark" :size="big ? 96 : 46" />
        <div>
          <h1 aria-live="polite">{{ what(next) }}</h1>
          <p class="soft">
            {{ shared.length > 1 ? shared.map((b) => b!.tag).join(', ') : batch.tag }} · {{ facts }}
          </p>
        </div>
      </div>
      <p class="count mono" :class="{ long: countdown(left).length > 5 }" role="timer">
        {{ countdown(left) }}
      </p>
      <p v-if="left <= 0" class="now-word">
        now<span v-if="left < -60">, late since {{ clock(next.due, zone) }}</span>
      </p>
      <p v-if="unsettled" class="warn small" role="status">
        The card changed under your hand. Nothing was logged: read it, then tap again.
      </p>
      <CardActs
        v-model:asking="asking"
        :action="next"
        :step="step"
        :word="doneWord"
        :doubt="doubt"
        :left="left"
        :again="again"
        :in-water="inWater"
        @done="done"
        @not-yet="emit('notYet', next, again)"
        @later="emit('later', next)"
        @undo="emit('undo')"
        @sign="(sign: string) => emit('sign', next!, sign)"
        @water="(level: string) => emit('water', next!, level)"
      />
      <p v-if="ready.length" class="small">
        Have ready: <strong>{{ ready.join(', ') }}</strong>
      </p>
      <p v-for="s in stays" :key="s" class="small stay">{{ s }}</p>
      <LastTime v-if="lastTime" :last="lastTime" />
      <ThenList :actions="actions.slice(1, big ? 3 : 5)" :what="what" />
      <slot />
      <p v-for="c in step.cautions" :key="c.text" class="warn small">
        <strong>Caution.</strong> {{ c.text }}
        <span class="soft"
          >{{ c.source
          }}{{ c.recalled ? '; figure entered from memory, check your authority’s current edition' : '' }}.
          Local rules come first.</span
        >
      </p>
    </template>
    <template v-else>
      <h1>{{ nothing }}</h1>
      <p v-if="!waitingForPlan" class="soft">Weigh, wash up, note what you saw; then taste.</p>
      <NextStation
        v-if="!waitingForPlan && bench && !bench.shift.simulated"
        :trial="bench.shift.trial_id"
        to="taste"
      />
      <button class="act quiet" :disabled="!undoable" @click="emit('undo')">
        Undo<kbd>{{ keys.label('undo') }}</kbd>
      </button>
      <slot />
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  margin: var(--gap-2) 0 var(--gap-0);
}
.head h1 {
  font-size: var(--type-6);
}
.count {
  font-weight: 700;
  font-size: var(--type-8);
  line-height: 1.1;
  letter-spacing: -2px;
}
.count.long {
  font-size: var(--type-7);
}
.now-word {
  font-weight: 700;
  color: var(--beet);
}
.due .count {
  color: var(--beet);
  animation: pulse 1s ease-in-out infinite alternate;
}
@keyframes pulse {
  to {
    opacity: 0.55;
  }
}
@media (prefers-reduced-motion: reduce) {
  .due .count {
    animation: none;
    text-decoration: underline;
  }
}
.voice {
  background: none;
  border: 0;
  font: inherit;
  font-size: var(--type-2);
  color: var(--ink-soft);
  text-decoration: underline;
  cursor: pointer;
  min-height: 32px;
}
.stay {
  border-left: 5px solid var(--beet);
  padding-left: var(--gap-3);
  font-weight: 700;
}
.warn {
  margin-top: var(--gap-3);
}
.big .head h1 {
  font-size: clamp(2.5rem, 5.4vw, 5.25rem);
  line-height: 1.02;
}
.big .head p {
  font-size: var(--type-5);
}
.big .count,
.big .count.long {
  font-size: clamp(6rem, 13vw, 13.75rem);
  line-height: 1;
}
.big .now-word {
  font-size: var(--type-6);
}
</style>
