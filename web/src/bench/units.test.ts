import { beforeEach, describe, expect, it, vi } from 'vitest'

const person = { us: false }
vi.mock('../session', () => ({ useSession: () => person }))
const units = await import('./units')
beforeEach(() => {
  person.us = false
})

describe('as a person reads it', () => {
  it('metric', () => {
    expect(units.temperature(74)).toBe('74 °C')
    expect(units.mass(0.36)).toBe('360 g')
    expect(units.mass(1.234)).toBe('1.23 kg')
    expect(units.lengthText(0.04)).toBe('4 cm')
    expect(units.lengthText(0.004)).toBe('4 mm')
  })
  it('US', () => {
    person.us = true
    expect(units.temperature(74)).toBe('165 °F')
    expect(units.mass(0.45359237)).toBe('1 lb 0 oz')
    expect(units.mass(0.1)).toBe('3.5 oz')
    expect(units.lengthText(0.0254)).toBe('1 in')
  })
  it('nothing for what is not known', () => {
    expect([units.temperatureText(null), units.massText(undefined), units.lengthText(null)]).toEqual([
      '',
      '',
      '',
    ])
  })
})

describe('time', () => {
  it('counts down to seconds, and past', () => {
    expect(units.countdown(0)).toBe('0:00')
    expect(units.countdown(59.9)).toBe('0:59')
    expect(units.countdown(3661)).toBe('1:01:01')
    expect(units.countdown(-61)).toBe('−1:01')
  })
  it('in words, rounded as a cook would', () => {
    expect(units.minutes(45)).toBe('45 s')
    expect(units.minutes(90)).toBe('1 min 30 s')
    expect(units.minutes(1500)).toBe('25 min')
    expect(units.minutes(7200)).toBe('2 h')
    expect(units.minutes(5400)).toBe('1 h 30 min')
  })
  it('for a box that is read back', () => {
    expect([units.durationText(720), units.durationText(150), units.durationText(7200)]).toEqual([
      '12 min',
      '2:30',
      '2 h',
    ])
  })
})

describe('the number pad', () => {
  it('gives SI from what the person reads', () => {
    expect([units.padTemperature.unit, units.padMass.unit]).toEqual(['°C', 'g'])
    expect(units.padTemperature.toSi(74)).toBe(74)
    expect(units.padMass.toSi(360)).toBeCloseTo(0.36, 9)
    person.us = true
    expect([units.padTemperature.unit, units.padMass.unit]).toEqual(['°F', 'oz'])
    expect(units.padTemperature.toSi(165.2)).toBeCloseTo(74, 6)
    expect(units.padMass.toSi(16)).toBeCloseTo(0.45359237, 9)
  })
})
