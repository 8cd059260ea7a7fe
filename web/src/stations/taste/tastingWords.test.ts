import { describe, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { howFar } from './tastingWords'

const seat = (finished: boolean, revoked = false) => ({ finished, revoked })
const tasting = (more: object) =>
  ({
    name: 'Evening',
    served_at: 1,
    protocol: 'plated',
    seats: [seat(true), seat(false)],
    ...more,
  }) as unknown as Schemas['TastingView']

describe('how far a tasting is', () => {
  it('counts who is done among those who are there', () => {
    expect(howFar(tasting({}))).toMatch('1 of 2 tasters are done')
    expect(howFar(tasting({ seats: [seat(false), seat(false, true)] }))).toMatch('0 of 1 taster is done')
    expect(howFar(tasting({ seats: [seat(true, true)], protocol: 'alone' }))).toMatch(
      'until the cups are turned over',
    )
  })
  it('says what ended it, or that it waits', () => {
    expect(howFar(undefined)).toMatch(/^Nothing tasted yet/)
    expect(howFar(tasting({ stopped: 'an allergy' }))).toBe('“Evening” was stopped: an allergy')
    expect(howFar(tasting({ opened_at: 2 }))).toMatch(/^Codes of “Evening” were opened/)
    expect(howFar(tasting({ served_at: null }))).toMatch('laid ready')
  })
})
