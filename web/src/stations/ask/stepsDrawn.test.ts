import { describe, expect, it } from 'vitest'
import { newRow, type StepRow } from './stepRows'
import { beforeAt, beforeNext, drawn, moved, nudged, rounded, stretched } from './stepsDrawn'

const step = (what: string, duration: StepRow['duration'], offset: StepRow['offset'] = null): StepRow => ({
  ...newRow(),
  what,
  duration,
  offset,
})
const buns = [
  step('shape', 300),
  step('prove', 2400),
  step('heat the oven', 900, 1500),
  step('bake', 1200),
  step('turn the tray', 15, 600),
  step('cool', 600),
]
const names = (rows: StepRow[] | null) => rows?.map((r) => r.what)

describe('steps as they are drawn', () => {
  it('stand one under another; what happens during a step lies in it', () => {
    const d = drawn(buns)
    const whole = d.filter((b) => !b.during)
    whole.slice(1).forEach((b, i) => expect(b.top).toBeGreaterThanOrEqual(whole[i]!.top + whole[i]!.height))
    const [bake, turn] = [d[3]!, d[4]!]
    expect(turn.top).toBeGreaterThan(bake.top)
    expect(turn.top + turn.height).toBeLessThanOrEqual(bake.top + bake.height + 1e-9)
  })
  it('are as tall as they are long, where words and screen allow it', () => {
    const d = drawn([step('a', 600), step('b', 1200), step('c', 1000)])
    expect(d[1]!.height / d[0]!.height).toBeCloseTo(2)
    expect(d.every((b) => !b.cut)).toBe(true)
  })
  it('keep minutes in reach beside a night in the cold', () => {
    const d = drawn([step('mix', 600), step('rest overnight', 43_200), step('bake', 1500)])
    expect(d[1]!.cut).toBe(true)
    expect(d[0]!.height).toBeGreaterThan(40)
  })
  it('without a number are drawn by their words alone', () => {
    const d = drawn([step('a', 'a while'), step('b', 600)])
    expect(d[0]!.seconds).toBeNull()
    expect(d[0]!.height).toBeGreaterThan(0)
  })
})
describe('a step under the hand', () => {
  it('is stretched to times that are said', () => {
    expect(stretched(600, 47)).toBe(660)
    expect(stretched(607, 0)).toBe(607)
    expect(stretched(60, -500)).toBe(15)
    expect(rounded(7205)).toBe(7200)
  })
  it('takes and gives time by keys, and back again', () => {
    for (const s of [15, 285, 300, 600, 3540, 3600, 7200]) {
      expect(nudged(s, true)).toBeGreaterThan(s)
      expect(nudged(nudged(s, true), false)).toBe(s)
    }
    expect(nudged(15, false)).toBe(15)
  })
  it('goes where it is let go, with all that happens during it', () => {
    const blocks = drawn(buns)
    expect(beforeAt(blocks, 3, -10)).toBe(0)
    expect(beforeAt(blocks, 0, 10_000)).toBe(6)
    expect(names(moved(buns, 3, 0))).toEqual([
      'bake',
      'turn the tray',
      'shape',
      'prove',
      'heat the oven',
      'cool',
    ])
    expect(moved(buns, 3, 4)).toBeNull()
  })
  it('moves by arrows over a whole step, and never lets one begin with what happens during it', () => {
    expect(names(moved(buns, 3, beforeNext(buns, 3, true)))).toEqual([
      'shape',
      'bake',
      'turn the tray',
      'prove',
      'heat the oven',
      'cool',
    ])
    expect(names(moved(buns, 0, beforeNext(buns, 0, false)))?.[2]).toBe('shape')
    expect(moved(buns, 0, beforeNext(buns, 0, true))).toBeNull()
    expect(moved(buns, 5, beforeNext(buns, 5, false))).toBeNull()
    expect(moved(buns, 2, 0)).toBeNull()
  })
  it('comes back to where it was after one up and one down', () => {
    buns.forEach((row, i) => {
      const up = moved(buns, i, beforeNext(buns, i, true))
      if (!up) return
      const again = moved(up, up.indexOf(row), beforeNext(up, up.indexOf(row), false))
      expect(names(again)).toEqual(names(buns))
    })
  })
})
