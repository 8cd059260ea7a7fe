/** A sound of its own for each urgency when something comes due, once each. */
import { watch, type Ref } from 'vue'
import type { NextAction } from '../../bench/fold'
import { urgency } from '../../bench/nextUp'
import type { Timer } from '../../bench/timers'
import { ring } from './ring'
import { keyOf } from './useActs'
import type { BenchStep } from './useBench'

/** What came due longer ago is not rung for any more [s]. */
const LATE_S = 30

export function useRinging(
  actions: Ref<NextAction[]>,
  timers: Ref<Timer[]>,
  steps: Ref<Map<string, BenchStep>>,
  tick: Ref<number>,
  ended: Ref<boolean>,
): void {
  const rung = new Set<string>()
  function due(mark: string, at: number, t: number): boolean {
    if (at > t || at <= t - LATE_S || rung.has(mark)) return false
    rung.add(mark)
    return true
  }
  watch(tick, (t) => {
    if (ended.value) return
    for (const a of actions.value)
      if (due(`${keyOf(a)}|${Math.round(a.due)}`, a.due, t)) {
        const step = steps.value.get(keyOf(a)) ?? { phase: '', attention: '' }
        ring(urgency(a, step, t) === 0 ? 'heat' : 'hands')
      }
    for (const r of timers.value) if (due(`${r.id}|${Math.round(r.rings)}`, r.rings, t)) ring('timer')
  })
}
