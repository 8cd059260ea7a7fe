import { describe, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { asSpots, howKnown, inside, newPoint, pointsOf, readings, untold, whereIs } from './heatPoints'

const map = { width_m: 0.4, depth_m: 0.3 } as Schemas['MapView']

describe('points of a vessel’s map', () => {
  it('lie inside the vessel, whatever the hand does', () => {
    expect(inside(map, 0.6, -0.1)).toEqual([0.4, 0])
    expect(inside(map, 0.1, 0.2)).toEqual([0.1, 0.2])
  })
  it('are told where they lie, as a cook says it', () => {
    expect(whereIs(newPoint(0.09, 0.262))).toBe('9 cm across, 26 cm back')
  })
  it('are not whole before what was read is said', () => {
    const p = newPoint(0.1, 0.1)
    expect([untold('eye', p), untold('thermometer', p), untold('toast', p)]).toEqual([true, true, true])
    expect(untold('eye', { ...p, k: 0 })).toBe(false)
    expect(untold('thermometer', { ...p, celsius: '210 °C' })).toBe(false)
    expect(untold('toast', { ...p, shade: 3 })).toBe(false)
  })
  it('put by eye come back; those of a test are told anew', () => {
    const spots: Schemas['SpotIn'][] = [
      { x_m: 0.1, y_m: 0.2, k: 5, how: 'eye' },
      { x_m: 0.2, y_m: 0.2, k: 2, how: 'thermometer' },
    ]
    expect(asSpots(pointsOf(spots))).toEqual([spots[0]])
  })
  it('go out as they were read', () => {
    expect(readings([{ ...newPoint(0.1, 0.2), celsius: '400 °F' }])).toEqual([
      { x_m: 0.1, y_m: 0.2, celsius: '400 °F', shade: null },
    ])
  })
  it('say what they stand on', () => {
    const spot = (how: Schemas['HeatTest']) => ({ x_m: 0.1, y_m: 0.2, k: 5, how })
    expect(howKnown([])).toBe('')
    expect(howKnown([spot('eye')])).toBe('1 put by eye.')
    expect(howKnown([spot('toast'), spot('toast'), spot('toast')])).toMatch('3 slices')
    expect(howKnown([spot('thermometer'), spot('eye')])).toMatch('Thermometers at 1 place')
  })
})
