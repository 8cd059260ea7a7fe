// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { EMPTY_ENTRY, ENTRIES, entryOf, num, type EntryForm } from './entryForm'

beforeEach(() => setActivePinia(createPinia()))
const form = (what: Partial<EntryForm>): EntryForm => ({ ...EMPTY_ENTRY, nuisance: [], ...what })
const made = (kind: string, what: Partial<EntryForm>, beside = { picture: false, washed: 0 }) =>
  entryOf(kind, form(what), beside)

describe('numbers as they are typed', () => {
  it.each([
    ['4,5', 4.5],
    ['−3', -3],
    [' 7 ', 7],
    ['', null],
    ['soon', null],
    ['1/2', null],
  ])('%s', (text, value) => expect(num(text)).toBe(value))
})

describe('entries of the log', () => {
  it('are kept in SI, with what was written and nothing else', () => {
    expect(made('temperature', { number: '74,25', piece: ' largest ' })).toEqual([
      'temperature',
      { celsius: 74.3, where: 'core', piece: 'largest' },
    ])
    expect(made('temperature', { number: '180', where: 'chamber', piece: 'largest' })).toEqual([
      'temperature',
      { celsius: 180, where: 'chamber' },
    ])
    expect(made('weight', { number: '250' })).toEqual(['weight', { kg: 0.25, of: 'cooked' }])
    expect(made('size', { number: '31' })).toEqual(['size', { metre: 0.031, of: 'diameter', when: 'before' }])
    expect(made('energy', { number: '0.5' })).toEqual(['energy', { joule: 1_800_000 }])
    expect(made('tally', { number: '3', outOf: '8', text: 'sealed' })).toEqual([
      'tally',
      { of: 'sealed', count: 3, out_of: 8 },
    ])
    expect(made('looked', { water: 'topped up', number: '120' })).toEqual([
      'looked',
      { water: 'topped up', added_kg: 0.12 },
    ])
    expect(made('effort', { hands: '2', nuisance: ['smell'] })).toEqual([
      'effort',
      { hands_s: 120, nuisance: ['smell'] },
    ])
  })
  it('of what went wrong end the batch only where that was said', () => {
    expect(made('handling_error', { text: 'dropped' })).toEqual(['handling_error', { why: 'dropped' }])
    expect(made('handling_error', { text: 'dropped', wholeBatch: 'void' })).toEqual([
      'void',
      { why: 'dropped' },
    ])
  })
  it('of washing take the time that ran, and the minutes above it where some were typed', () => {
    expect(made('wash_item', { item: 'pot' }, { picture: false, washed: 41.6 })).toEqual([
      'wash_item',
      { item: 'pot', seconds: 42 },
    ])
    expect(made('wash_item', { item: 'pot', number: '2' }, { picture: false, washed: 41.6 })![1]).toEqual({
      item: 'pot',
      seconds: 120,
    })
  })
  it('of a photo need a picture, and each has an id of its own', () => {
    expect(made('photo', {})).toBeNull()
    const [a, b] = [1, 2].map(() => made('photo', { face: 'cut' }, { picture: true, washed: 0 })![1])
    expect(a).toMatchObject({ face: 'cut' })
    expect(a!.photo_id).not.toBe(b!.photo_id)
  })
  it.each(Object.keys(ENTRIES))('%s makes nothing of an empty form, and says what is missing', (kind) => {
    expect(made(kind, {})).toBeNull()
    expect(ENTRIES[kind]!.missing).toMatch(/\.$/)
  })
})
