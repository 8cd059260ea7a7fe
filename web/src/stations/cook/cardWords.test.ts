import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { NextAction, StepRun } from '../../bench/fold'
import { doneWordOf, factsOf, outOf, saidAloud, untilOf, whatToDo } from './cardWords'
import type { BenchBatch, BenchStep } from './useBench'

beforeEach(() => setActivePinia(createPinia()))
const step = (key: string, more: object = {}) =>
  ({
    key,
    what: 'Bake',
    phase: 'cook',
    end_rule: 'clock',
    duration_s: 600,
    during_offset_s: null,
    appliance_name: 'Oven',
    set_point_c: 200,
    power_w: null,
    end_core_c: null,
    end_cue: '',
    ...more,
  }) as BenchStep
const action = (type: string) => ({ type, batch: 'b', step: 's', due: 0 }) as NextAction
const bake = step('c', { end_rule: 'core', end_core_c: 93, longest_s: 900 })
const out = step('o', { what: 'Take out', phase: 'out', set_point_c: null })
const batch = { id: 'b', name: 'Oven', replicate: 2, steps: [bake, out] } as BenchBatch
const runs = [{ batch: 'b', step: 'c', start: 1000, end: 1600 }] as StepRun[]

describe('what the card says', () => {
  it('calls out what is to be done, and what a tap says of it', () => {
    expect(whatToDo(action('start'), step('c'))).toBe('Start: bake')
    expect(whatToDo(action('confirm'), step('c'))).toBe('Bake: reached?')
    expect(['start', 'confirm', 'do'].map((t) => doneWordOf(action(t)))).toEqual([
      'Started',
      'Reached',
      'Done',
    ])
  })
  it('says what ends a step, where that is not the clock', () => {
    expect(untilOf(bake)).toBe('until the core reads 93 °C')
    expect(untilOf(step('c', { end_rule: 'weight', end_kg: 0.3 }))).toBe('until it weighs 300 g')
    expect(untilOf(step('c', { end_rule: 'match', end_cue: 'the first tray' }))).toBe(
      'until it matches the first tray',
    )
    expect(untilOf(step('c'))).toBe('')
  })
  it('says when to take it out, and until when at most', () => {
    expect(outOf(batch, out, runs, 1500, 'UTC')).toBe('when the core reads 93 °C, at most until 00:31')
    expect(outOf(batch, out, runs, 2000, 'UTC')).toBe(
      'when the core reads 93 °C, past its longest time, 00:31',
    )
    expect(outOf(batch, bake, runs, 1500, 'UTC')).toBe('')
  })
  it('says with what, and for whom one tap is', () => {
    expect(factsOf(batch, step('c'), 1, '')).toBe('Oven, batch 2 · Oven · 200 °C')
    expect(factsOf(batch, step('c', { prepared: true }), 3, '')).toMatch(/^done once for all/)
  })
  it('is said aloud in round numbers', () => {
    expect([saidAloud(5), saidAloud(44), saidAloud(130)]).toEqual(['now', 'in 40 seconds', 'in 2 minutes'])
  })
})
