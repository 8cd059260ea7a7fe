import { describe, expect, it } from 'vitest'
import { practiceAt } from './practiceWords'
import type { Practice } from './usePractice'

const NAMES = ['ask', 'setup', 'cook', 'taste', 'decide', 'publish']
const practice = (done: number): Practice => ({
  at: Math.min(done, 5),
  shift_id: null,
  stages: NAMES.map((station, n) => ({
    station,
    title: station,
    says: '',
    done: n < done,
    act: '',
    act_words: '',
  })),
})

describe('a practice', () => {
  it('goes on at the next station, strongly only once what there is to do is done', () => {
    expect(practiceAt(practice(0), 'ask')).toMatchObject({
      place: 1,
      done: false,
      next: { station: 'setup' },
    })
    expect(practiceAt(practice(1), 'ask')).toMatchObject({ done: true, next: { station: 'setup' } })
  })
  it('leads whoever looked ahead back to the first thing that is left', () => {
    expect(practiceAt(practice(2), 'decide')).toMatchObject({
      place: 5,
      next: { station: 'cook' },
      done: true,
    })
  })
  it('ends at the last station', () => {
    expect(practiceAt(practice(5), 'publish')).toMatchObject({ place: 6, next: null })
  })
  it('says nothing where there is no station', () => {
    expect(practiceAt(practice(0), 'kitchen')).toBeNull()
  })
})
