import { describe, expect, it } from 'vitest'
import vectors from '../../../tests/vectors/bench_fold.json'
import { benchState, effective, type FoldChain, type FoldEntry, type FoldPlanned, type NextAction, type StepRun } from './fold'

interface Vector { chains: FoldChain[]; plan: FoldPlanned[]; entries: FoldEntry[]; runs: StepRun[]; actions: NextAction[] }

describe('the offline fold says what the core says', () => {
  (vectors as unknown as Vector[]).forEach((v, n) => {
    it(`vector ${n}, in any order of arrival`, () => {
      for (const entries of [v.entries, [...v.entries].reverse(), [...v.entries, ...v.entries.slice(0, 2)]]) {
        const got = benchState(v.chains, v.plan, entries)
        expect(got.actions.map((a) => [a.batch, a.step, a.type])).toEqual(v.actions.map((a) => [a.batch, a.step, a.type]))
        got.actions.forEach((a, i) => expect(a.due).toBeCloseTo(v.actions[i].due, 6))
        expect(got.runs.map((r) => [r.step, r.state])).toEqual(v.runs.map((r) => [r.step, r.state]))
        got.runs.forEach((r, i) => {
          expect(r.start).toBeCloseTo(v.runs[i].start, 6)
          expect(r.end).toBeCloseTo(v.runs[i].end, 6)
        })
      }
    })
  })
})

it('an undo of an undo brings the first entry back', () => {
  const e = (id: string, at: number, kind: string, supersedes: string | null = null): FoldEntry => ({ id, batch: 'b', kind, at, device: 'd', counter: at, payload: {}, supersedes })
  const first = e('a', 1, 'note')
  expect(effective([first, e('u', 2, 'undone', 'a')])).toEqual([])
  expect(effective([first, e('u', 2, 'undone', 'a'), e('v', 3, 'undone', 'u')])).toEqual([first])
})
