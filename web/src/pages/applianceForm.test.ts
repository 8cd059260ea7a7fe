import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { applianceForm, applianceSent, capacitiesOf, dialOf } from './applianceForm'

beforeEach(() => setActivePinia(createPinia()))

describe('an appliance as it is edited', () => {
  it('reads marks of its dial, measured or not', () => {
    expect(dialOf('low: 88 °C, measured\n\nhigh')).toEqual([
      { word: 'low', celsius: '88 °C', measured: true },
      { word: 'high', celsius: null, measured: false },
    ])
    expect(dialOf('keep warm, measured')).toEqual([{ word: 'keep warm', celsius: null, measured: true }])
  })
  it('reads what it holds by size', () => {
    expect(capacitiesOf('6 of 5 cm\n12 x 3,5 cm')).toEqual([
      { pieces: 6, piece_m: '5 cm' },
      { pieces: 12, piece_m: '3,5 cm' },
    ])
  })
  it('goes back as it was where nobody typed', () => {
    const oven = {
      id: 'a',
      version: 3,
      name: 'Oven',
      kind: 'oven',
      input_w: 3000,
      rated_w: 2600,
      measured_w: null,
      offset_k: -12,
      capacity_pieces: 12,
      circuit: 'A',
      spot: '',
      notes: '',
      dial: [{ word: 'low', celsius: 88, measured: true }],
      capacities: [{ pieces: 6, piece_m: 0.05 }],
    } as Schemas['ApplianceView']
    const sent = applianceSent(applianceForm(oven))
    expect(sent).toMatchObject({ input_w: 3000, measured_w: null, offset_k: -12, capacity_pieces: 12 })
    expect(sent.dial).toEqual([{ word: 'low', celsius: '88 °C', measured: true }])
    expect(sent.capacities).toEqual([{ pieces: 6, piece_m: '5 cm' }])
  })
  it('begins empty', () => {
    expect(applianceSent(applianceForm(null))).toMatchObject({
      name: '',
      kind: 'oven',
      offset_k: null,
      dial: [],
    })
  })
})
