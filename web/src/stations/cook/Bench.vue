<script setup lang="ts">
import { useMediaQuery, useWakeLock } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, words } from '../../api/client'
import type { NextAction } from '../../bench/fold'
import { now } from '../../bench/outbox'
import { clock, countdown } from '../../bench/units'
import { useSession } from '../../session'
import BenchColumns from './BenchColumns.vue'
import BenchRows from './BenchRows.vue'
import EntryDialog from './EntryDialog.vue'
import LogBar from './LogBar.vue'
import LogList from './LogList.vue'
import NextCard from './NextCard.vue'
import PlacesPanel from './PlacesPanel.vue'
import ReadyDialog from './ReadyDialog.vue'
import WhatIf from './WhatIf.vue'
import { ring } from './ring'
import { useBench } from './useBench'
import { useOutlook } from './useOutlook'

const ProbeCurves = defineAsyncComponent(() => import('./ProbeCurves.vue'))
const route = useRoute()
const trial = String(route.params.trial)
const shift = String(route.params.shift)
const session = useSession()
const { bench, state, standing, steps, batches, problem, live, tick, log, undo, undoable, reload } = useBench(trial, shift)
const zone = computed(() => session.state?.time_zone)
const narrow = useMediaQuery('(max-width: 900px)')
const asRows = computed(() => narrow.value || (bench.value?.batches.length ?? 0) > 6)

const { outlook, byBatch } = useOutlook(shift, standing, computed(() => bench.value?.shift.ended ?? false))
const ahead = computed(() => (outlook.value?.batches ?? []).filter((b) => !bench.value?.shift.ended && b.forecast?.sentence && b.forecast.target_c))
const circuits = computed(() => (bench.value?.shift.ended ? [] : outlook.value?.planned.filter((c) => c.over || c.unknown || outlook.value?.running.some((r) => r.circuit === c.circuit)) ?? []))
/** What a circuit carries as it is now, where that is other than the heaviest moment of the plan. */
const asIs = (c: { circuit: string; sentence: string }) => {
  const is = outlook.value?.running.find((r) => r.circuit === c.circuit)?.sentence
  return is && is !== c.sentence ? ` As it is: ${is.replace(/^Circuit [^:]+: /, '')}` : ''
}
const zones = computed(() => (outlook.value?.batches ?? []).filter((b) => b.zone_spent_s >= 60 && (b.zone_use_by || b.zone_late) && !bench.value?.shift.ended))
const tagOf = (id: string) => batches.value.get(id)?.tag ?? ''

const later = ref(new Map<string, number>())
const key = (a: NextAction) => `${a.batch}|${a.step}` as const
const actions = computed(() => {
  if (!bench.value?.plan) return []
  const waiting = state.value.actions.filter((a) => (later.value.get(key(a)) ?? 0) <= tick.value)
  return [...waiting, ...state.value.actions.filter((a) => !waiting.includes(a))]
})
const next = computed(() => actions.value[0] ?? null)
const chosen = ref<string | null>(null)
const forBatch = computed(() => chosen.value ?? next.value?.batch ?? bench.value?.batches[0]?.id ?? '')

const END_KIND: Record<string, string> = { load: 'in', turn: 'turned', out: 'out' }
// What must be ticked or waived before a batch starts; an entry of the log says that it was.
const readied = computed(() => new Set(standing.value.filter((e) => e.kind === 'ready').flatMap((e) => (e.payload.items as { item: string }[]).map((i) => `${e.batch}|${i.item}`))))
const notReady = (batch: string) => (batches.value.get(batch)?.checklist ?? []).filter((c) => !readied.value.has(`${batch}|${c.key}`))
const begun = (batch: string) => state.value.runs.some((r) => r.batch === batch && r.state !== 'todo')
const asking = ref<{ batch: string; then: () => Promise<void> } | null>(null)
/** Do it at once, or once the batch is ready. */
async function whenReady(batch: string, then: () => Promise<void>) {
  if (!begun(batch) && notReady(batch).length) asking.value = { batch, then }
  else await then()
}
async function ready(items: Record<string, unknown>[]) {
  const a = asking.value
  asking.value = null
  if (!a) return
  await log(a.batch, 'ready', { items })
  await a.then()
}
const placesOpen = ref(false)
const whatIfOpen = ref(false)
const markOfTag = computed(() => Object.fromEntries((bench.value?.batches ?? []).map((b) => [b.tag, b.mark])))
const doAction = (a: NextAction) => whenReady(a.batch, () => logAction(a))
async function logAction(a: NextAction) {
  const step = steps.value.get(key(a))
  const kind = a.type === 'start' ? 'started' : a.type === 'confirm' ? 'done' : END_KIND[step?.phase ?? ''] ?? 'done'
  await log(a.batch, kind, { step: a.step })
  chosen.value = null
}
function postpone(a: NextAction) {
  later.value = new Map(later.value).set(key(a), tick.value + 60)
}
/** In, turned, out for a batch: ends the step of that kind which is asked for, or stands as a fact by itself. */
const fact = (kind: 'in' | 'turned' | 'out') => whenReady(forBatch.value, () => logFact(kind))
async function logFact(kind: 'in' | 'turned' | 'out') {
  const phase = { in: 'load', turned: 'turn', out: 'out' }[kind]
  const asked = state.value.actions.find((a) => a.batch === forBatch.value && a.type === 'do' && steps.value.get(key(a))?.phase === phase)
  await log(forBatch.value, kind, asked ? { step: asked.step } : {})
}
async function addMinutes(n: number) {
  const running = state.value.runs.find((r) => r.batch === forBatch.value && r.state === 'running')
  const target = running?.step ?? state.value.actions.find((a) => a.batch === forBatch.value)?.step
  if (target) await log(forBatch.value, 'extended', { step: target, seconds: n * 60 })
}
const dialog = ref<string | null>(null)
const listOpen = ref(false)
const curvesOpen = ref(false)
const undone = ref('')
async function takeBack() {
  const last = await undo()
  if (last) {
    undone.value = `Taken back: ${last.kind.replace('_', ' ')} of ${batches.value.get(last.batch)?.tag ?? 'the shift'}. It stays in the log.`
    window.setTimeout(() => { undone.value = '' }, 5000)
  }
}
async function replan() {
  try {
    await api.POST('/api/v1/shifts/{shift_id}/plan-requests', { params: { path: { shift_id: shift } } })
  } catch (error) {
    problem.value = words(error)
  }
}
const endAsked = ref(false)
async function endShift() {
  await api.POST('/api/v1/shifts/{shift_id}/end', { params: { path: { shift_id: shift } } })
  endAsked.value = false
  await reload()
}

// A tone and a flash when something comes due, once each.
const rung = new Set<string>()
watch(tick, (t) => {
  for (const a of state.value.actions) {
    const mark = `${key(a)}|${Math.round(a.due)}`
    if (a.due <= t && a.due > t - 30 && !rung.has(mark)) {
      rung.add(mark)
      ring(a.type === 'do' ? 2 : 1)
    }
  }
})
const wake = useWakeLock()
onMounted(() => { if (wake.isSupported.value) void wake.request('screen').catch(() => undefined) })

const card = ref<InstanceType<typeof NextCard>>()
function onKey(e: KeyboardEvent) {
  const typing = (e.target as HTMLElement)?.closest('input, textarea, select, [role=dialog], .el-select, .el-overlay')
  if (typing || e.ctrlKey || e.metaKey || e.altKey || dialog.value || asking.value) return
  const k = e.key.toLowerCase()
  const onButton = (e.target as HTMLElement)?.tagName === 'BUTTON'
  if (k === ' ' && !onButton) card.value?.done()
  else if (k === 'i') void fact('in')
  else if (k === 'r') void fact('turned')
  else if (k === 'o') void fact('out')
  else if (k === '+') void addMinutes(1)
  else if (k === 'u') void takeBack()
  else if (k === 'l' && next.value) postpone(next.value)
  else if (/^[1-9]$/.test(k)) chosen.value = bench.value?.batches[Number(k) - 1]?.id ?? null
  else if (k === '0') chosen.value = null
  else {
    const kinds: Record<string, string> = { t: 'temperature', w: 'weight', c: 'cue', p: 'photo', n: 'note', x: 'extended', e: 'effort', h: 'handling_error', g: 'energy' }
    if (!kinds[k]) return
    dialog.value = kinds[k]
  }
  e.preventDefault()
}
onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))
const topReady = ref(false)
onMounted(() => nextTick(() => { topReady.value = true }))
const meetIn = computed(() => (bench.value ? bench.value.shift.serve_from - tick.value : 0))
const moved = computed(() => {
  const plan = bench.value?.plan
  if (!plan || !bench.value) return null
  const served = Object.values(plan.served)
  const last = served.length ? Math.max(...served) : 0
  return last > bench.value.shift.serve_until + 30 ? last : null
})
</script>

<template>
  <Teleport v-if="bench && topReady" to="#top-right">
    <span v-if="bench.shift.simulated" class="warn">simulated time</span>
    <template v-if="bench.shift.ended">shift ended</template>
    <template v-else-if="meetIn > 0">plates meet in {{ countdown(meetIn) }}</template>
    <template v-else-if="tick < bench.shift.serve_until">plates meet now</template>
    <template v-else>plates were to meet {{ clock(bench.shift.serve_from, zone) }}</template>
  </Teleport>
  <p v-if="problem" class="bad page">{{ problem }}</p>
  <main v-if="bench" class="bench" :class="{ rows: asRows }">
    <section class="left">
      <NextCard ref="card" :actions="actions" :steps="steps" :batches="batches" :now="tick" :undoable="undoable" :zone="zone" :waiting-for-plan="!bench.plan" @act="doAction" @later="postpone" @undo="takeBack">
        <div class="ahead small">
          <p v-for="t in outlook?.carrying" :key="t" class="warn row"><span class="grow">The {{ t }} was on raw food: wash it hot, or take another, before it touches what is ready.</span><button class="act quiet" @click="log(forBatch, 'washed', { thing: t })">Washed</button></p>
          <template v-for="b in ahead" :key="b.batch"><p>{{ b.forecast!.sentence }}</p><p v-if="b.forecast!.pull">{{ b.forecast!.pull }}</p></template>
          <p v-if="zones.length">Between cold and hot: <span v-for="(b, i) in zones" :key="b.batch" :class="{ late: !!b.zone_late }" :title="b.zone">{{ i ? '; ' : '' }}{{ tagOf(b.batch) }} <span class="mono">{{ countdown(b.zone_spent_s) }}</span>{{ b.zone_late ? ', past the figure entered' : `, use or chill by ${clock(b.zone_use_by!, zone)}` }}</span>.</p>
          <p v-for="c in circuits" :key="c.circuit" :class="{ warn: c.over, soft: !c.over }">{{ c.sentence }}{{ asIs(c) }}<template v-if="c.over"> {{ outlook?.codes_first }}</template></p>
          <p v-if="outlook && !outlook.reckoning" class="soft">Ready-times are being worked out …</p>
        </div>
      </NextCard>
      <p v-if="undone" class="warn" role="status">{{ undone }}</p>
      <div class="notes small">
        <p v-for="n in bench.plan?.notes" :key="n" class="warn">{{ n }}</p>
        <p v-if="moved" class="warn">By this plan the plates meet at {{ clock(moved, zone) }}.</p>
        <p v-if="bench.plan" class="soft">Longest hold {{ Math.round((bench.plan.longest_hold_s ?? 0) / 60) }} min · plan of {{ clock(bench.plan.made_at, zone) }}, {{ bench.plan.proof }}</p>
        <p v-for="g in bench.gaps" :key="g" class="soft">{{ g }}</p>
      </div>
      <div class="row tools">
        <button class="act quiet" @click="replan">Plan from now</button>
        <button class="act quiet" @click="listOpen = true">Log ({{ standing.length }})</button>
        <button class="act quiet" @click="curvesOpen = true">Probes</button>
        <button class="act quiet" @click="placesOpen = true">Places</button>
        <button v-if="bench.plan && !bench.shift.ended" class="act quiet" @click="whatIfOpen = true">What if</button>
        <a v-if="bench.plan" class="act quiet" :href="`/api/v1/shifts/${shift}/run-sheet.pdf`" target="_blank" rel="noopener">Run sheet</a>
        <a v-if="bench.plan" class="act quiet" :href="`/api/v1/shifts/${shift}/calendar.ics`">Calendar</a>
        <button v-if="!bench.shift.ended" class="act quiet" @click="endAsked = true">End shift</button>
      </div>
    </section>
    <section class="right">
      <p v-if="!bench.plan" class="soft waiting">The columns come with the plan.</p>
      <BenchRows v-else-if="asRows" :bench="bench" :runs="state.runs" :actions="state.actions" :now="tick" :chosen="forBatch" :standing="standing" :zone="zone" @pick="chosen = $event" />
      <BenchColumns v-else :bench="bench" :runs="state.runs" :now="tick" :chosen="chosen" :standing="standing" :outlook="byBatch" :zone="zone" @pick="chosen = chosen === $event ? null : $event" />
      <LogBar :batches="bench.batches" :batch="forBatch" :follows="!chosen" :live="live" @pick="chosen = $event" @fact="fact" @plus="addMinutes(1)" @open="dialog = $event" />
    </section>
    <ReadyDialog v-if="asking && batches.get(asking.batch)" :key="asking.batch" :batch="batches.get(asking.batch)!" :left="notReady(asking.batch)" @done="ready" @close="asking = null" />
    <WhatIf v-if="whatIfOpen" :shift="shift" :zone="zone" @close="whatIfOpen = false" @taken="whatIfOpen = false; reload()" />
    <PlacesPanel v-if="placesOpen" :trial="trial" :marks="markOfTag" @close="placesOpen = false" />
    <EntryDialog v-if="dialog" :kind="dialog" :batch="batches.get(forBatch)!" :now="now()" @close="dialog = null" @log="(k, p, photo) => log(forBatch, k, p, null, photo)" @extend="(s) => addMinutes(s / 60)" />
    <el-dialog v-model="listOpen" title="Log of this shift" width="760"><LogList v-if="listOpen" :standing="standing" :batches="batches" :steps="steps" :trial="trial" :zone="zone" @correct="(e, p) => log(e.batch, e.kind, p, e.id)" @undo="(e) => log(e.batch, 'undone', {}, e.id)" /></el-dialog>
    <el-dialog v-model="curvesOpen" title="Probe curves" width="900"><ProbeCurves v-if="curvesOpen" :bench="bench" :zone="zone" @changed="reload" /></el-dialog>
    <el-dialog v-model="endAsked" title="End this shift?" width="420"><p>Late results can still be logged. The bench stays as it is.</p><div class="row" style="margin-top: 14px"><button class="act strong" @click="endShift">End it</button><button class="act quiet" @click="endAsked = false">Not yet</button></div></el-dialog>
  </main>
</template>

<style scoped>
.bench { display: grid; grid-template-columns: 360px 1fr; height: calc(100dvh - 58px - 56px); }
.left { padding: 16px 20px; overflow: auto; border-right: 1px solid var(--line); display: flex; flex-direction: column; gap: 12px; }
.right { min-width: 0; display: flex; flex-direction: column; }
.waiting { flex: 1; padding: 30px; }
.notes, .ahead { display: grid; gap: 6px; }
.ahead { margin: 10px 0 4px; }
.late { color: var(--beet); font-weight: 700; }
.tools { margin-top: auto; gap: 6px; padding-bottom: 6px; }
.tools .act { padding: 6px 9px; font-size: 14px; }
.bench.rows { display: block; height: auto; padding-bottom: 190px; }
.bench.rows .left { border: 0; padding: 12px 16px; }
@media (min-width: 901px) { .bench.rows { display: grid; height: calc(100dvh - 114px); padding: 0; } }
</style>
