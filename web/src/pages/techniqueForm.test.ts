import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { keyOf, techniqueForm, techniqueSent } from './techniqueForm'

const pan = {
  key: 'pan',
  version: 'v',
  name: 'Pan',
  appliance_kind: 'hob',
  gear: ['pan', 'spatula'],
  hazards: ['hot_fat'],
  ranges: { set_point_c: [160, 200], power_w: [500, 900] },
  steps: [{ id: 's', what: 'Fry', attention: 'watched', phase: 'cook', duration_s: 480, end_rule: 'cue' }],
} as unknown as Schemas['TechniqueView']

describe('a technique as it is edited', () => {
  it('keeps what the form does not show', () => {
    const sent = techniqueSent(techniqueForm(pan, false))
    expect(sent.ranges).toEqual({ set_point_c: [160, 200], power_w: [500, 900] })
    expect(sent.steps[0]).toMatchObject({ end_rule: 'cue', duration_s: 480, id: null })
    expect(sent.gear).toEqual(['pan', 'spatula'])
  })
  it('takes one end of a range for both where only one is said', () => {
    const form = { ...techniqueForm(pan, false), shortest: 300, longest: null }
    expect(techniqueSent(form).ranges.cook_s).toEqual([300, 300])
  })
  it('begins one of our own under a name of its own', () => {
    expect(techniqueForm(pan, true)).toMatchObject({ key: '', version: '', name: 'Pan, ours' })
    expect([keyOf('Pan, ours'), keyOf('—')]).toEqual(['pan_ours', 'own'])
  })
})
