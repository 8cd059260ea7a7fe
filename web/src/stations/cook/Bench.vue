<script setup lang="ts">
import { useLocalStorage, useMediaQuery } from '@vueuse/core'
import { computed, provide, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'
import { useSession } from '../../session'
import BenchAhead from './BenchAhead.vue'
import BenchColumns from './BenchColumns.vue'
import BenchDialogs from './BenchDialogs.vue'
import BenchNotes from './BenchNotes.vue'
import BenchRows from './BenchRows.vue'
import BenchTools from './BenchTools.vue'
import BenchTop from './BenchTop.vue'
import EntryDialog from './EntryDialog.vue'
import LogBar from './LogBar.vue'
import NextCard from './NextCard.vue'
import ReadyDialog from './ReadyDialog.vue'
import RehearsalBar from './RehearsalBar.vue'
import TimerStrip from './TimerStrip.vue'
import { formFor, talliedOf, type EntryForm } from './entryForm'
import { useActs } from './useActs'
import { useAsked } from './useAsked'
import { toggleDark, useAwake } from './useScreen'
import { BENCH, useBench } from './useBench'
import { useBenchKeys } from './useBenchKeys'
import { useLastTimes } from './useLastTimes'
import { useRinging } from './useRinging'
import { useTakeBack } from './useTakeBack'
import { useOutlook } from './useOutlook'

const route = useRoute()
const trial = String(route.params.trial)
const shift = String(route.params.shift)
const session = useSession()
const whole = useBench(trial, shift)
provide(BENCH, { ...whole, trial, shift })
const { bench, standing, steps, batches, problem, live, tick, log } = whole
const zone = computed(() => session.state?.time_zone)
const ended = computed(() => bench.value?.shift.ended ?? false)
const narrow = useMediaQuery('(max-width: 900px)')
const asRows = computed(() => narrow.value || (bench.value?.batches.length ?? 0) > 6)

const { outlook, byBatch } = useOutlook(shift, standing, ended)
const doubts = computed(
  () => new Map([...byBatch.value.values()].filter((b) => b.doubt).map((b) => [b.batch, b.doubt] as const)),
)
const washedAll = () =>
  outlook.value?.carrying.forEach((thing) => void log(forBatch.value, 'washed', { thing }))
function openFor(batch: string, kind: string) {
  chosen.value = batch
  dialog.value = kind
}
const lastOf = useLastTimes(shift)
const ofKind = (kind: string) => standing.value.filter((e) => e.kind === kind)
const photos = computed(() => ofKind('photo'))
const tallied = computed(() => ofKind('tally').map(talliedOf))

const chosen = ref<string | null>(null)
const follow = () => {
  chosen.value = null
}
const forBatch = computed(() => chosen.value ?? next.value?.batch ?? bench.value?.batches[0]?.id ?? '')
const { asking, ready, notReady, begun, doAction, fact, extend, sign, stays, here } = useActs(
  whole,
  computed(() => forBatch.value),
  follow,
)
const { actions, next, timers, postpone } = useAsked(whole, here)
const open = ref('')
const big = useLocalStorage<'on' | 'off'>('yeasty-big', 'off')
const dialog = ref<string | null>(null)
const first = ref<Partial<EntryForm>>({})
function measure(m: Schemas['Unmeasured']) {
  chosen.value = m.batch
  first.value = formFor(m.kind, m.of)
  dialog.value = m.kind
}
function openKind(kind: string) {
  first.value = {}
  if (kind === 'rescue') open.value = 'rescue'
  else dialog.value = kind
}
const { undone, takeBack } = useTakeBack(whole)
async function tried(act: () => Promise<unknown>) {
  try {
    await act()
  } catch (error) {
    problem.value = words(error)
  }
}
const path = { params: { path: { shift_id: shift } } }
// What was cooked before is written up first of all.
watch(
  () => !!bench.value?.plan && bench.value.shift.written_up && !bench.value.shift.begun,
  (blank) => {
    if (blank) open.value = 'paper'
  },
  { immediate: true },
)
const replan = () => tried(() => api.POST('/api/v1/shifts/{shift_id}/plan-requests', path))
const dark = () => tried(toggleDark)

useRinging(actions, timers, steps, tick, ended)
useAwake()

const card = ref<InstanceType<typeof NextCard>>()
const strip = ref<InstanceType<typeof TimerStrip>>()
const opens = (what: string) => () => {
  open.value = what
}
const ON_KEY: Record<string, () => void> = {
  done: () => card.value?.done(),
  not_yet: () => card.value?.notYet(),
  say: () => card.value?.sayIt(),
  later: () => {
    if (next.value) postpone(next.value)
  },
  undo: () => void takeBack(),
  in: () => void fact('in'),
  turned: () => void fact('turned'),
  out: () => void fact('out'),
  plus: () => void extend(forBatch.value, 60),
  timer: () => strip.value?.open(),
  log: opens('log'),
  photos: opens('photos'),
  keys: opens('keys'),
  follow,
  dark: () => void dark(),
  big: () => {
    big.value = big.value === 'on' ? 'off' : 'on'
  },
}
const keys = useBenchKeys(
  ON_KEY,
  openKind,
  (n) => {
    chosen.value = bench.value?.batches[n - 1]?.id ?? null
  },
  () => !!(dialog.value || asking.value || open.value),
)
</script>

<template>
  <BenchTop v-if="bench" />
  <p v-if="problem" class="bad page" role="alert">{{ problem }}</p>
  <main v-if="bench" class="bench" :class="{ rows: asRows, big: big === 'on' }">
    <section class="left">
      <RehearsalBar v-if="bench.shift.simulated" :zone="zone" />
      <NextCard
        ref="card"
        :actions="actions"
        :big="big === 'on'"
        :stays="stays"
        :last="lastOf"
        :begun="begun"
        :doubts="doubts"
        @act="doAction"
        @later="postpone"
        @undo="takeBack"
        @not-yet="(a, s) => extend(a.batch, s, a.step)"
        @sign="sign"
        @water="(a, w) => log(a.batch, 'looked', { water: w })"
      >
        <TimerStrip
          ref="strip"
          :timers="timers"
          :key-label="keys.label('timer')"
          @set="
            (seconds, name, every) =>
              log('', 'timer', { seconds, name, ...(every ? { every_s: every } : {}) })
          "
          @over="(id) => log('', 'timer_done', { timer: id })"
          @looked="openFor($event, 'looked')"
        />
        <BenchAhead
          :outlook="outlook"
          :doubts="doubts"
          @probes="open = 'probes'"
          @read-again="openFor($event, 'temperature')"
          @washed="washedAll"
          @measure="measure"
        />
      </NextCard>
      <p v-if="undone" class="warn" role="status">{{ undone }}</p>
      <BenchNotes :asking="!!actions.length" />
      <BenchTools
        :big="big === 'on'"
        @open="open = $event"
        @replan="replan"
        @large="ON_KEY.big!()"
        @dark="dark"
      />
    </section>
    <section class="right">
      <p v-if="!bench.plan" class="soft waiting">The columns come with the plan.</p>
      <template v-else-if="big === 'off'">
        <BenchRows v-if="asRows" :chosen="forBatch" @pick="chosen = $event" />
        <BenchColumns
          v-else
          :chosen="chosen"
          :outlook="byBatch"
          @pick="chosen = chosen === $event ? null : $event"
        />
      </template>
      <LogBar
        :batches="bench.batches"
        :batch="forBatch"
        :follows="!chosen"
        :live="live"
        @pick="chosen = $event"
        @fact="fact"
        @plus="extend(forBatch, 60)"
        @open="openKind"
      />
    </section>
    <ReadyDialog
      v-if="asking && batches.get(asking.batch)"
      :key="asking.batch"
      :batch="batches.get(asking.batch)!"
      :left="notReady(asking.batch)"
      @done="ready"
      @close="asking = null"
    />
    <EntryDialog
      v-if="dialog"
      :kind="dialog"
      :batch="batches.get(forBatch)!"
      :now="tick"
      :bench="{ shift, trial, photos, tallied }"
      :known="first"
      :log="(k, p, photo) => log(forBatch, k, p, null, photo)"
      :extend="(s) => extend(forBatch, s)"
      @close="dialog = null"
    />
    <BenchDialogs
      v-model:open="open"
      :for-batch="forBatch"
      :doubts="doubts"
      :photos="photos"
      :missing="outlook?.unmeasured ?? []"
      @measure="measure"
    />
  </main>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 360px 1fr;
  grid-template-rows: minmax(0, 1fr);
  height: calc(100dvh - 58px - 56px);
}
.left {
  padding: var(--gap-4) var(--gap-5);
  overflow: auto;
  border-right: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  gap: var(--gap-3);
}
.right {
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.waiting {
  flex: 1;
  padding: var(--gap-6);
}
.bench.big {
  grid-template-columns: 1fr;
}
.bench.big .left {
  border: 0;
}
.bench.rows {
  display: block;
  height: auto;
  padding-bottom: 190px;
}
.bench.rows .left {
  border: 0;
  padding: var(--gap-3) var(--gap-4);
}
@media (min-width: 901px) {
  .bench.rows {
    display: grid;
    grid-template-rows: minmax(0, 1fr);
    height: calc(100dvh - 114px);
    padding: 0;
  }
}
</style>
