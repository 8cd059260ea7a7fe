import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Trial } from '../../api/client'
import { barredOf, factorsOf, gridOf, isNamed, newFactor, numbersOf } from './gridRows'

beforeEach(() => setActivePinia(createPinia()))
const layout = {
  base_technique: 'oven',
  factors: [
    {
      name: 'finish',
      levels: [
        { name: 'none', technique: '', sets: {}, ingredient: '' },
        {
          name: 'air fryer',
          technique: 'air_fryer',
          sets: { cook_s: 600, set_point_c: 180 },
          ingredient: '',
        },
      ],
    },
  ],
  barred: [{ cell: [1], why: 'not wanted' }],
  pieces_a_cell: 4,
  replicates: 2,
  pieces_at_hand: null,
  cookings_a_shift: 3,
}
const trial = { layout, methods: [] } as unknown as Trial

describe('a grid as it is laid out', () => {
  it('goes back as it was where nobody typed', () => {
    expect(gridOf(factorsOf(trial), barredOf(trial), numbersOf(trial))).toEqual(layout)
  })
  it('is ready once everything has a name', () => {
    expect(isNamed(factorsOf(trial))).toBe(true)
    expect(isNamed([newFactor()])).toBe(false)
  })
  it('begins with two things varied where nothing is laid out', () => {
    expect(factorsOf({ layout: {}, methods: [] } as unknown as Trial)).toHaveLength(2)
  })
})
