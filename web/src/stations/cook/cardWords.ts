/** What the card says of the next thing to do. */
import type { NextAction, StepRun } from '../../bench/fold'
import { clock } from '../../bench/dates'
import { mass, temperature } from '../../bench/units'
import type { BenchBatch, BenchStep } from './useBench'

/** What is tapped so long before it is due is asked about first [s]. */
export const EARLY_S = 30
/** The thing to do, as it is called out. */
export function whatToDo(a: NextAction, step: BenchStep | undefined): string {
  if (!step) return ''
  if (a.type === 'start') return `Start: ${step.what.charAt(0).toLowerCase()}${step.what.slice(1)}`
  return a.type === 'confirm' ? `${step.what}: reached?` : step.what
}
/** What a tap says of it. */
export const doneWordOf = (a: NextAction | null): string =>
  a?.type === 'start' ? 'Started' : a?.type === 'confirm' ? 'Reached' : 'Done'

/** What ends a step, where that is not the clock. */
export function untilOf(s: BenchStep): string {
  if (s.end_rule === 'core' && s.end_core_c !== null)
    return `until the core reads ${temperature(s.end_core_c)}`
  if (s.end_rule === 'weight' && s.end_kg) return `until it weighs ${mass(s.end_kg)}`
  if (s.end_rule === 'match') return `until it matches ${s.end_cue}`
  return s.end_rule === 'cue' && s.end_cue ? `until ${s.end_cue}` : ''
}
/** The heat that a step takes food out of. */
function heatBefore(batch: BenchBatch, step: BenchStep): BenchStep | undefined {
  if (step.phase !== 'out') return undefined
  const at = batch.steps.findIndex((s) => s.key === step.key)
  return batch.steps
    .slice(0, at)
    .filter((s) => s.phase === 'cook' && s.during_offset_s === null)
    .at(-1)
}
/** Taking out of a heat that the food ends: when it is time, and until when at most. */
export function outOf(
  batch: BenchBatch,
  step: BenchStep,
  runs: StepRun[],
  now: number,
  zone?: string,
): string {
  const heat = heatBefore(batch, step)
  const run = heat && runs.find((r) => r.batch === batch.id && r.step === heat.key)
  if (!heat || !run || !untilOf(heat)) return ''
  const when = `when${untilOf(heat).slice('until'.length)}`
  if (!heat.longest_s || heat.longest_s <= heat.duration_s) return when
  const latest = run.start + heat.longest_s
  return `${when}, ${now > latest ? 'past its longest time,' : 'at most until'} ${clock(latest, zone)}`
}
/** What it is done with, by what it ends; `sharing` : how many batches one tap is for. */
export function factsOf(batch: BenchBatch, step: BenchStep, sharing: number, out: string): string {
  const alone = batch.name + (batch.replicate > 1 ? `, batch ${batch.replicate}` : '')
  const together = step.prepared ? 'done once for all' : 'done once for these'
  return [
    sharing > 1 ? together : alone,
    step.appliance_name,
    step.set_point_c !== null && temperature(step.set_point_c),
    step.power_w && `${step.power_w} W`,
    untilOf(step),
    out,
  ]
    .filter(Boolean)
    .join(' · ')
}
/** How far away, as it is said aloud. */
export const saidAloud = (s: number): string =>
  s <= 20 ? 'now' : s < 90 ? `in ${Math.round(s / 10) * 10} seconds` : `in ${Math.round(s / 60)} minutes`
