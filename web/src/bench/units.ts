/**
 * SI as a person reads it. Only writing and the number pad are here; what a cook types elsewhere is read by
 * the server.
 */
import { useSession } from '../session'

const us = () => useSession().us

export function temperature(c: number, digits = 0): string {
  return us() ? `${(c * 1.8 + 32).toFixed(digits)} °F` : `${c.toFixed(digits)} °C`
}
export function mass(kg: number): string {
  if (us()) {
    const oz = Math.round((kg / 0.028349523125) * 10) / 10
    return oz >= 16
      ? `${Math.floor(oz / 16)} lb ${(oz % 16).toFixed(1).replace(/\.0$/, '')} oz`
      : `${oz.toFixed(1).replace(/\.0$/, '')} oz`
  }
  return kg >= 1 ? `${Number(kg.toPrecision(3))} kg` : `${Number((kg * 1000).toPrecision(3))} g`
}
export function minutes(s: number): string {
  const total = Math.round(s)
  if (total < 60) return `${total} s`
  if (total < 3600)
    return total % 60 && total < 600
      ? `${Math.floor(total / 60)} min ${total % 60} s`
      : `${Math.round(total / 60)} min`
  const m = Math.round(total / 60)
  return m % 60 ? `${Math.floor(m / 60)} h ${m % 60} min` : `${m / 60} h`
}
/** A duration for a text box that the server reads back: "12 min", "2:30". */
export function durationText(s: number): string {
  const total = Math.round(s)
  if (total % 60) return `${Math.floor(total / 60)}:${String(total % 60).padStart(2, '0')}`
  return total >= 3600 && total % 3600 === 0 ? `${total / 3600} h` : `${total / 60} min`
}
/** A length for a text box that the server reads back. */
export const lengthText = (m: number | null | undefined): string =>
  m === null || m === undefined
    ? ''
    : us()
      ? `${Number((m / 0.0254).toPrecision(3))} in`
      : m >= 0.01
        ? `${Number((m * 100).toPrecision(3))} cm`
        : `${Number((m * 1000).toPrecision(3))} mm`
/** How far two temperatures lie apart: no zero of a scale is in it. */
export const apart = (kelvin: number): string => {
  const n = Number((us() ? kelvin * 1.8 : kelvin).toFixed(1))
  return `${n > 0 ? '+' : n < 0 ? '−' : ''}${Math.abs(n)} ${us() ? '°F' : 'K'}`
}
export const temperatureText = (c: number | null | undefined): string =>
  c === null || c === undefined ? '' : temperature(c)
export const massText = (kg: number | null | undefined): string =>
  kg === null || kg === undefined ? '' : mass(kg)

/** A sum of money without the noughts that its column adds; "" where there is none. */
export const priceText = (price: number | string | null | undefined): string =>
  price === null || price === undefined
    ? ''
    : String(price)
        .replace(/(\.\d*?)0+$/, '$1')
        .replace(/\.$/, '')

export type QuantityKind = 'mass' | 'temperature' | 'duration' | 'length' | 'power' | 'energy'
/** A number in SI where it is stored, words where somebody typed it, null where there is nothing. */
export type Quantity = number | string | null
/**
 * A stored quantity for a box, in the person's units. Never read back while nobody has typed: see
 * `ui/QuantityInput.vue`.
 */
export function quantityText(kind: QuantityKind, si: number | null | undefined): string {
  if (si === null || si === undefined) return ''
  if (kind === 'power') return `${Number(si.toPrecision(6))} W`
  if (kind === 'energy') return `${Number((si / 3.6e6).toPrecision(4))} kWh`
  return { mass: massText, temperature: temperatureText, duration: durationText, length: lengthText }[kind](
    si,
  )
}
interface Unit {
  name: string
  of: (si: number) => number
  si: (value: number) => number
}
const per = (name: string, factor: number): Unit => ({
  name,
  of: (si) => si / factor,
  si: (v) => v * factor,
})
const CELSIUS = per('°C', 1)
const FAHRENHEIT: Unit = { name: '°F', of: (c) => c * 1.8 + 32, si: (f) => (f - 32) / 1.8 }
/** Short text that reads back as the very number, for lists of quantities that are typed as one text. */
export function exactText(kind: 'mass' | 'temperature' | 'length', si: number): string {
  const near = (a: number) => Math.abs(a - si) <= 1e-9 * Math.max(1e-6, Math.abs(si))
  const tries: Unit[] = {
    temperature: [...(us() ? [FAHRENHEIT] : []), CELSIUS],
    mass: [...(us() ? [per('oz', 0.028349523125)] : []), ...(si >= 1 ? [per('kg', 1)] : []), per('g', 0.001)],
    length: [
      ...(us() ? [per('in', 0.0254)] : []),
      ...(si >= 0.01 ? [per('cm', 0.01)] : []),
      per('mm', 0.001),
    ],
  }[kind]
  for (const digits of [4, 12])
    for (const unit of tries) {
      const short = Number(unit.of(si).toPrecision(digits))
      if (near(unit.si(short))) return `${short} ${unit.name}`
    }
  const last = tries[tries.length - 1]!
  return `${last.of(si)} ${last.name}`
}

/** mm:ss or h:mm:ss, with a minus when it is past. */
export function countdown(s: number): string {
  const sign = s < 0 ? '−' : ''
  const total = Math.floor(Math.abs(s))
  const h = Math.floor(total / 3600)
  const mm = Math.floor((total % 3600) / 60)
  const ss = String(total % 60).padStart(2, '0')
  return h ? `${sign}${h}:${String(mm).padStart(2, '0')}:${ss}` : `${sign}${mm}:${ss}`
}
/** Number pad to SI, in the person's units; the pad works without network, so this stands here. */
export const padTemperature = {
  get unit() {
    return us() ? '°F' : '°C'
  },
  toSi: (v: number) => (us() ? (v - 32) / 1.8 : v),
}
export const padApart = {
  get unit() {
    return us() ? '°F' : 'K'
  },
  toSi: (v: number) => (us() ? v / 1.8 : v),
  of: (k: number) => Number((us() ? k * 1.8 : k).toFixed(1)),
}
export const padLength = {
  get unit() {
    return us() ? 'in' : 'mm'
  },
  toSi: (v: number) => (us() ? v * 0.0254 : v / 1000),
}
export const padMass = {
  get unit() {
    return us() ? 'oz' : 'g'
  },
  toSi: (v: number) => (us() ? v * 0.028349523125 : v / 1000),
}
