/** What the bench asks of the hands, in their order, and the timers that run beside it. */
import { computed, ref, type Ref } from 'vue'
import type { NextAction } from '../../bench/fold'
import { inTurn } from '../../bench/nextUp'
import { timersOf } from '../../bench/timers'
import { keyOf } from './useActs'
import type { useBench } from './useBench'

/** `here`: where the hands were last. */
export function useAsked(b: ReturnType<typeof useBench>, here: Ref<Parameters<typeof inTurn>[4]>) {
  const { bench, state, standing, steps, batches, tick } = b
  const later = ref(new Map<string, number>())
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
    bench.value?.shift.ended ? [] : timersOf(state.value.runs, standing.value, lookEvery.value, tick.value),
  )
  /** Ask for it again in a minute. */
  function postpone(a: NextAction) {
    later.value = new Map(later.value).set(keyOf(a), tick.value + 60)
  }
  return { actions, next, timers, postpone }
}
