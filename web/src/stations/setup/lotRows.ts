/** Ingredients as they are being edited: what is stored as numbers, what was typed as words. */
import type { Trial } from '../../api/client'
import { massText, priceText, type Quantity } from '../../bench/units'

type Ingredient = Trial['ingredients'][number]

export interface LotRow {
  id: string | null
  name: string
  lot: string
  source: string
  grade: string
  age: string
  price: string
  pack: Quantity
  composition: string
  allergens: string[]
  checked: boolean
  amounts: Record<string, Quantity>
  /** The label as it is stored: what nobody typed goes back as it was. */
  label: Record<string, number>
  stands: Ingredient['stands_for']
}
const percent = (c: Record<string, number>) =>
  Object.entries(c)
    .map(([k, v]) => `${k} ${Number((100 * v).toPrecision(4))} %`)
    .join(', ')
/** "fat 82 %, salt 1.2" to shares. */
export const shares = (text: string): Record<string, number> =>
  Object.fromEntries(
    [...text.toLowerCase().matchAll(/([a-z]+)\s*:?\s*(\d+(?:[.,]\d+)?)/g)].map((m) => [
      m[1]!,
      Number(m[2]!.replace(',', '.')) / 100,
    ]),
  )
export const lotRow = (trial: Trial, i: Ingredient): LotRow => ({
  id: i.id,
  name: i.name,
  lot: i.lot,
  source: i.source,
  grade: i.grade,
  age: i.age_days === null ? '' : String(i.age_days),
  price: priceText(i.price_per_kg),
  pack: i.pack_kg,
  label: i.composition,
  stands: i.stands_for,
  composition: percent(i.composition),
  allergens: [...i.allergens],
  checked: i.allergens_checked,
  amounts: Object.fromEntries(
    trial.methods.map((m) => [m.id, m.amounts.find((a) => a.ingredient_id === i.id)?.mass_kg ?? null]),
  ),
})
export const newLot = (): LotRow => ({
  id: null,
  name: '',
  lot: '',
  source: '',
  grade: '',
  age: '',
  price: '',
  pack: null,
  label: {},
  stands: {},
  composition: '',
  allergens: [],
  checked: false,
  amounts: {},
})
/** A row as it is sent. */
export const lotSent = (r: LotRow) => ({
  id: r.id,
  name: r.name,
  lot: r.lot,
  source: r.source,
  grade: r.grade,
  age_days: r.age ? Number(r.age.replace(',', '.')) : null,
  price_per_kg: r.price || null,
  pack_kg: r.pack,
  composition: r.composition === percent(r.label) ? r.label : shares(r.composition),
  allergens: r.allergens,
  allergens_checked: r.checked,
  amounts: Object.fromEntries(Object.entries(r.amounts).map(([k, v]) => [k, v ?? null])),
})
/** The different amounts that methods take of it, in words. */
export const amountsOf = (trial: Trial, r: LotRow): string[] => [
  ...new Set(
    trial.methods.map((m) => {
      const a = r.amounts[m.id] ?? null
      return a === null ? 'none' : typeof a === 'string' ? a : massText(a)
    }),
  ),
]
