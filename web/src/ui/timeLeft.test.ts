import { describe, expect, it } from 'vitest'
import { timeLeft } from './timeLeft'

describe('how long something will still take', () => {
  it('is told by what the like of it took', () => {
    expect(timeLeft(1000, 4)).toEqual({ share: 0.25, words: 'about 3 s left' })
    expect(timeLeft(60_000, 400).words).toBe('about 6 min left')
  })
  it('never says that it is done before it is', () => {
    expect(timeLeft(3900, 4)).toEqual({ share: 0.97, words: 'any moment' })
    expect(timeLeft(4100, 4).share).toBeLessThan(1)
  })
  it('says so when it takes longer, and guesses no more', () => {
    expect(timeLeft(9000, 4)).toEqual({ share: null, words: 'longer than usual, which is 4 s' })
  })
  it('says nothing where nothing is known', () => {
    expect(timeLeft(1000, null)).toEqual({ share: null, words: '' })
  })
})
