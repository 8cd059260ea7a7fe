import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { useSession } from '../session'
import { boxFormat, clock, day, dayAndTime, shortDay, sideWord, weekday } from './dates'

const at = Date.UTC(2026, 10, 28, 18, 41) / 1000
function who(ways: Partial<Schemas['Me']>) {
  const me = { dates: 'day_first', clock: '24', words: '', units: 'metric', ...ways } as Schemas['Me']
  useSession().state = { me } as Schemas['SessionView']
}

describe('days, times and words as the person has them', () => {
  beforeEach(() => setActivePinia(createPinia()))
  it('are of 24 hours and day first where nobody chose', () => {
    expect([clock(at, 'UTC'), day(at, 'UTC'), weekday(at, 'UTC')]).toEqual([
      '18:41',
      '28 Nov 2026',
      'Sat 28 Nov',
    ])
  })
  it('are of 12 hours and month first', () => {
    who({ clock: '12', dates: 'month_first' })
    expect(clock(at, 'UTC')).toBe('6:41 pm')
    expect(clock(Date.UTC(2026, 10, 28, 0, 5) / 1000, 'UTC')).toBe('12:05 am')
    expect(dayAndTime(at, 'UTC')).toBe('Nov 28, 2026, 6:41 pm')
    expect(weekday(at, 'UTC')).toBe('Sat, Nov 28')
    expect(boxFormat()).toBe('MMM D, YYYY h:mm a')
  })
  it('are in figures', () => {
    who({ dates: 'iso' })
    expect([day(at, 'UTC'), shortDay(at, 'UTC'), weekday(at, 'UTC')]).toEqual([
      '2026-11-28',
      '2026-11-28',
      'Sat 2026-11-28',
    ])
  })
  it('are on the kitchen’s clock, from text as from seconds', () => {
    expect(clock(0, 'UTC')).toBe('00:00')
    expect(clock('2026-11-28T11:30:00Z', 'Europe/Berlin')).toBe('12:30')
  })
  it('say broiler where that is the word', () => {
    expect(sideWord('grill', 'broiler')).toBe('grill')
    who({ words: 'american' })
    expect(sideWord('grill', 'broiler')).toBe('broiler')
  })
})
