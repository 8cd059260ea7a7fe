/** What a practice says at a station, and where it goes on. */
import type { Schemas } from '../../api/client'
import type { Practice } from './usePractice'

export interface PracticeSaid {
  /** 1 to 6 */
  place: number
  stage: Schemas['PracticeStage']
  /** Where it goes on; null at the last station. */
  next: { station: string; title: string } | null
  /** Whether what there is to do here is done, so that going on is the next thing. */
  done: boolean
}

export function practiceAt(practice: Practice, station: string): PracticeSaid | null {
  const n = practice.stages.findIndex((s) => s.station === station)
  const stage = practice.stages[n]
  if (!stage) return null
  // Who looked ahead is led back to the first thing that is left; else to the station behind this one.
  const to = n > practice.at ? practice.at : n + 1
  const next = practice.stages[to]
  return {
    place: n + 1,
    stage,
    next: next && to !== n ? { station: next.station, title: next.title } : null,
    done: stage.done || n > practice.at,
  }
}
