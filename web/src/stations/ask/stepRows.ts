/** The steps of a method as they are being edited: what is stored as numbers, what was typed as words. */
import type { Method, Schemas } from '../../api/client'
import type { Quantity } from '../../bench/units'

export interface StepRow {
  id: string | null
  what: string
  attention: Schemas['Attention']
  phase: Schemas['Phase']
  duration: Quantity
  end_rule: Schemas['EndRule']
  offset: Quantity
  core: Quantity
  cue: string
  appliance_id: string | null
  set_point: Quantity
  power: Quantity
  weight: Quantity
  days: number
  longest: Quantity
}
export const PHASES: [Schemas['Phase'], string][] = [
  ['prepare', 'prepare'],
  ['come_up', 'come up'],
  ['load', 'put in'],
  ['cook', 'cook'],
  ['turn', 'turn, shake'],
  ['out', 'take out'],
  ['wait', 'rest, drain'],
  ['plate', 'plate'],
  ['wash_up', 'wash up'],
]
export const rowsOf = (method: Method): StepRow[] =>
  method.steps.map((s) => ({
    id: s.id,
    what: s.what,
    attention: s.attention,
    phase: s.phase,
    duration: s.duration_s,
    end_rule: s.end_rule,
    offset: s.during_offset_s,
    core: s.end_core_c,
    cue: s.end_cue,
    appliance_id: s.appliance_id,
    set_point: s.set_point_c,
    power: s.power_w,
    weight: s.end_kg,
    days: s.days_before,
    longest: s.longest_s,
  }))
export const newRow = (): StepRow => ({
  id: null,
  what: '',
  attention: 'hands',
  phase: 'prepare',
  duration: 60,
  end_rule: 'clock',
  offset: null,
  core: null,
  cue: '',
  appliance_id: null,
  set_point: null,
  power: null,
  weight: null,
  days: 0,
  longest: null,
})
/** Waits that may be drawn out, and cooking that the food ends: between two times. */
export const mayLast = (r: StepRow) =>
  (['prepare', 'wait'].includes(r.phase) && r.attention === 'free' && r.offset === null) ||
  (r.phase === 'cook' && r.end_rule !== 'clock' && r.offset === null)
/** A setting or time typed anew is no longer the one that was worked out for this kitchen. */
function kept(old: Schemas['StepView'] | undefined, r: StepRow) {
  if (!old) return {}
  return {
    dial_for_c: r.set_point === old.set_point_c ? old.dial_for_c : null,
    for_altitude_m: r.duration === old.duration_s ? old.for_altitude_m : null,
  }
}
/** The rows as they are sent: only what belongs to a step's rule and phase goes with it. */
export function asSent(method: Method, rows: StepRow[]) {
  const before = new Map(method.steps.map((s) => [s.id, s] as const))
  return rows.map((r) => ({
    ...kept(before.get(r.id ?? ''), r),
    id: r.id,
    what: r.what,
    attention: r.attention,
    phase: r.phase,
    duration_s: r.duration ?? '',
    end_rule: r.end_rule,
    during_offset_s: r.offset,
    end_core_c: r.end_rule === 'core' ? r.core : null,
    end_cue: ['cue', 'match'].includes(r.end_rule) ? r.cue : '',
    end_kg: r.end_rule === 'weight' ? r.weight : null,
    days_before: r.days,
    longest_s: mayLast(r) ? r.longest : null,
    appliance_id: r.appliance_id || null,
    set_point_c: r.set_point,
    power_w: r.power,
  }))
}
