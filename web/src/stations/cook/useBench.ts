/** A shift's bench on this device: what the server knows, what the outbox still holds, folded together. */
import { useIntervalFn, useTimeoutFn } from '@vueuse/core'
import { computed, inject, onScopeDispose, ref, shallowRef, type InjectionKey } from 'vue'
import { api, ApiProblem, words, type Schemas } from '../../api/client'
import { benchState, effective, when, type FoldEntry } from '../../bench/fold'
import { held, keepBench, keepSending, keptBench, KITCHEN_CLOCK, now, onShift, tap } from '../../bench/outbox'

export type Bench = Schemas['BenchView']
export type BenchStep = Schemas['BenchStep']
export type BenchBatch = Schemas['BenchBatch']

/** A stream that was closed is asked for again after so long. */
const AGAIN_MS = 3000

export function useBench(trial: string, shift: string) {
  const bench = shallowRef<Bench | null>(null)
  const entries = shallowRef<Map<string, FoldEntry>>(new Map())
  const problem = ref('')
  const live = ref<'live' | 'catching up' | 'away'>('catching up')
  const clock = computed(() => bench.value?.shift.clock ?? KITCHEN_CLOCK)
  /** What time it is at this bench: the kitchen's, or the shift's own. */
  const shiftNow = () => onShift(clock.value, now())
  const tick = ref(now())
  const mine = new Set<string>()
  let number = 0

  function take(list: FoldEntry[]): void {
    const next = new Map(entries.value)
    for (const e of list) next.set(e.id, e)
    entries.value = next
  }
  function show(b: Bench): void {
    // A plan that came by the stream while this answer was on its way is newer than the one in it.
    const here = bench.value?.plan
    bench.value = here && here.number > (b.plan?.number ?? 0) ? { ...b, plan: here } : b
    number = Math.max(number, b.number)
    take(b.entries)
  }
  async function load(): Promise<void> {
    try {
      const { data } = await api.GET('/api/v1/shifts/{shift_id}/bench', {
        params: { path: { shift_id: shift } },
      })
      if (data) {
        show(data)
        await keepBench(data)
      }
      problem.value = ''
    } catch (error) {
      const kept = await keptBench(shift)
      if (kept && !bench.value) show(kept)
      else if (!bench.value) problem.value = words(error)
      if (error instanceof ApiProblem && error.status === 0) live.value = 'away'
    }
    for (const k of await held(shift)) {
      mine.add(k.id)
      if (k.state !== 'refused') take([k.entry])
    }
  }

  // One stream per browser: the tab that holds the lock listens and tells the others.
  const others = 'BroadcastChannel' in window ? new BroadcastChannel(`yeasty-shift-${shift}`) : null
  let source: EventSource | null = null
  let stopped = false
  let letGo: () => void = () => undefined
  function heard(event: string, data: string, id: number): void {
    if (id) number = Math.max(number, id)
    const record = JSON.parse(data)
    if (event === 'entry') take([record as FoldEntry])
    else if (event === 'shift' && bench.value) {
      const batches = Number(record.batches)
      bench.value = { ...bench.value, shift: { ...bench.value.shift, ...record, batches } }
      if (batches !== bench.value.batches.length) void load()
    } else if (event === 'plan' && bench.value) {
      bench.value = { ...bench.value, plan: record }
      void keepBench({ ...bench.value, entries: [...entries.value.values()] as Bench['entries'], number })
    }
  }
  const { start: listenSoon } = useTimeoutFn(listen, AGAIN_MS, { immediate: false })
  function listen(): void {
    if (stopped) return
    source = new EventSource(`/api/v1/shifts/${shift}/stream?after=${number}`)
    source.onopen = () => {
      live.value = 'live'
      others?.postMessage({ event: 'live' })
    }
    for (const event of ['entry', 'plan', 'shift']) {
      source.addEventListener(event, (m) => {
        const message = m as MessageEvent<string>
        const id = event === 'shift' ? 0 : Number(message.lastEventId)
        heard(event, message.data, id)
        others?.postMessage({ event, data: message.data, id })
      })
    }
    source.onerror = () => {
      live.value = 'away'
      others?.postMessage({ event: 'away' })
      if (source?.readyState === EventSource.CLOSED) listenSoon()
    }
  }
  if (others) {
    others.onmessage = ({ data }) => {
      if (data.event === 'live' || data.event === 'away') live.value = data.event
      else heard(data.event, data.data, data.id)
    }
  }

  /** Steps that are done together, of one load or for all: whoever taps one taps them all. */
  const groups = computed(() => {
    const found = new Map<string, { batch: string; step: string }[]>()
    for (const b of bench.value?.batches ?? [])
      for (const [step, group] of Object.entries(b.shared))
        found.set(group, [...(found.get(group) ?? []), { batch: b.id, step }])
    return found
  })
  const together = (batch: string, step: string) => {
    const group = batches.value.get(batch)?.shared[step]
    return group ? (groups.value.get(group) ?? []) : [{ batch, step }]
  }
  const chains = computed(() => (bench.value?.batches ?? []).map((b) => ({ batch: b.id, steps: b.steps })))
  // A batch that no plan knows yet (a rescue just begun) has no times: it is not drawn and asks for nothing
  // until one comes.
  const PLANNED = 1e6
  const state = computed(() => {
    const s = benchState(chains.value, bench.value?.plan?.items ?? [], [...entries.value.values()])
    return {
      runs: s.runs.filter((r) => r.start > PLANNED),
      actions: s.actions.filter((a) => a.due > PLANNED),
    }
  })
  const standing = computed(() => effective([...entries.value.values()]).sort((a, b) => when(a) - when(b)))
  const steps = computed(
    () =>
      new Map(
        (bench.value?.batches ?? []).flatMap((b) => b.steps.map((s) => [`${b.id}|${s.key}`, s] as const)),
      ),
  )
  const batches = computed(() => new Map((bench.value?.batches ?? []).map((b) => [b.id, b] as const)))

  async function log(
    batch: string,
    kind: string,
    payload: Record<string, unknown>,
    supersedes: string | null = null,
    photo?: Blob,
  ): Promise<void> {
    const entry = await tap(shift, trial, batch, kind, payload, supersedes, photo, clock.value)
    mine.add(entry.id)
    take([entry])
  }
  /** Take back the last thing logged on this device that still stands; the first value is kept in the log. */
  const undoable = computed(() => {
    const own = [...entries.value.values()].filter((e) => mine.has(e.id) && e.kind !== 'undone')
    const stands = new Set(standing.value.map((e) => e.id))
    return own.filter((e) => stands.has(e.id)).sort((a, b) => b.counter - a.counter)[0] ?? null
  })
  async function undo(): Promise<FoldEntry | null> {
    const last = undoable.value
    if (last) await log(last.batch, 'undone', {}, last.id)
    return last
  }

  useIntervalFn(() => (tick.value = shiftNow()), 250)
  keepSending()
  void load().then(() => {
    if (navigator.locks && others) {
      void navigator.locks.request(
        `yeasty-stream-${shift}`,
        () =>
          new Promise<void>((done) => {
            letGo = done
            if (stopped) done()
            else listen()
          }),
      )
    } else listen()
  })
  onScopeDispose(() => {
    stopped = true
    source?.close()
    others?.close()
    letGo()
  })
  /** A real moment on the clock of this shift. */
  const atShift = (real: number) => onShift(clock.value, real)
  return {
    clock,
    shiftNow,
    atShift,
    together,
    unreadable: computed(() => [...entries.value.values()].filter((e) => e.unreadable)),
    bench,
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
    reload: load,
  }
}

/** Circuits that appliances of this shift hang on. */
export function circuitsUsed(bench: Bench): Bench['circuits'] {
  const used = new Set(
    bench.batches.flatMap((b) =>
      b.steps.map((s) => (s.appliance ? bench.mains[s.appliance]?.circuit : undefined)),
    ),
  )
  return bench.circuits.filter((c) => used.has(c.name))
}

/** The bench that a screen shows, with the trial and the shift it is of, for all its parts. */
export type ThisBench = ReturnType<typeof useBench> & { trial: string; shift: string }
export const BENCH: InjectionKey<ThisBench> = Symbol('bench')
export const useThisBench = (): ThisBench => inject(BENCH)!
