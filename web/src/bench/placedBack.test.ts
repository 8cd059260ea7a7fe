import { describe, expect, it } from 'vitest'
import { minutesOf, nearest } from './placedBack'

const AT = Date.UTC(2026, 2, 3, 23, 50, 20) / 1000

describe('a clock time that is placed back', () => {
  it('is read as people write it, and refused where it is none', () => {
    expect(minutesOf('17:05')).toBe(1025)
    expect(minutesOf('7.05')).toBe(425)
    expect(minutesOf('1705')).toBe(1025)
    expect([minutesOf('5:05 pm'), minutesOf('12:00 AM'), minutesOf('12:30 p.m.')]).toEqual([1025, 0, 750])
    for (const wrong of ['', '25:00', '13:00 pm', '12:60', 'noon', '5']) expect(minutesOf(wrong)).toBeNull()
  })
  it('lies on the side of midnight that is nearer', () => {
    expect(nearest('00:10', AT, 'UTC')).toBe(Date.UTC(2026, 2, 4, 0, 10) / 1000)
    expect(nearest('23:40', AT, 'UTC')).toBe(Date.UTC(2026, 2, 3, 23, 40) / 1000)
    expect(nearest('22:00', Date.UTC(2026, 2, 4, 0, 5) / 1000, 'UTC')).toBe(
      Date.UTC(2026, 2, 3, 22, 0) / 1000,
    )
  })
  it('goes by the kitchen’s zone, not the browser’s', () => {
    expect(nearest('00:40', AT, 'Europe/Berlin')).toBe(Date.UTC(2026, 2, 3, 23, 40) / 1000)
    expect(nearest('nonsense', AT, 'UTC')).toBeNull()
  })
})
