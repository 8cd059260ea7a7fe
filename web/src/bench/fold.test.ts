import { describe, expect, it } from 'vitest'
import vectors from '../../../tests/vectors/bench_fold.json'
import {
  benchState,
  effective,
  type FoldChain,
  type FoldEntry,
  type FoldPlanned,
  type NextAction,
  type StepRun,
} from './fold'
import { inTurn } from './nextUp'
import { timersOf } from './timers'

interface Due extends NextAction {
  batch: string
}
interface Vector {
  now: number
  look: { batch: string; step: string; every_s: number; look_for: string }[]
  timers: { id: string; rings: number; own: boolean }[]
  spots: Record<string, string>
  due: Due[]
  order: Due[]
  chains: FoldChain[]
  plan: FoldPlanned[]
  entries: FoldEntry[]
  runs: StepRun[]
  actions: NextAction[]
}

describe('the offline fold says what the core says', () => {
  ;(vectors as unknown as Vector[]).forEach((v, n) => {
    it(`vector ${n}, in any order of arrival`, () => {
      for (const entries of [v.entries, [...v.entries].reverse(), [...v.entries, ...v.entries.slice(0, 2)]]) {
        const got = benchState(v.chains, v.plan, entries)
        expect(got.actions.map((a) => [a.batch, a.step, a.type])).toEqual(
          v.actions.map((a) => [a.batch, a.step, a.type]),
        )
        got.actions.forEach((a, i) => expect(a.due).toBeCloseTo(v.actions[i].due, 6))
        expect(got.runs.map((r) => [r.step, r.state])).toEqual(v.runs.map((r) => [r.step, r.state]))
        got.runs.forEach((r, i) => {
          expect(r.start).toBeCloseTo(v.runs[i].start, 6)
          expect(r.end).toBeCloseTo(v.runs[i].end, 6)
        })
      }
    })
    it(`vector ${n}: what rings, and what comes first for the hands`, () => {
      const runs = benchState(v.chains, v.plan, v.entries).runs
      const look = new Map(v.look.map((l) => [`${l.batch}|${l.step}`, l] as const))
      const rings = timersOf(runs, v.entries, look, v.now)
      expect(rings.map((t) => [t.id, t.own])).toEqual(v.timers.map((t) => [t.id, t.own]))
      rings.forEach((t, i) => expect(t.rings).toBeCloseTo(v.timers[i].rings, 6))
      const steps = new Map(v.chains.flatMap((c) => c.steps).map((s) => [s.key, s] as const))
      const order = inTurn(
        v.due,
        (a) => steps.get(a.step)!,
        (a) => v.spots[a.step] ?? '',
        v.now,
        'hob',
      )
      expect(order.map((a) => [a.batch, a.step])).toEqual(v.order.map((a) => [a.batch, a.step]))
    })
  })
})

it('an undo of an undo brings the first entry back', () => {
  const e = (id: string, at: number, kind: string, supersedes: string | null = null): FoldEntry => ({
    id,
    batch: 'b',
    kind,
    at,
    device: 'd',
    counter: at,
    payload: {},
    supersedes,
  })
  const first = e('a', 1, 'note')
  expect(effective([first, e('u', 2, 'undone', 'a')])).toEqual([])
  expect(effective([first, e('u', 2, 'undone', 'a'), e('v', 3, 'undone', 'u')])).toEqual([first])
})

describe('a fact corrected twice', () => {
  const note = (n: number, text: string, supersedes: string | null = null, kind = 'note') => ({
    id: `e${n}`,
    batch: 'b',
    kind,
    at: n,
    device: 'd',
    counter: n,
    payload: { text },
    supersedes,
  })
  const chain = [note(1, 'pale'), note(2, 'brown', 'e1'), note(3, 'deep brown', 'e2')]
  it('stands once, and the first value does not come back', () => {
    expect(effective(chain).map((e) => e.payload.text)).toEqual(['deep brown'])
    expect(effective([...chain, note(4, '', 'e3', 'undone')]).map((e) => e.payload.text)).toEqual(['brown'])
  })
  it('thousands of times is folded', () => {
    const long = Array.from({ length: 20000 }, (_, n) => note(n, `${n}`, n ? `e${n - 1}` : null))
    expect(effective(long).map((e) => e.payload.text)).toEqual(['19999'])
  })
  it('or unreadable says nothing', () => {
    expect(effective([{ ...chain[0]!, unreadable: 'text: is empty' }])).toEqual([])
  })
})
