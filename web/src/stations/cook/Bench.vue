<script setup lang="ts">
import { useMediaQuery, useWakeLock } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, words } from '../../api/client'
import type { NextAction } from '../../bench/fold'
import { inTurn, urgency } from '../../bench/nextUp'
import { timersOf } from '../../bench/timers'
import { clock as clockWords, countdown } from '../../bench/units'
import { useSession } from '../../session'
import BenchColumns from './BenchColumns.vue'
import BenchRows from './BenchRows.vue'
import ChangeShift from './ChangeShift.vue'
import EntryDialog from './EntryDialog.vue'
import KeysDialog from './KeysDialog.vue'
import LogBar from './LogBar.vue'
import LogList from './LogList.vue'
import NextCard from './NextCard.vue'
import PaperLog from './PaperLog.vue'
import PhotosDialog from './PhotosDialog.vue'
import PlacesPanel from './PlacesPanel.vue'
import PlanNotes from './PlanNotes.vue'
import ProbesPanel from './ProbesPanel.vue'
import ReadyDialog from './ReadyDialog.vue'
import RefusedEntries from './RefusedEntries.vue'
import RescueDialog from './RescueDialog.vue'
import SimulatedClock from './SimulatedClock.vue'
import TimerStrip from './TimerStrip.vue'
import WhatIf from './WhatIf.vue'
import { ring } from './ring'
import { keyOf, useActs } from './useActs'
import { useBench } from './useBench'
import { useKeys } from './useKeys'
import { useOutlook } from './useOutlook'
import { staysOf, useDevices } from './useProbes'

const ProbeCurves = defineAsyncComponent(() => import('./ProbeCurves.vue'))
const route = useRoute()
const trial = String(route.params.trial)
const shift = String(route.params.shift)
const session = useSession()
const whole = useBench(trial, shift)
const {
  bench,
  clock,
  state,
  standing,
  steps,
  batches,
  problem,
  live,
  tick,
  log,
  undo,
  undoable,
  reload,
  together,
  unreadable,
} = whole
const zone = computed(() => session.state?.time_zone)
const ended = computed(() => bench.value?.shift.ended ?? false)
const narrow = useMediaQuery('(max-width: 900px)')
const asRows = computed(() => narrow.value || (bench.value?.batches.length ?? 0) > 6)

const { outlook, byBatch } = useOutlook(shift, standing, ended)
const ahead = computed(() =>
  (outlook.value?.batches ?? []).filter((b) => !ended.value && b.forecast?.sentence && b.forecast.target_c),
)
const doubts = computed(
  () =>
    new Map((outlook.value?.batches ?? []).filter((b) => b.doubt).map((b) => [b.batch, b.doubt] as const)),
)
const circuits = computed(() =>
  ended.value
    ? []
    : (outlook.value?.planned.filter(
        (c) => c.over || c.unknown || outlook.value?.running.some((r) => r.circuit === c.circuit),
      ) ?? []),
)
/** What a circuit carries as it is now, where that is other than the heaviest moment of the plan. */
const asIs = (c: { circuit: string; sentence: string }) => {
  const is = outlook.value?.running.find((r) => r.circuit === c.circuit)?.sentence
  return is && is !== c.sentence ? ` As it is: ${is.replace(/^Circuit [^:]+: /, '')}` : ''
}
const advised = computed(() => (outlook.value?.batches ?? []).filter((b) => b.advice && !ended.value))
function washedAll() {
  for (const thing of outlook.value?.carrying ?? []) log(forBatch.value, 'washed', { thing })
}
function readAgain(batch: string) {
  chosen.value = batch
  dialog.value = 'temperature'
}
const zones = computed(() =>
  (outlook.value?.batches ?? []).filter(
    (b) => b.zone_spent_s >= 60 && (b.zone_use_by || b.zone_late) && !ended.value,
  ),
)
const tagOf = (id: string) => batches.value.get(id)?.tag ?? ''
const { data: probes } = useDevices(shift, ended)
const probeStays = computed(() => staysOf(standing.value))
const { data: last } = useQuery({
  queryKey: ['last-times', shift],
  staleTime: Infinity,
  retry: false,
  queryFn: async () =>
    (await api.GET('/api/v1/shifts/{shift_id}/last-times', { params: { path: { shift_id: shift } } })).data!
      .items,
})
const lastOf = computed(() => new Map((last.value ?? []).map((l) => [l.method, l] as const)))
const photos = computed(() => standing.value.filter((e) => e.kind === 'photo'))
const tallied = computed(() =>
  standing.value.filter((e) => e.kind === 'tally').map((e) => String(e.payload.of)),
)

const later = ref(new Map<string, number>())
const chosen = ref<string | null>(null)
const forBatch = computed(() => chosen.value ?? next.value?.batch ?? bench.value?.batches[0]?.id ?? '')
const { asking, ready, notReady, begun, doAction, fact, extend, sign, stays, here } = useActs(
  whole,
  computed(() => forBatch.value),
  () => {
    chosen.value = null
  },
)
/** What is asked for, once for all that share a pot, in the order in which the hands should take it. */
const actions = computed<NextAction[]>(() => {
  if (!bench.value?.plan) return []
  const seen = new Set<string>()
  const once = state.value.actions.filter((a) => {
    const group = batches.value.get(a.batch)?.shared[a.step]
    if (!group || !seen.has(group)) {
      if (group) seen.add(group)
      return true
    }
    return false
  })
  const of = (a: NextAction) => steps.value.get(keyOf(a)) ?? { phase: '', attention: '' }
  const ordered = inTurn(once, of, (a) => steps.value.get(keyOf(a))?.spot ?? '', tick.value, here.value)
  const waiting = ordered.filter((a) => (later.value.get(keyOf(a)) ?? 0) <= tick.value)
  return [...waiting, ...ordered.filter((a) => !waiting.includes(a))]
})
const next = computed(() => actions.value[0] ?? null)
const lookEvery = computed(
  () =>
    new Map(
      [...steps.value].flatMap(([k, s]) =>
        s.look_every_s ? [[k, { every_s: s.look_every_s, look_for: s.look_for ?? '' }] as const] : [],
      ),
    ),
)
const timers = computed(() =>
  ended.value ? [] : timersOf(state.value.runs, standing.value, lookEvery.value, tick.value),
)

const open = ref('')
const big = ref(localStorage.getItem('yeasty-big') === 'on')
const markOfTag = computed(() => Object.fromEntries((bench.value?.batches ?? []).map((b) => [b.tag, b.mark])))
function postpone(a: NextAction) {
  later.value = new Map(later.value).set(keyOf(a), tick.value + 60)
}
const dialog = ref<string | null>(null)
function openKind(kind: string) {
  if (kind === 'rescue') open.value = 'rescue'
  else dialog.value = kind
}
const undone = ref('')
async function takeBack() {
  const gone = await undo()
  if (gone) {
    const whose = batches.value.get(gone.batch)?.tag ?? 'the shift'
    undone.value = `Taken back: ${gone.kind.replace('_', ' ')} of ${whose}. It stays in the log.`
    window.setTimeout(() => {
      undone.value = ''
    }, 5000)
  }
}
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
const leaveRoom = (leave_room: boolean) =>
  tried(async () => {
    await api.PATCH('/api/v1/shifts/{shift_id}', { ...path, body: { leave_room } })
    await reload()
  })
const moveWindow = (minutes: number) =>
  tried(async () => {
    await api.POST('/api/v1/shifts/{shift_id}/window', { ...path, body: { later_min: minutes } })
    await reload()
  })
async function endShift() {
  await tried(() => api.POST('/api/v1/shifts/{shift_id}/end', path))
  open.value = ''
  await reload()
}
async function dark() {
  const on = document.documentElement.classList.toggle('dark')
  await tried(() => api.PATCH('/api/v1/me', { body: { dark: on } }))
}

// A sound of its own for each urgency when something comes due, once each.
const rung = new Set<string>()
watch(tick, (t) => {
  if (ended.value) return
  for (const a of actions.value) {
    const mark = `${keyOf(a)}|${Math.round(a.due)}`
    if (a.due <= t && a.due > t - 30 && !rung.has(mark)) {
      rung.add(mark)
      ring(urgency(a, steps.value.get(keyOf(a)) ?? { phase: '', attention: '' }, t) === 0 ? 'heat' : 'hands')
    }
  }
  for (const r of timers.value) {
    const mark = `${r.id}|${Math.round(r.rings)}`
    if (r.rings <= t && r.rings > t - 30 && !rung.has(mark)) {
      rung.add(mark)
      ring('timer')
    }
  }
})
const wake = useWakeLock()
onMounted(() => {
  if (wake.isSupported.value) void wake.request('screen').catch(() => undefined)
})

const card = ref<InstanceType<typeof NextCard>>()
const strip = ref<InstanceType<typeof TimerStrip>>()
const keys = useKeys()
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
  log: () => {
    open.value = 'log'
  },
  photos: () => {
    open.value = 'photos'
  },
  keys: () => {
    open.value = 'keys'
  },
  follow: () => {
    chosen.value = null
  },
  dark: () => void dark(),
  big: () => {
    big.value = !big.value
    localStorage.setItem('yeasty-big', big.value ? 'on' : 'off')
  },
}
function onKey(e: KeyboardEvent) {
  const typing = (e.target as HTMLElement)?.closest(
    'input, textarea, select, [role=dialog], .el-select, .el-overlay',
  )
  if (typing || e.ctrlKey || e.metaKey || e.altKey || dialog.value || asking.value || open.value) return
  if (e.key === ' ' && (e.target as HTMLElement)?.tagName === 'BUTTON') return
  const act = keys.actOf(e)
  if (/^[1-9]$/.test(e.key)) chosen.value = bench.value?.batches[Number(e.key) - 1]?.id ?? null
  else if (!act) return
  else if (ON_KEY[act]) ON_KEY[act]!()
  else openKind(act)
  e.preventDefault()
}
onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))
const topReady = ref(false)
onMounted(() =>
  nextTick(() => {
    topReady.value = true
  }),
)
const meetIn = computed(() => (bench.value ? bench.value.shift.serve_from - tick.value : 0))
const moved = computed(() => {
  const plan = bench.value?.plan
  if (!plan || !bench.value) return null
  // What has begun is told by the fold: nothing else may be left to plan.
  const givenUp = new Set(standing.value.filter((e) => e.kind === 'void').map((e) => e.batch))
  const plates = state.value.runs.filter(
    (r) =>
      r.state !== 'done' &&
      !givenUp.has(r.batch) &&
      steps.value.get(`${r.batch}|${r.step}`)?.phase === 'plate',
  )
  const served = [...Object.values(plan.served), ...plates.map((r) => r.end)]
  const latest = served.length ? Math.max(...served) : 0
  return latest > bench.value.shift.serve_until + 30
    ? { at: latest, by: Math.ceil((latest - bench.value.shift.serve_until) / 60) }
    : null
})
const entryOf = (id: string) => standing.value.find((e) => e.id === id)
const putProbe = (device: string, channel: string, name: string, batch: string, where: string) =>
  log(batch, 'probe', { device, channel, where, name })
</script>

<template>
  <Teleport v-if="bench && topReady" to="#top-right">
    <template v-if="bench.shift.ended">shift ended</template>
    <template v-else-if="meetIn > 0"
      >{{ bench.shift.same_age ? 'first plate' : 'plates meet' }} in {{ countdown(meetIn) }}</template
    >
    <template v-else-if="tick < bench.shift.serve_until">{{
      bench.shift.same_age ? 'one plate after another' : 'plates meet now'
    }}</template>
    <template v-else>plates were to meet {{ clockWords(bench.shift.serve_from, zone) }}</template>
  </Teleport>
  <p v-if="problem" class="bad page" role="alert">{{ problem }}</p>
  <main v-if="bench" class="bench" :class="{ rows: asRows, big }">
    <section class="left">
      <SimulatedClock
        v-if="bench.shift.simulated"
        :shift="shift"
        :rate="clock.rate"
        :now="tick"
        :zone="zone"
        @problem="problem = $event"
      />
      <NextCard
        ref="card"
        :actions="actions"
        :runs="state.runs"
        :steps="steps"
        :batches="batches"
        :now="tick"
        :undoable="undoable"
        :zone="zone"
        :waiting-for-plan="!bench.plan"
        :big="big"
        :stays="stays"
        :last="lastOf"
        :begun="begun"
        :together="together"
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
          :now="tick"
          :batches="batches"
          :key-label="keys.label('timer')"
          @set="
            (seconds, name, every) =>
              log('', 'timer', { seconds, name, ...(every ? { every_s: every } : {}) })
          "
          @over="(id) => log('', 'timer_done', { timer: id })"
          @looked="
            (b) => {
              chosen = b
              dialog = 'looked'
            }
          "
        />
        <div class="ahead small">
          <p v-for="[b, d] in doubts" :key="b" class="warn row">
            <span class="grow"
              ><strong>{{ tagOf(b) }}</strong> {{ d }}</span
            ><button class="act quiet" @click="open = 'probes'">Probes</button>
          </p>
          <p v-for="b in advised" :key="`r${b.batch}`" class="warn advised">
            <span
              ><strong>{{ tagOf(b.batch) }}</strong> {{ b.advice }}
              <strong v-if="b.read_again_at" class="mono">{{
                countdown(b.read_again_at - tick)
              }}</strong></span
            ><button class="act quiet" @click="readAgain(b.batch)">Read again</button>
          </p>
          <p v-if="outlook?.carrying.length" class="warn row">
            <span class="grow"
              >On raw food, and not washed since: <strong>{{ outlook.carrying.join(', ') }}</strong>. Wash it
              hot, or take another, before it touches what is ready.</span
            ><button class="act quiet" @click="washedAll">Washed</button>
          </p>
          <p v-for="t in outlook?.twice" :key="t.first + t.second" class="warn">
            <strong>{{ tagOf(t.batch) }}</strong> {{ t.what.replace('_', ' ') }} was logged twice, at
            {{ entryOf(t.first) ? clockWords(entryOf(t.first)!.at, zone) : '' }} and on another device at
            {{ entryOf(t.second) ? clockWords(entryOf(t.second)!.at, zone) : '' }}.
            <button v-if="entryOf(t.second)" class="act quiet" @click="log(t.batch, 'undone', {}, t.second)">
              Keep the first</button
            ><button v-if="entryOf(t.first)" class="act quiet" @click="log(t.batch, 'undone', {}, t.first)">
              Keep the second
            </button>
          </p>
          <template v-for="b in ahead" :key="b.batch"
            ><p>{{ b.forecast!.sentence }}</p>
            <p v-if="b.forecast!.pull">{{ b.forecast!.pull }}</p></template
          >
          <p v-if="zones.length">
            Between cold and hot:
            <span v-for="(b, i) in zones" :key="b.batch" :class="{ late: !!b.zone_late }" :title="b.zone"
              >{{ i ? '; ' : '' }}{{ tagOf(b.batch) }}
              <span class="mono">{{ countdown(b.zone_spent_s) }}</span>{{
                b.zone_late
                  ? ', past the figure entered'
                  : `, use or chill by ${clockWords(b.zone_use_by!, zone)}`
              }}</span
            >.
          </p>
          <p v-for="c in circuits" :key="c.circuit" :class="{ warn: c.over, soft: !c.over }">
            {{ c.sentence }}{{ asIs(c) }}<template v-if="c.over"> {{ outlook?.codes_first }}</template>
          </p>
          <p v-if="outlook && !outlook.reckoning" class="soft">Ready-times are being worked out …</p>
        </div>
      </NextCard>
      <p v-if="undone" class="warn" role="status">{{ undone }}</p>
      <div class="notes small">
        <PlanNotes :bench="bench" @leave-room="leaveRoom" />
        <p v-if="moved && actions.length && !bench.shift.ended && !bench.shift.planning" class="warn row">
          <span class="grow">As it stands the last plate is ready at {{ clockWords(moved.at, zone) }}.</span
          ><button class="act quiet" @click="moveWindow(moved.by)">Serve {{ moved.by }} min later</button>
        </p>
        <p v-if="bench.plan" class="soft">
          Longest hold {{ Math.round((bench.plan.longest_hold_s ?? 0) / 60) }} min · plan of
          {{ clockWords(whole.atShift(bench.plan.made_at), zone) }}, {{ bench.plan.proof }}
        </p>
        <p v-for="g in bench.gaps" :key="g" class="soft">{{ g }}</p>
      </div>
      <div class="row tools">
        <button class="act quiet" @click="replan">Plan from now</button>
        <button class="act quiet" @click="open = 'log'">Log ({{ standing.length }})</button>
        <button v-if="bench.plan" class="act quiet" @click="open = 'paper'">Write up times</button>
        <button class="act quiet" @click="open = 'probes'">Probes</button>
        <button class="act quiet" @click="open = 'photos'">Photos</button>
        <button class="act quiet" @click="open = 'places'">Places</button>
        <button v-if="bench.plan && !bench.shift.ended" class="act quiet" @click="open = 'whatif'">
          What if
        </button>
        <button v-if="!bench.shift.ended" class="act quiet" @click="open = 'change'">Change</button>
        <a
          v-if="bench.plan"
          class="act quiet"
          :href="`/api/v1/shifts/${shift}/run-sheet.pdf`"
          target="_blank"
          rel="noopener"
          >Run sheet</a
        >
        <a v-if="bench.plan" class="act quiet" :href="`/api/v1/shifts/${shift}/calendar.ics`">Calendar</a>
        <button class="act quiet" @click="ON_KEY.big!()">{{ big ? 'Columns' : 'Large' }}</button>
        <button class="act quiet" @click="dark">Dark</button>
        <button class="act quiet" @click="open = 'keys'">
          Keys<kbd>{{ keys.label('keys') }}</kbd>
        </button>
        <button v-if="!bench.shift.ended" class="act quiet" @click="open = 'end'">End shift</button>
      </div>
    </section>
    <section class="right">
      <p v-if="!bench.plan" class="soft waiting">The columns come with the plan.</p>
      <template v-else-if="!big">
        <BenchRows
          v-if="asRows"
          :bench="bench"
          :runs="state.runs"
          :actions="state.actions"
          :now="tick"
          :chosen="forBatch"
          :standing="standing"
          :zone="zone"
          @pick="chosen = $event"
        />
        <BenchColumns
          v-else
          :bench="bench"
          :runs="state.runs"
          :now="tick"
          :chosen="chosen"
          :standing="standing"
          :outlook="byBatch"
          :zone="zone"
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
    <WhatIf
      v-if="open === 'whatif'"
      :shift="shift"
      :zone="zone"
      @close="open = ''"
      @taken="
        () => {
          open = ''
          reload()
        }
      "
    />
    <ChangeShift
      v-if="open === 'change'"
      :shift="shift"
      :trial="trial"
      :batches="bench.batches"
      @close="open = ''"
      @changed="
        () => {
          open = ''
          reload()
        }
      "
    />
    <PlacesPanel v-if="open === 'places'" :trial="trial" :marks="markOfTag" @close="open = ''" />
    <KeysDialog v-if="open === 'keys'" @close="open = ''" />
    <PhotosDialog
      v-if="open === 'photos'"
      :photos="photos"
      :batches="bench.batches"
      :trial="trial"
      :zone="zone"
      @close="open = ''"
    />
    <RescueDialog
      v-if="open === 'rescue' && batches.get(forBatch)"
      :shift="shift"
      :batch="batches.get(forBatch)!"
      @close="open = ''"
      @made="
        () => {
          open = ''
          reload()
        }
      "
    />
    <EntryDialog
      v-if="dialog"
      :kind="dialog"
      :batch="batches.get(forBatch)!"
      :now="tick"
      :shift="shift"
      :trial="trial"
      :photos="photos"
      :tallied="tallied"
      :log="(k, p, photo) => log(forBatch, k, p, null, photo)"
      :extend="(s) => extend(forBatch, s)"
      @close="dialog = null"
    />
    <el-dialog :model-value="open === 'log'" title="Log of this shift" width="760" @close="open = ''"
      ><RefusedEntries
        v-if="open === 'log'"
        :shift="shift"
        :zone="zone"
        :tag-of="(b) => batches.get(b)?.tag" />
      <p v-for="e in unreadable" :key="e.id" class="warn">
        {{ batches.get(e.batch)?.tag }} {{ e.kind.replace('_', ' ') }} cannot be read and says nothing:
        {{ e.unreadable }}
      </p>
      <LogList
        v-if="open === 'log'"
        :standing="standing"
        :batches="batches"
        :steps="steps"
        :trial="trial"
        :zone="zone"
        :now="tick"
        @correct="(e, p) => log(e.batch, e.kind, p, e.id)"
        @undo="(e) => log(e.batch, 'undone', {}, e.id)"
    /></el-dialog>
    <el-dialog :model-value="open === 'paper'" title="Write up times" width="760" @close="open = ''"
      ><PaperLog
        v-if="open === 'paper'"
        :batches="bench.batches"
        :runs="state.runs"
        :standing="standing"
        :zone="zone"
        :now="tick"
        :together="together"
        :log="log"
        @close="open = ''"
    /></el-dialog>
    <el-dialog
      :model-value="open === 'probes'"
      title="Probes, scale and meters"
      width="900"
      @close="open = ''"
      ><template v-if="open === 'probes'"
        ><ProbesPanel
          :devices="probes?.devices ?? []"
          :stays="probeStays"
          :batches="bench.batches"
          :now="tick"
          :doubts="doubts"
          @put="putProbe" /><ProbeCurves :bench="bench" :zone="zone" @changed="reload" /></template
    ></el-dialog>
    <el-dialog :model-value="open === 'end'" title="End this shift?" width="420" @close="open = ''"
      ><p>Late results can still be logged. The bench stays as it is.</p>
      <div class="row" style="margin-top: var(--gap-4)">
        <button class="act strong" @click="endShift">End it</button
        ><button class="act quiet" @click="open = ''">Not yet</button>
      </div></el-dialog
    >
  </main>
</template>

<style scoped>
.advised {
  display: grid;
  gap: var(--gap-2);
  justify-items: start;
}
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
.notes,
.ahead {
  display: grid;
  gap: var(--gap-2);
}
.ahead {
  margin: var(--gap-3) 0 var(--gap-1);
}
.late {
  color: var(--beet);
  font-weight: 700;
}
.tools {
  margin-top: auto;
  gap: var(--gap-2);
  padding-bottom: var(--gap-2);
}
.tools .act {
  padding: var(--gap-2) var(--gap-2);
  font-size: var(--type-2);
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
