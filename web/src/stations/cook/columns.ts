/** What the columns of the bench draw: blocks of steps, facts, forecasts, each with where it stands [px]. */
import { preheatsBeside, when, type FoldEntry, type StepRun } from '../../bench/fold'
import { stepLook } from '../../bench/stepLook'
import { clock } from '../../bench/dates'
import { temperature } from '../../bench/units'
import type { Bench, BenchBatch, BenchStep } from './useBench'
import type { BatchOutlook } from './useOutlook'

/** Hand work is never drawn lower than its words need [px]. */
const HAND_PX = 19
const MARKED = ['temperature', 'cue', 'photo', 'weight', 'note']

/** Moments to places: `y` of a moment [px], pixels a second, and what is drawn from when until when. */
export interface Axis {
  y: (at: number) => number
  scale: number
  from: number
  until: number
}
interface Block {
  run: StepRun
  step: BenchStep
  top: number
  height: number
  /** How far its words move down, since hand work stands over them [px]. */
  pad: number
  look: string
  label: string
}
interface Ready {
  at: number
  low: number
  high: number
  probe: boolean
  words: string
}
export interface Column {
  batch: BenchBatch
  /** When what is in its heat went in. */
  since: number | null
  /** Until when the food may keep it in the heat, beyond its time. */
  latest: { from: number; until: number } | null
  blocks: Block[]
  /** What ended the batch, or went wrong with it. */
  flag: FoldEntry | undefined
  facts: FoldEntry[]
  ready: Ready | null
  curve: string
}
type Shown = { bench: Bench; now: number; zone?: string }

function settings(step: BenchStep): string {
  const set = step.set_point_c !== null && step.phase === 'come_up' && temperature(step.set_point_c)
  return [set, step.power_w && `${step.power_w} W`].filter(Boolean).join(' ')
}
function labelOf(step: BenchStep, beside: boolean): string {
  const sets = settings(step)
  if (beside && sets) return sets
  const reached = step.what.includes('°') ? '' : sets
  const watched = step.phase === 'cook' && step.attention === 'watched' && 'watched'
  return [step.what, reached, watched].filter(Boolean).join(', ')
}
function blocksOf(batch: BenchBatch, runs: StepRun[], axis: Axis, now: number): Block[] {
  const besides = preheatsBeside(batch.steps)
  const blocks: Block[] = []
  for (const run of runs) {
    const step = batch.steps.find((s) => s.key === run.step)
    if (!step || (run.state === 'todo' && run.end === run.start)) continue
    const hands = step.attention === 'hands'
    // What runs past its time is still running: its block grows with now until a tap ends it.
    const end = run.state === 'running' ? Math.max(run.end, now) : run.end
    const lane = besides.has(step.key) ? ' beside' : besides.size ? ' narrow' : ''
    blocks.push({
      run,
      step,
      top: axis.y(run.start),
      height: Math.max(hands ? HAND_PX : 3, (end - run.start) * axis.scale - (hands ? 0 : 2)),
      pad: 0,
      look: `${stepLook(step)} ${run.state}${lane}`,
      label: labelOf(step, besides.has(step.key)),
    })
  }
  // Hand work shorter than its words is drawn as tall as they need; what stands under it moves its own words
  // down.
  const hands = blocks.filter((k) => k.step.attention === 'hands')
  for (const k of blocks) {
    if (k.step.attention === 'hands' || besides.has(k.step.key)) continue
    const over = hands.filter((h) => h.top <= k.top + 2 && h.top + h.height > k.top)
    k.pad = Math.max(0, ...over.map((h) => h.top + h.height - k.top))
  }
  return blocks
}
function readyOf(outlook: BatchOutlook | undefined, { bench, zone }: Shown): Ready | null {
  const f = outlook?.forecast
  if (!f?.basis || !f.ready_at || f.target_c === null || bench.shift.ended) return null
  return {
    at: f.ready_at,
    low: f.ready_low ?? f.ready_at,
    high: f.ready_high ?? f.ready_at,
    probe: f.basis === 'probe',
    words: `${temperature(f.target_c)} ${clock(f.ready_at, zone)}`,
  }
}
/** The core on its way, across the column from its coldest to its hottest; "" where it stands still. */
function curveOf(outlook: BatchOutlook | undefined, axis: Axis): string {
  const f = outlook?.forecast
  const points = f?.curve.map(([t, , middle]) => [t ?? 0, middle ?? 0] as const) ?? []
  const least = Math.min(...points.map((p) => p[1]))
  const most = Math.max(f?.target_c ?? 0, ...points.map((p) => p[1]))
  if (most <= least) return ''
  return points
    .filter(([t]) => t <= axis.until)
    .map(([t, c]) => `${(6 + (88 * (c - least)) / (most - least)).toFixed(1)},${axis.y(t).toFixed(1)}`)
    .join(' ')
}
/** Cooking that the food ends: until when it may last. */
function latestOf(batch: BenchBatch, runs: StepRun[]): Column['latest'] {
  for (const run of runs) {
    const step = batch.steps.find((s) => s.key === run.step)
    const longest = step?.longest_s ?? 0
    if (step?.phase === 'cook' && longest > step.duration_s && run.state !== 'done')
      return run.start + longest > run.end + 30 ? { from: run.end, until: run.start + longest } : null
  }
  return null
}

export function columnsOf(
  shown: Shown,
  runs: StepRun[],
  standing: FoldEntry[],
  outlook: Map<string, BatchOutlook>,
  axis: Axis,
): Column[] {
  return shown.bench.batches.map((batch) => {
    const own = runs.filter((r) => r.batch === batch.id)
    const told = standing.filter((e) => e.batch === batch.id)
    const phase = (r: StepRun) => batch.steps.find((s) => s.key === r.step)?.phase
    const ready = readyOf(outlook.get(batch.id), shown)
    return {
      batch,
      // Whatever is in its heat counts up, throw-aways too.
      since: own.find((r) => r.state === 'running' && phase(r) === 'cook')?.start ?? null,
      latest: latestOf(batch, own),
      blocks: blocksOf(batch, own, axis, shown.now),
      flag: told.filter((e) => e.kind === 'void' || e.kind === 'handling_error').at(-1),
      facts: told.filter((e) => MARKED.includes(e.kind) && when(e) > axis.from),
      ready,
      curve: ready ? curveOf(outlook.get(batch.id), axis) : '',
    }
  })
}

export function factWords(e: FoldEntry): string {
  const p = e.payload as Record<string, string | number>
  if (e.kind === 'temperature') return `${p.where} ${temperature(Number(p.celsius), 1)}`
  if (e.kind === 'weight') return `weighed, ${p.item ?? p.of}`
  return e.kind === 'photo' ? 'photo' : String(p.text ?? '')
}
