import { describe, expect, it } from 'vitest'
import { NOTHING, read } from './useTrialFilters'

describe('what the list of trials is narrowed to', () => {
  it('is nothing where the address says nothing, or says it twice', () => {
    expect(read({})).toEqual(NOTHING)
    expect(read({ state: ['out', 'cooked'], other: 'x' })).toEqual(NOTHING)
  })
  it('is read from the address', () => {
    expect(read({ state: 'out', technique: 'oven' })).toEqual({ ...NOTHING, state: 'out', technique: 'oven' })
  })
})
