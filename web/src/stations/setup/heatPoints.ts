/** Points of a vessel's map whose heat is being told: by eye, by thermometers, or by slices of toast. */
import type { Schemas } from '../../api/client'
import type { Quantity } from '../../bench/units'

export type How = Schemas['HeatTest']
export interface HeatPoint {
  x_m: number
  y_m: number
  /** By eye: how much hotter than the middle [K]. */
  k: number | undefined
  /** Read there by a thermometer. */
  celsius: Quantity
  /** How brown its slice is, from 1. */
  shade: number | undefined
}
const cm = (m: number) => Math.round(m * 100)

export const newPoint = (x_m: number, y_m: number): HeatPoint => ({
  x_m,
  y_m,
  k: undefined,
  celsius: null,
  shade: undefined,
})
/** What is on a map already, where it was put by eye: what a test told is told anew as a whole. */
export const pointsOf = (spots: Schemas['SpotIn'][]): HeatPoint[] =>
  spots.filter((s) => (s.how ?? 'eye') === 'eye').map((s) => ({ ...newPoint(s.x_m, s.y_m), k: s.k }))
/** Inside the vessel, whatever the hand does. */
export const inside = (map: Schemas['MapView'], x: number, y: number): [number, number] => [
  Math.min(map.width_m, Math.max(0, x)),
  Math.min(map.depth_m, Math.max(0, y)),
]
/** Where a point lies, as a cook says it. */
export const whereIs = (p: HeatPoint) => `${cm(p.x_m)} cm across, ${cm(p.y_m)} cm back`
/** What is still to be said of a point before it can be kept. */
export function untold(how: How, p: HeatPoint): boolean {
  if (how === 'thermometer') return p.celsius === null
  return how === 'toast' ? p.shade === undefined : p.k === undefined
}
/** Points as a test sends them. */
export const readings = (points: HeatPoint[]): Schemas['ReadingIn'][] =>
  points.map((p) => ({ x_m: p.x_m, y_m: p.y_m, celsius: p.celsius, shade: p.shade ?? null }))
/** Points put by eye, as the map keeps them. */
export const asSpots = (points: HeatPoint[]): Schemas['SpotIn'][] =>
  points.map((p) => ({ x_m: p.x_m, y_m: p.y_m, k: p.k ?? 0, how: 'eye' }))
/** What a map's spots stand on, in words; "" where it has none. */
export function howKnown(spots: Schemas['SpotIn'][]): string {
  const tested = spots.filter((s) => (s.how ?? 'eye') !== 'eye')
  if (!spots.length) return ''
  const n = tested.length
  if (!n) return `${spots.length} put by eye.`
  return tested[0]!.how === 'toast'
    ? `Toast test: ${n} slices, in shades against the middle.`
    : `Thermometers at ${n} places, in kelvin against the middle.`
}
