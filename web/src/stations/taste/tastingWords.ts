/** How far a tasting is, in one sentence. */
import type { Schemas } from '../../api/client'

export function howFar(t: Schemas['TastingView'] | undefined): string {
  if (!t) return 'Nothing tasted yet. Codes hide which is which, and every taster gets an order of their own.'
  if (t.stopped) return `“${t.name}” was stopped: ${t.stopped}`
  if (t.opened_at) return `Codes of “${t.name}” were opened; answers are closed and the verdict is at Decide.`
  if (!t.served_at) return `“${t.name}” is laid ready. Serve it when the last plate is out.`
  const there = t.seats.filter((s) => s.finished || !s.revoked)
  const done = there.filter((s) => s.finished).length
  const until = t.protocol === 'plated' ? 'the codes are opened' : 'the cups are turned over'
  const who = there.length === 1 ? '1 taster is' : `${there.length} tasters are`
  return `${done} of ${who} done. Answers stay closed to everyone until ${until}.`
}
