/**
 * Steps as blocks under one another, as the bench draws them: how tall each is, and what a hand that pulls at
 * one makes of its time. A wait of hours is drawn cut short, so that minutes beside it stay in reach.
 */
import type { StepRow } from './stepRows'

/** A block is never lower than its words, and no wait is taller than the rest together would allow [px]. */
const LEAST_PX = 26
const MOST_PX = 210
const WHOLE_PX = 440

export interface DrawnStep {
  index: number
  top: number
  height: number
  /** Seconds to a pixel of this block. */
  scale: number
  /** Drawn shorter than its time would be. */
  cut: boolean
  /** In the step before, not after it. */
  during: boolean
  seconds: number | null
}
const secondsOf = (v: StepRow['duration']) => (typeof v === 'number' ? v : null)

/** Seconds to a pixel at which all steps come to about the whole height, long ones cut. */
function scaleOf(times: number[]): number {
  const sorted = [...times].sort((a, b) => a - b)
  const total = sorted.reduce((a, b) => a + b, 0)
  // Where one step is longer than half of all, the others share what it leaves.
  const longest = sorted.at(-1) ?? 0
  const rest = total - longest
  const scale = longest > total / 2 && rest > 0 ? rest / (WHOLE_PX - MOST_PX) : total / WHOLE_PX
  return Math.max(1, scale)
}

export function drawn(rows: StepRow[]): DrawnStep[] {
  const inOrder = rows.filter((r) => r.offset === null)
  const scale = scaleOf(inOrder.map((r) => secondsOf(r.duration) ?? 0))
  const found: DrawnStep[] = []
  let y = 0
  let parent: DrawnStep | null = null
  rows.forEach((r, index) => {
    const seconds = secondsOf(r.duration)
    const full = (seconds ?? 0) / scale
    const offset = secondsOf(r.offset)
    const during = r.offset !== null
    const block: DrawnStep = {
      index,
      top: y,
      height: Math.min(MOST_PX, Math.max(LEAST_PX, full)),
      scale: full > MOST_PX ? (seconds ?? 0) / MOST_PX : scale,
      cut: full > MOST_PX,
      during,
      seconds,
    }
    if (during && parent) {
      const room = Math.max(0, parent.height - LEAST_PX)
      block.height = Math.min(LEAST_PX, parent.height)
      block.top = parent.top + Math.min(room, Math.max(0, (offset ?? 0) / parent.scale))
    } else {
      y += block.height + 2
      parent = block
    }
    found.push(block)
  })
  return found
}
/** To what a hand means: quarter minutes for short steps, minutes, then five of them. */
export function rounded(seconds: number): number {
  const grain = seconds < 300 ? 15 : seconds < 3600 ? 60 : 300
  return Math.max(15, Math.round(seconds / grain) * grain)
}
/** A step's time after its edge was pulled by so much; one that was not pulled keeps its seconds. */
export const stretched = (seconds: number, by: number): number => (by ? rounded(seconds + by) : seconds)
/** A step's time one touch longer or shorter. */
export function nudged(seconds: number, up: boolean): number {
  const from = up ? seconds : seconds - 1
  const grain = from < 300 ? 15 : from < 3600 ? 60 : 300
  return Math.max(15, Math.round((seconds + (up ? grain : -grain)) / grain) * grain)
}
/** How many rows go together: a step, and what happens during it. */
function together(rows: StepRow[], from: number): number {
  if (rows[from]!.offset !== null) return 1
  let n = 1
  while (rows[from + n] && rows[from + n]!.offset !== null) n += 1
  return n
}
/** Before which row a block that was let go at this height belongs; the number of rows means the end. */
export const beforeAt = (blocks: DrawnStep[], moved: number, y: number): number =>
  blocks.find((b) => !b.during && b.index !== moved && b.top + b.height / 2 > y)?.index ?? blocks.length
/** Before which row one step up or down leads. */
export function beforeNext(rows: StepRow[], from: number, up: boolean): number {
  const whole = rows[from]!.offset === null
  if (up) {
    let to = from - 1
    while (whole && to > 0 && rows[to]!.offset !== null) to -= 1
    return to
  }
  const next = from + together(rows, from)
  return next < rows.length ? next + (whole ? together(rows, next) : 1) : -1
}
/** Rows with one of them, and what happens during it, before another; null where that cannot be. */
export function moved(rows: StepRow[], from: number, before: number): StepRow[] | null {
  const n = together(rows, from)
  if (before < 0 || (before >= from && before <= from + n)) return null
  const mine = rows.slice(from, from + n)
  const ahead = rows.filter((_, i) => i < before && (i < from || i >= from + n))
  const behind = rows.filter((_, i) => i >= before && (i < from || i >= from + n))
  const found = [...ahead, ...mine, ...behind]
  return found[0]!.offset === null ? found : null
}
