/** An appliance as it is being edited: marks of its dial and what it holds are typed one a line. */
import type { Schemas } from '../api/client'
import { exactText, type Quantity } from '../bench/units'

type Appliance = Schemas['ApplianceView']

export interface ApplianceForm {
  name: string
  kind: string
  input_w: Quantity
  rated_w: Quantity
  measured_w: Quantity
  offset_k: string
  capacity_pieces: string
  circuit: string
  spot: string
  notes: string
  dial: string
  capacities: string
}
export const watts = (v: number | string | null | undefined): Quantity =>
  v === null || v === undefined ? null : Number(v)
const text = (v: number | string | null | undefined) => (v === null || v === undefined ? '' : String(v))
const dialLine = (d: NonNullable<Appliance['dial']>[number]) => {
  const at = d.celsius ?? null
  const read = at === null ? '' : `: ${exactText('temperature', Number(at))}`
  return d.word + read + (d.measured ? ', measured' : '')
}
export const applianceForm = (a: Appliance | null): ApplianceForm => ({
  name: a?.name ?? '',
  kind: a?.kind ?? 'oven',
  input_w: watts(a?.input_w),
  rated_w: watts(a?.rated_w),
  measured_w: watts(a?.measured_w),
  offset_k: text(a?.offset_k),
  capacity_pieces: text(a?.capacity_pieces),
  circuit: a?.circuit ?? '',
  spot: a?.spot ?? '',
  notes: a?.notes ?? '',
  dial: (a?.dial ?? []).map(dialLine).join('\n'),
  capacities: (a?.capacities ?? [])
    .map((c) => `${c.pieces} of ${exactText('length', Number(c.piece_m))}`)
    .join('\n'),
})
const lines = (typed: string) =>
  typed
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
/** One mark of the dial a line: "low: 88 °C, measured". */
export const dialOf = (typed: string) =>
  lines(typed).map((l) => {
    const read = l.includes(':') ? l.slice(l.indexOf(':') + 1) : ''
    return {
      word: l
        .split(':')[0]!
        .trim()
        .replace(/, measured$/i, ''),
      celsius: read.replace(/,?\s*measured/i, '').trim() || null,
      measured: /measured/i.test(l),
    }
  })
/** One size a line: "6 of 5 cm". */
export const capacitiesOf = (typed: string) =>
  lines(typed).map((l) => {
    const m = l.match(/^(\d+)\s*(?:of|x|×)?\s*(.+)$/i)
    return { pieces: Number(m?.[1] ?? 0), piece_m: m?.[2] ?? l }
  })
export const applianceSent = (form: ApplianceForm): Schemas['ApplianceIn'] => ({
  ...form,
  dial: dialOf(form.dial),
  capacities: capacitiesOf(form.capacities),
  offset_k: form.offset_k === '' ? null : Number(form.offset_k),
  capacity_pieces: form.capacity_pieces === '' ? null : Number(form.capacity_pieces),
})
