/** What a tap on the bench logs: for one batch, or for all of its load; once the batch is ready. */
import { computed, ref, type Ref } from 'vue'
import type { FoldEntry, NextAction } from '../../bench/fold'
import type { BenchStep, useBench } from './useBench'

const END_KIND: Record<string, string> = { load: 'in', turn: 'turned', out: 'out' }
export const keyOf = (a: { batch: string; step: string }) => `${a.batch}|${a.step}` as const

export function useActs(b: ReturnType<typeof useBench>, forBatch: Ref<string>, acted: () => void) {
  const { log, state, standing, steps, batches, together } = b
  // What must be ticked or waived before a batch starts; an entry of the log says that it was.
  const readied = computed(
    () =>
      new Set(
        standing.value
          .filter((e) => e.kind === 'ready')
          .flatMap((e) => (e.payload.items as { item: string }[]).map((i) => `${e.batch}|${i.item}`)),
      ),
  )
  const notReady = (batch: string) =>
    (batches.value.get(batch)?.checklist ?? []).filter((c) => !readied.value.has(`${batch}|${c.key}`))
  /** What is done for all, or heats up for several, begins no batch of its own. */
  const forSeveral = (batch: string, step: string) => {
    const s = steps.value.get(keyOf({ batch, step }))
    return !!s?.prepared || (s?.phase === 'come_up' && together(batch, step).length > 1)
  }
  const begun = (batch: string) =>
    state.value.runs.some((r) => r.batch === batch && r.state !== 'todo' && !forSeveral(batch, r.step))
  const asking = ref<{ batch: string; of: string[]; then: () => Promise<void> } | null>(null)
  /** Do it at once, or once every batch that it is done for is ready. */
  async function whenReady(of: string[], then: () => Promise<void>): Promise<void> {
    const batch = of.find((m) => !begun(m) && notReady(m).length)
    if (batch) asking.value = { batch, of, then }
    else await then()
  }
  const doneFor = (a: NextAction) => together(a.batch, a.step).map((m) => m.batch)
  let keeping = false
  async function ready(items: Record<string, unknown>[]) {
    const a = asking.value
    if (!a || keeping) return
    keeping = true
    // Asked until it is on this device: what closes before would be lost with the page.
    try {
      await keepReady(a, items)
    } finally {
      keeping = false
    }
    asking.value = null
    await whenReady(a.of, a.then)
  }
  async function keepReady(a: NonNullable<typeof asking.value>, items: Record<string, unknown>[]) {
    for (const m of a.of) {
      const own = items.filter(
        (i) => m === a.batch || batches.value.get(m)?.checklist.some((c) => c.key === i.item),
      )
      if (own.length) await log(m, 'ready', { items: own })
    }
  }
  async function forAll(batch: string, step: string, kind: string) {
    for (const m of together(batch, step)) await log(m.batch, kind, { step: m.step })
  }
  const doAction = async (a: NextAction) => {
    const step = steps.value.get(keyOf(a))
    const act = async () => {
      await forAll(
        a.batch,
        a.step,
        a.type === 'start'
          ? 'started'
          : a.type === 'confirm'
            ? 'done'
            : (END_KIND[step?.phase ?? ''] ?? 'done'),
      )
      acted()
    }
    if (step?.prepared) await act()
    else await whenReady(doneFor(a), act)
  }
  /**
   * In, turned, out for a batch: ends the step of that kind which is asked for, or stands as a fact by
   * itself.
   */
  const fact = async (kind: 'in' | 'turned' | 'out') => {
    const phase = { in: 'load', turned: 'turn', out: 'out' }[kind]
    const asked = state.value.actions.find(
      (a) => a.batch === forBatch.value && a.type === 'do' && steps.value.get(keyOf(a))?.phase === phase,
    )
    const act = async () => {
      if (asked) await forAll(asked.batch, asked.step, kind)
      else await log(forBatch.value, kind, {})
    }
    await whenReady(asked ? doneFor(asked) : [forBatch.value], act)
  }
  async function extend(batch: string, seconds: number, step?: string) {
    const running = state.value.runs.find((r) => r.batch === batch && r.state === 'running')
    const target = step ?? running?.step ?? state.value.actions.find((a) => a.batch === batch)?.step
    if (target)
      for (const m of together(batch, target)) await log(m.batch, 'extended', { step: m.step, seconds })
  }
  async function sign(a: NextAction, seen: string) {
    const act = async () => {
      await forAll(a.batch, a.step, 'started')
      await log(a.batch, 'confirmed', { step: a.step, sign: seen })
      acted()
    }
    await whenReady(doneFor(a), act)
  }
  /** Who stays by what is watched, in words. */
  const stays = computed(() =>
    state.value.runs.flatMap((r) => {
      const s: BenchStep | undefined = steps.value.get(keyOf(r))
      if (r.state !== 'running' || s?.attention !== 'watched') return []
      return [
        `Someone stays by the ${(s.appliance_name || s.what).toLowerCase()}: ` +
          `${batches.value.get(r.batch)?.tag}`,
      ]
    }),
  )
  /** Where the hands were last: at the spot of the last step that was done. */
  const here = computed(() => {
    const last = [...standing.value]
      .reverse()
      .find((e: FoldEntry) => e.payload.step && steps.value.get(`${e.batch}|${e.payload.step}`)?.spot)
    return (last && steps.value.get(`${last.batch}|${last.payload.step}`)?.spot) || ''
  })
  return { asking, ready, notReady, begun, doAction, fact, extend, sign, stays, here }
}
