/**
 * Which of the things that are due comes first: by urgency, then by least walking. The rule of
 * yeasty/core/cook/next_up.py, here for the time without network; both are held to
 * tests/vectors/bench_fold.json.
 */
import type { NextAction } from './fold'

const AT_HAND_S = 30
const TOGETHER_S = 45
interface UrgentStep {
  phase: string
  attention: string
}

/** 0 food in the heat, 1 at hand, 2 to come. */
export function urgency(a: NextAction, s: UrgentStep, now: number): 0 | 1 | 2 {
  if (a.due > now + AT_HAND_S) return 2
  return s.phase === 'out' ||
    s.phase === 'turn' ||
    (a.type === 'confirm' && (s.phase === 'cook' || s.attention === 'watched'))
    ? 0
    : 1
}
const text = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
const byDue = (a: NextAction, b: NextAction) =>
  a.due - b.due || text(a.batch, b.batch) || text(a.step, b.step)

export function inTurn(
  actions: NextAction[],
  stepOf: (a: NextAction) => UrgentStep,
  spotOf: (a: NextAction) => string,
  now: number,
  here: string,
): NextAction[] {
  const found: NextAction[] = []
  for (const level of [0, 1, 2]) {
    const rest = actions.filter((a) => urgency(a, stepOf(a), now) === level).sort(byDue)
    let place = here
    while (rest.length) {
      const near = level < 2 ? rest.filter((a) => a.due <= rest[0].due + TOGETHER_S) : rest.slice(0, 1)
      const walks = (a: NextAction) => (place && spotOf(a) && spotOf(a) !== place ? 1 : 0)
      const best = [...near].sort((a, b) => walks(a) - walks(b) || byDue(a, b))[0]
      rest.splice(rest.indexOf(best), 1)
      found.push(best)
      place = spotOf(best) || place
    }
  }
  return found
}
