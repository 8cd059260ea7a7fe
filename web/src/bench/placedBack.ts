/**
 * Clock times as somebody types them, for moments that are past: put where they lie nearest to what was
 * planned.
 */
import { clock24 } from './dates'

const DAY_S = 86400

/** Minutes since midnight of "17:05", "17.05", "1705" or "5:05 pm"; null where it is none. */
export function minutesOf(text: string): number | null {
  const found = /^\s*(\d{1,2})[:.h ]?(\d{2})\s*(?:([ap])\.?m\.?)?\s*$/i.exec(text)
  if (!found) return null
  const [typed, minutes, half] = [Number(found[1]), Number(found[2]), found[3]?.toLowerCase()]
  if (half && (typed < 1 || typed > 12)) return null
  const hours = half ? (typed % 12) + (half === 'p' ? 12 : 0) : typed
  return hours < 24 && minutes < 60 ? hours * 60 + minutes : null
}

/**
 * The moment with that clock time that lies nearest to another [s since 1970]; null where no time was typed.
 */
export function nearest(text: string, near: number, zone?: string): number | null {
  const wanted = minutesOf(text)
  const is = minutesOf(clock24(near, zone))
  if (wanted === null || is === null) return null
  const whole = near - (near % 60)
  let off = (wanted - is) * 60
  if (off > DAY_S / 2) off -= DAY_S
  if (off < -DAY_S / 2) off += DAY_S
  return whole + off
}
