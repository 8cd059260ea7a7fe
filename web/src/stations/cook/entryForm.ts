/** What somebody types into an entry of the log, and what is kept: SI, and nothing that was left empty. */
import { newId } from '../../bench/outbox'
import { padLength, padMass, padTemperature } from '../../bench/units'

/** What is poured or strewn by eye: what it came from is weighed before and after. */
export const BY_EYE = 'by eye'
/** What a weight may be of; some with the words they are chosen by. */
export const WEIGHTS = [
  'raw',
  'prepared',
  'cooked',
  'drained',
  'edible',
  'drip',
  'expelled liquid',
  'rendered fat',
  'fat taken up',
  'liquid added',
  'liquid left',
  'trimmings',
  ['kept', 'after keeping'],
  [BY_EYE, 'used by eye: before and after'],
] as const
export const EMPTY_ENTRY = {
  number: '',
  where: 'core',
  piece: '',
  place: '',
  of: 'cooked',
  dimension: 'diameter',
  side: 'before',
  outOf: '',
  text: '',
  face: '',
  part: '',
  minutesAgo: 0,
  wholeBatch: 'handling_error',
  hands: '',
  washItems: '',
  wash: '',
  nuisance: [] as string[],
  water: '',
  item: '',
  weighedBefore: '',
  weighedAfter: '',
}
export type EntryForm = typeof EMPTY_ENTRY
/** What a form does not hold: whether there is a picture, and for how long it has been washed [s]. */
export interface Beside {
  picture: boolean
  washed: number
}
type Payload = Record<string, unknown>
export type Made = [kind: string, payload: Payload]

/** What a count was of. */
export const talliedOf = (entry: { payload: Record<string, unknown> }) => String(entry.payload.of)

/** A form begun for one measure, as the list of what is missing names it. */
export function formFor(kind: string, of: string): Partial<EntryForm> {
  if (kind === 'weight' && of.startsWith(`${BY_EYE}: `))
    return { of: BY_EYE, item: of.slice(BY_EYE.length + 2) }
  if (kind === 'weight') return { of }
  if (kind === 'tally') return { text: of }
  if (kind !== 'size') return {}
  const [dimension = '', side = ''] = of.split(' ')
  return { dimension, side }
}

/** A number as typed; null where it is none. */
export function num(text: string): number | null {
  const v = Number(text.replace(',', '.').replace('−', '-'))
  return text.trim() && Number.isFinite(v) ? v : null
}
const rounded = (v: number, grain: number) => Math.round(v * grain) / grain
/** Those of the given words that somebody wrote. */
const written = (words: Record<string, string>) =>
  Object.fromEntries(
    Object.entries(words)
      .map(([k, v]) => [k, v.trim()])
      .filter(([, v]) => v),
  )

function temperature(f: EntryForm): Payload | null {
  const v = num(f.number)
  if (v === null) return null
  const at = f.where === 'core' ? written({ piece: f.piece, place: f.place }) : {}
  return { celsius: rounded(padTemperature.toSi(v), 10), where: f.where, ...at }
}
function byEye(f: EntryForm): Payload | null {
  const [before, after] = [num(f.weighedBefore), num(f.weighedAfter)]
  if (before === null || after === null || after >= before || !f.item.trim()) return null
  const kg = (v: number) => rounded(padMass.toSi(v), 1e5)
  return {
    kg: rounded(kg(before) - kg(after), 1e5),
    of: BY_EYE,
    item: f.item.trim(),
    before_kg: kg(before),
    after_kg: kg(after),
  }
}
function weight(f: EntryForm): Payload | null {
  if (f.of === BY_EYE) return byEye(f)
  const v = num(f.number)
  return v === null ? null : { kg: rounded(padMass.toSi(v), 1e5), of: f.of }
}
function size(f: EntryForm): Payload | null {
  const v = num(f.number)
  if (v === null) return null
  return {
    metre: rounded(padLength.toSi(v), 1e6),
    of: f.dimension,
    when: f.side,
    ...written({ piece: f.piece }),
  }
}
function tally(f: EntryForm): Payload | null {
  const [count, outOf] = [num(f.number), num(f.outOf)]
  if (count === null || outOf === null || !f.text.trim()) return null
  return { of: f.text.trim(), count: Math.round(count), out_of: Math.round(outOf) }
}
function energy(f: EntryForm): Payload | null {
  const v = num(f.number)
  return v === null ? null : { joule: Math.round(v * 3.6e6) }
}
function cue(f: EntryForm): Payload | null {
  return f.text.trim() ? { text: f.text.trim(), ...written({ face: f.face, part: f.part }) } : null
}
function looked(f: EntryForm): Payload | null {
  const v = num(f.number)
  if (!f.water && !f.text.trim()) return null
  const added = v === null ? {} : { added_kg: rounded(padMass.toSi(v), 1e4) }
  return { ...written({ water: f.water, text: f.text }), ...added }
}
function washing(f: EntryForm, b: Beside): Payload | null {
  const v = num(f.number)
  if (!f.item.trim()) return null
  return { item: f.item.trim(), seconds: Math.round(v === null ? b.washed : v * 60) }
}
function effort(f: EntryForm): Payload | null {
  const [hands, items, wash] = [num(f.hands), num(f.washItems), num(f.wash)]
  if (hands === null && items === null && wash === null && !f.nuisance.length) return null
  return {
    ...(hands !== null && { hands_s: hands * 60 }),
    ...(items !== null && { wash_items: items }),
    ...(wash !== null && { wash_s: wash * 60 }),
    ...(f.nuisance.length && { nuisance: [...f.nuisance] }),
  }
}

interface EntryKind {
  title: string
  make: (f: EntryForm, b: Beside) => Payload | null
  /** What is said where there is nothing to keep. */
  missing: string
}
const A_WORD = 'Write a word or two.'
const words = (f: EntryForm) => f.text.trim()
/** Every kind of entry that is typed. To extend is no entry of its own kind here: the bench does it. */
export const ENTRIES: Record<string, EntryKind> = {
  temperature: { title: 'Temperature', make: temperature, missing: 'Type a temperature.' },
  weight: {
    title: 'Weight',
    make: weight,
    missing: 'Type a weight; by eye: what, and how much it weighed before and after.',
  },
  size: { title: 'Size of a piece', make: size, missing: 'Type a length.' },
  tally: {
    title: 'Count pieces',
    make: tally,
    missing: 'Say what is counted, how many are, and of how many.',
  },
  cue: { title: 'Cue', make: cue, missing: A_WORD },
  photo: {
    title: 'Photo',
    make: (f, b) => (b.picture ? { photo_id: newId(), ...written({ face: f.face, part: f.part }) } : null),
    missing: 'Choose or take a picture.',
  },
  note: { title: 'Note', make: (f) => (words(f) ? { text: words(f) } : null), missing: A_WORD },
  extended: { title: 'Extend', make: () => null, missing: 'Type how many minutes.' },
  effort: { title: 'Effort', make: effort, missing: 'Fill in at least one.' },
  handling_error: {
    title: 'Something went wrong',
    make: (f) => (words(f) ? { why: words(f) } : null),
    missing: A_WORD,
  },
  energy: { title: 'Meter', make: energy, missing: 'Type what the meter shows.' },
  looked: { title: 'Looked in', make: looked, missing: 'Say how the water was, or what you saw.' },
  wash_item: { title: 'Wash up', make: washing, missing: 'Say what was washed.' },
}

/** The entry that a form makes; null where something is missing. What went wrong may end the batch. */
export function entryOf(kind: string, f: EntryForm, b: Beside): Made | null {
  const payload = ENTRIES[kind]?.make(f, b) ?? null
  return payload && [kind === 'handling_error' ? f.wholeBatch : kind, payload]
}
