<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { NextAction } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import { countdown, mass, temperature } from '../../bench/units'
import { useSession } from '../../session'
import LastTime from './LastTime.vue'
import { useThisBench, type BenchStep } from './useBench'
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
const EARLY_S = 30
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
function what(a: NextAction): string {
  const s = stepOf(a)
  if (!s) return ''
  if (a.type === 'start') return `Start: ${s.what.charAt(0).toLowerCase()}${s.what.slice(1)}`
  return a.type === 'confirm' ? `${s.what}: reached?` : s.what
}
const facts = computed(() => {
  const s = step.value
  if (!s || !batch.value) return ''
  return [
    shared.value.length > 1
      ? s.prepared
        ? 'done once for all'
        : 'done once for these'
      : batch.value.name + (batch.value.replicate > 1 ? `, batch ${batch.value.replicate}` : ''),
    s.appliance_name,
    s.set_point_c !== null && temperature(s.set_point_c),
    s.power_w && `${s.power_w} W`,
    untilOf(s),
    outOf.value,
  ]
    .filter(Boolean)
    .join(' · ')
})
/** What ends it, where that is not the clock. */
const untilOf = (s: BenchStep) =>
  s.end_rule === 'core' && s.end_core_c !== null
    ? `until the core reads ${temperature(s.end_core_c)}`
    : s.end_rule === 'weight' && s.end_kg
      ? `until it weighs ${mass(s.end_kg)}`
      : s.end_rule === 'match'
        ? `until it matches ${s.end_cue}`
        : s.end_rule === 'cue' && s.end_cue
          ? `until ${s.end_cue}`
          : ''
/** Taking out of a heat that the food ends: when it is time, and until when at most. */
const outOf = computed(() => {
  const own = batch.value?.steps ?? []
  const heat =
    step.value?.phase === 'out'
      ? own
          .slice(
            0,
            own.findIndex((s) => s.key === step.value!.key),
          )
          .filter((s) => s.phase === 'cook' && s.during_offset_s === null)
          .at(-1)
      : undefined
  const run = heat && state.value.runs.find((r) => r.batch === batch.value!.id && r.step === heat.key)
  if (!heat || !run || !untilOf(heat)) return ''
  const when = `when${untilOf(heat).slice('until'.length)}`
  if (!heat.longest_s || heat.longest_s <= heat.duration_s) return when
  const latest = run.start + heat.longest_s
  const word = now.value > latest ? 'past its longest time,' : 'at most until'
  return `${when}, ${word} ${clock(latest, zone.value)}`
})
const doneWord = computed(() =>
  next.value?.type === 'start' ? 'Started' : next.value?.type === 'confirm' ? 'Reached' : 'Done',
)
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
const inWords = (s: number) =>
  s <= 20 ? 'now' : s < 90 ? `in ${Math.round(s / 10) * 10} seconds` : `in ${Math.round(s / 60)} minutes`
const aloud = computed(() =>
  next.value && batch.value
    ? `${batch.value.tag.split('').join(' ')}, ${batch.value.name}. ` +
      `${what(next.value)} ${inWords(left.value)}.`
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
      <div v-if="asking" class="ask warn">
        <p>{{ doubt || `It is ${countdown(left)} early. Log it as ${doneWord.toLowerCase()} now?` }}</p>
        <div class="row">
          <button class="act strong" @click="done">
            Yes, {{ doneWord.toLowerCase() }} <kbd>{{ keys.label('done') }}</kbd></button
          ><button class="act quiet" @click="asking = false">No</button>
        </div>
      </div>
      <div v-else class="acts">
        <button class="act main" @click="done">
          {{ early ? `${doneWord} early…` : doneWord }}<kbd>{{ keys.label('done') }}</kbd>
        </button>
        <button
          v-if="next.type === 'confirm' && left < EARLY_S"
          class="act"
          @click="emit('notYet', next, again)"
        >
          Not yet, look in {{ countdown(again) }}<kbd>{{ keys.label('not_yet') }}</kbd>
        </button>
        <button class="act quiet" title="Ask again in a minute" @click="emit('later', next)">
          Later<kbd>{{ keys.label('later') }}</kbd>
        </button>
        <button class="act quiet" :disabled="!undoable" @click="emit('undo')">
          Undo<kbd>{{ keys.label('undo') }}</kbd>
        </button>
      </div>
      <p v-if="next.type === 'start' && step.signs?.length" class="signs small">
        <span class="soft">It really started:</span>
        <button v-for="s in step.signs" :key="s" class="act quiet" @click="emit('sign', next, s)">
          {{ s }}
        </button>
      </p>
      <p v-if="inWater && step.phase === 'out' && left < EARLY_S" class="signs small">
        <span class="soft">Water in the pot:</span>
        <button
          v-for="w in ['right', 'low', 'topped up']"
          :key="w"
          class="act quiet"
          @click="emit('water', next, w)"
        >
          {{ w }}
        </button>
      </p>
      <p v-if="ready.length" class="small">
        Have ready: <strong>{{ ready.join(', ') }}</strong>
      </p>
      <p v-for="s in stays" :key="s" class="small stay">{{ s }}</p>
      <LastTime v-if="lastTime" :last="lastTime" />
      <ol class="then">
        <li v-for="a in actions.slice(1, big ? 3 : 5)" :key="a.batch + a.step">
          <LoafMark v-if="batches.get(a.batch)" :mark="batches.get(a.batch)!.mark" :size="24" /><span
            class="grow"
            ><span class="visually-hidden">{{ batches.get(a.batch)?.tag }}: </span>{{ what(a) }}</span
          ><span class="mono">{{ countdown(a.due - now) }}</span>
        </li>
      </ol>
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
.acts {
  display: flex;
  gap: var(--gap-2);
  margin: var(--gap-2) 0 var(--gap-3);
}
.acts .act {
  flex-direction: column;
  gap: var(--gap-0);
  justify-content: center;
  padding: var(--gap-2) var(--gap-3);
  min-height: 64px;
}
.acts .main {
  flex: 1;
  border-width: 3px;
  font-size: var(--type-3);
}
.signs {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  margin: 0 0 var(--gap-2);
}
.signs .act {
  padding: var(--gap-1) var(--gap-3);
  min-height: 40px;
  font-size: var(--type-2);
}
.stay {
  border-left: 5px solid var(--beet);
  padding-left: var(--gap-3);
  font-weight: 700;
}
.then {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
.then li {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-2) 0;
  border-bottom: 1px solid var(--line);
}
.ask {
  display: grid;
  gap: var(--gap-2);
  margin: var(--gap-2) 0 var(--gap-3);
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
.big .acts .act {
  min-height: 100px;
  font-size: var(--type-5);
}
.big .now-word {
  font-size: var(--type-6);
}
.big .then {
  font-size: var(--type-5);
}
</style>
