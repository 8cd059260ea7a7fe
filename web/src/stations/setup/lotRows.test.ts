import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Trial } from '../../api/client'
import { amountsOf, lotRow, lotSent, newLot, shares } from './lotRows'

const butter = {
  id: 'i',
  name: 'butter',
  lot: 'B7',
  source: 'dairy',
  grade: '',
  age_days: 3,
  price_per_kg: '9.5000',
  pack_kg: 0.25,
  composition: { fat: 0.82, salt: 0.012 },
  stands_for: {},
  allergens: ['milk'],
  allergens_checked: true,
}
const trial = {
  methods: [
    { id: 'a', amounts: [{ ingredient_id: 'i', mass_kg: 0.1 }] },
    { id: 'b', amounts: [] },
  ],
  ingredients: [butter],
} as unknown as Trial

describe('an ingredient as it is edited', () => {
  beforeEach(() => setActivePinia(createPinia()))
  it('goes back as it was where nobody typed', () => {
    const row = lotRow(trial, trial.ingredients[0]!)
    expect([row.price, row.composition]).toEqual(['9.5', 'fat 82 %, salt 1.2 %'])
    const sent: Record<string, unknown> = { ...butter, price_per_kg: '9.5', amounts: { a: 0.1, b: null } }
    delete sent.stands_for
    expect(lotSent(row)).toEqual(sent)
  })
  it('reads a label that was typed', () => {
    expect(shares('Fat 60 %, salt: 1,5')).toEqual({ fat: 0.6, salt: 0.015 })
    expect(lotSent({ ...newLot(), composition: 'fat 60 %' }).composition).toEqual({ fat: 0.6 })
  })
  it('tells the amounts that differ, once each', () => {
    expect(amountsOf(trial, lotRow(trial, trial.ingredients[0]!))).toEqual(['100 g', 'none'])
  })
})
