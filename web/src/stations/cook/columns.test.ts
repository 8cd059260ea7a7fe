// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { FoldEntry, StepRun } from '../../bench/fold'
import { columnsOf, factWords, type Axis } from './columns'
import type { Bench } from './useBench'
import type { BatchOutlook } from './useOutlook'

beforeEach(() => setActivePinia(createPinia()))
// A pixel for ten seconds, from the thousandth second on.
const axis: Axis = { y: (at) => (at - 1000) / 10, scale: 0.1, from: 1000, until: 9000 }
const step = (key: string, phase: string, attention: string, more = {}) => ({
  key,
  phase,
  attention,
  what: key,
  duration_s: 600,
  set_point_c: null,
  power_w: null,
  during: null,
  ...more,
})
const run = (at: string, start: number, end: number, state: StepRun['state'] = 'todo') =>
  ({ batch: 'b', step: at, start, end, state }) as StepRun
const bench = (steps: unknown[], ended = false) =>
  ({ batches: [{ id: 'b', steps }], shift: { ended } }) as unknown as Bench
const entry = (kind: string, at: number, payload = {}, batch = 'b') =>
  ({ id: `${kind}${at}`, batch, kind, at, payload }) as unknown as FoldEntry
const drawn = (b: Bench, runs: StepRun[], now = 2000, standing: FoldEntry[] = [], outlook = new Map()) =>
  columnsOf({ bench: b, now }, runs, standing, outlook as Map<string, BatchOutlook>, axis)[0]!

describe('blocks of a column', () => {
  it('grow with now while what they show runs past its time, and stand still once it is done', () => {
    const steps = [step('Bake', 'cook', 'unattended')]
    expect(drawn(bench(steps), [run('Bake', 1000, 2000, 'running')], 4000).blocks[0]!.height).toBe(298)
    expect(drawn(bench(steps), [run('Bake', 1000, 2000, 'done')], 4000).blocks[0]!.height).toBe(98)
  })
  it('of hand work are as tall as words, and move the words under them down', () => {
    const steps = [step('Load', 'load', 'hands'), step('Bake', 'cook', 'unattended')]
    const [load, bake] = drawn(bench(steps), [run('Load', 1000, 1045), run('Bake', 1045, 2000)]).blocks
    expect(load!.height).toBe(19)
    expect(bake!.pad).toBeCloseTo(19 - 4.5)
    expect(load!.look).toBe('hand todo')
  })
  it('leave out what takes no time, and what the batch does not know', () => {
    const steps = [step('Rest', 'wait', 'unattended')]
    expect(drawn(bench(steps), [run('Rest', 1500, 1500), run('Other', 1000, 2000)]).blocks).toEqual([])
  })
  it('say what is set while it comes up, once', () => {
    const up = step('Preheat', 'come_up', 'unattended', { set_point_c: 180 })
    const said = step('Preheat to 180 °C', 'come_up', 'unattended', { set_point_c: 180 })
    expect(drawn(bench([up]), [run('Preheat', 1000, 2000)]).blocks[0]!.label).toBe('Preheat, 180 °C')
    expect(drawn(bench([said]), [run('Preheat to 180 °C', 1000, 2000)]).blocks[0]!.label).toBe(
      'Preheat to 180 °C',
    )
  })
})

describe('a column', () => {
  const cook = step('Bake', 'cook', 'unattended', { longest_s: 1500 })
  it('counts up from when the food went in, and shows until when the food may keep it', () => {
    const c = drawn(bench([cook]), [run('Bake', 1000, 1600, 'running')])
    expect(c.since).toBe(1000)
    expect(c.latest).toEqual({ from: 1600, until: 2500 })
    expect(drawn(bench([cook]), [run('Bake', 1000, 1600, 'done')]).latest).toBeNull()
  })
  it('bears its own facts and what ended it, nothing of another', () => {
    const told = [
      entry('note', 1500),
      entry('weight', 900),
      entry('note', 1600, {}, 'other'),
      entry('handling_error', 1700, { why: 'dropped' }),
      entry('void', 1800, { why: 'burnt' }),
    ]
    const c = drawn(bench([cook]), [], 2000, told)
    expect(c.facts.map((e) => e.at)).toEqual([1500])
    expect(c.flag?.kind).toBe('void')
  })
  it('draws a forecast only of what is going on', () => {
    const forecast = {
      basis: 'probe',
      ready_at: 2000,
      target_c: 74,
      curve: [
        [1000, 0, 20],
        [2000, 0, 74],
      ],
    }
    const outlook = new Map([['b', { forecast }]])
    const c = drawn(bench([cook]), [], 2000, [], outlook)
    expect(c.ready).toMatchObject({ at: 2000, low: 2000, high: 2000, probe: true })
    expect(c.curve).toBe('6.0,0.0 94.0,100.0')
    const over = drawn(bench([cook], true), [], 2000, [], outlook)
    expect([over.ready, over.curve]).toEqual([null, ''])
  })
  it('says a fact in words', () => {
    expect(factWords(entry('temperature', 1, { where: 'core', celsius: 74 }))).toMatch(/^core 74/)
    expect(factWords(entry('weight', 1, { of: 'drained' }))).toBe('weighed, drained')
    expect(factWords(entry('cue', 1, { text: 'crackles' }))).toBe('crackles')
  })
})
