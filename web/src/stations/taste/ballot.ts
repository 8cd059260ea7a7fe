/** What is typed from paper, as it is sent: “7”, “7 to 8”, “6 of 8”, a word, codes; a dash is a refusal. */
import type { Schemas } from '../../api/client'

type Answer = Schemas['TasterAnswer']
export interface Cell {
  round: Schemas['RoundView']
  order: string[]
  code: string
  asked?: Schemas['AttributeView']
  comment?: boolean
  text: string
}

const number = (text: string) => Number(text.trim().replace(',', '.'))
const split = (text: string, by: RegExp) =>
  text
    .split(by)
    .map((t) => t.trim())
    .filter(Boolean)

function whole(cell: Cell): Answer['said'] {
  const text = cell.text.trim()
  switch (cell.round.drawn) {
    case 'one':
      return { kind: 'choice', code: text }
    case 'order':
      return { kind: 'order', places: places(text) }
    case 'groups': {
      const pair = split(text, /[,;+\s]+/)
      return { kind: 'groups', groups: [pair, cell.order.filter((c) => !pair.includes(c))] }
    }
    default:
      return {
        kind: 'labels',
        labels: Object.fromEntries(split(text, /[,;]+/).map((p) => split(p, /=/) as [string, string])),
      }
  }
}

const places = (text: string) => split(text, /[,;>→]+/).map((p) => split(p, /=/))

function onScale(cell: Cell, scales: Schemas['AnswerScaleView'][]): Answer['said'] {
  const text = cell.text.trim()
  const scale = scales.find((s) => s.key === cell.asked!.scale)
  if (scale?.shape === 'words') return { kind: 'words', words: split(text, /[,;]+/) }
  if (scale?.shape === 'tally') {
    const [met, of] = split(text, /of|\/|,/).map(number)
    return { kind: 'tally', met: met ?? NaN, of: of ?? NaN }
  }
  const words = scale?.own_words ? cell.asked!.words : (scale?.words ?? [])
  const at = words.findIndex((w) => w.toLowerCase() === text.toLowerCase())
  if (at >= 0) return { kind: 'value', value: (scale?.low ?? 1) + at }
  const ends = split(text, /to|–/).map(number)
  return ends.length === 2
    ? { kind: 'range', low: ends[0]!, high: ends[1]! }
    : { kind: 'value', value: number(text) }
}

/** One cell of a ballot; none where it is empty. Throws where it cannot be read. */
export function asTyped(cell: Cell, scales: Schemas['AnswerScaleView'][]): Answer[] {
  const text = cell.text.trim()
  if (!text) return []
  const about = { round: cell.round.position, code: cell.code, attribute_id: cell.asked?.id ?? null }
  const base: Answer = { ...about, said: null, refused: false, why: '', comment: null }
  if (cell.comment) return [{ ...base, comment: text }]
  if (text === '-' || text === '–') return [{ ...base, refused: true }]
  const said = cell.asked ? onScale(cell, scales) : whole(cell)
  if (Object.values(said!).some((v) => typeof v === 'number' && Number.isNaN(v)))
    throw new Error(`${cell.asked?.name ?? 'Answer'} of ${cell.code}: “${text}” cannot be read.`)
  return [{ ...base, said }]
}
