/** A technique template as it is being edited. What the form does not show stays as it is. */
import type { Schemas } from '../api/client'
import type { Quantity } from '../bench/units'

type Technique = Schemas['TechniqueView']
interface Row {
  /** The step it was, with what this form does not show. */
  was: Schemas['StepView'] | null
  what: string
  attention: Schemas['Attention']
  phase: Schemas['Phase']
  duration: Quantity
  offset: Quantity
  set: Quantity
  days: number
}
/** `own` : a new one of the kitchen's, made from it. */
export const techniqueForm = (t: Technique, own: boolean) => ({
  key: own ? '' : t.key,
  version: own ? '' : (t.version ?? ''),
  name: own ? `${t.name}, ours` : t.name,
  appliance_kind: t.appliance_kind,
  gear: t.gear.join(', '),
  hazards: [...t.hazards],
  ranges: t.ranges,
  low: (t.ranges.set_point_c?.[0] ?? null) as Quantity,
  high: (t.ranges.set_point_c?.[1] ?? null) as Quantity,
  shortest: (t.ranges.cook_s?.[0] ?? null) as Quantity,
  longest: (t.ranges.cook_s?.[1] ?? null) as Quantity,
  steps: t.steps.map((s): Row => ({
    was: s,
    what: s.what,
    attention: s.attention,
    phase: s.phase,
    duration: s.duration_s,
    offset: s.during_offset_s,
    set: s.set_point_c,
    days: s.days_before,
  })),
})
export type TechniqueForm = ReturnType<typeof techniqueForm>
export const newTechniqueStep = (): Row => ({
  was: null,
  what: '',
  attention: 'hands',
  phase: 'prepare',
  duration: 60,
  offset: null,
  set: null,
  days: 0,
})
/** The key of one that has none yet, from its name. */
export const keyOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '')
    .slice(0, 40) || 'own'
export function techniqueSent(form: TechniqueForm) {
  const ranges: Record<string, Quantity[]> = Object.fromEntries(
    Object.entries(form.ranges).filter(([k]) => !['set_point_c', 'cook_s'].includes(k)),
  )
  if (form.low !== null || form.high !== null)
    ranges.set_point_c = [form.low ?? form.high, form.high ?? form.low]
  if (form.shortest !== null || form.longest !== null)
    ranges.cook_s = [form.shortest ?? form.longest, form.longest ?? form.shortest]
  return {
    name: form.name,
    appliance_kind: form.appliance_kind,
    gear: form.gear
      .split(',')
      .map((g) => g.trim())
      .filter(Boolean),
    hazards: form.hazards,
    ranges: ranges as Record<string, (string | number)[]>,
    steps: form.steps.map((s) => ({
      ...(s.was ?? {}),
      id: null,
      appliance_id: null,
      what: s.what,
      attention: s.attention,
      phase: s.phase,
      duration_s: s.duration ?? '',
      during_offset_s: s.offset,
      set_point_c: s.set,
      days_before: s.days,
    })),
  }
}
