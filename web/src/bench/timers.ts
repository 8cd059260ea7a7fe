/**
 * Timers of a bench, worked out from entries and the clock: the rules of yeasty/core/cook/timers.py, here for
 * the time without network; both are held to tests/vectors/bench_fold.json.
 */
import { effective, when, type FoldEntry, type StepRun } from './fold'

export interface Timer {
  id: string
  batch: string
  name: string
  began: number
  rings: number
  every_s: number | null
  own: boolean
}

export function timersOf(
  runs: StepRun[],
  entries: FoldEntry[],
  lookEvery: Map<string, { every_s: number; look_for: string }>,
  now: number,
): Timer[] {
  const standing = effective(entries)
  const over = new Set(standing.filter((e) => e.kind === 'timer_done').map((e) => String(e.payload.timer)))
  const found: Timer[] = []
  for (const e of standing) {
    if (e.kind !== 'timer' || over.has(e.id)) continue
    let rings = when(e) + Number(e.payload.seconds)
    const every = e.payload.every_s ? Number(e.payload.every_s) : null
    if (every) while (rings + 30 < now) rings += every
    found.push({
      id: e.id,
      batch: e.batch,
      name: String(e.payload.name),
      began: when(e),
      rings,
      every_s: every,
      own: true,
    })
  }
  for (const r of runs) {
    const rule = lookEvery.get(`${r.batch}|${r.step}`)
    if (!rule || r.state !== 'running') continue
    const looked = Math.max(
      r.start,
      ...standing.filter((e) => e.kind === 'looked' && e.batch === r.batch && when(e) >= r.start).map(when),
    )
    const rings = looked + rule.every_s
    if (rings < r.end - rule.every_s / 3)
      found.push({
        id: `${r.batch}|${r.step}`,
        batch: r.batch,
        name: `Look in: ${rule.look_for}`,
        began: looked,
        rings,
        every_s: rule.every_s,
        own: false,
      })
  }
  return found.sort((a, b) => a.rings - b.rings || (a.id < b.id ? -1 : 1))
}
