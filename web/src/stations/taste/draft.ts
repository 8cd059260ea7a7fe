/** A tasting that is being planned, and how it is sent. */
import type { Schemas } from '../../api/client'

export interface RoundDraft {
  test: Schemas['TestKey']
  part: string
  condition: string
  age: string
  batches: string[]
  outside: string
  twice: string
  attributes: string[]
  attribute: string
  label: string
  ties: boolean
  break_min: number
  most_each: number
  /** By batch: how it comes to the table, which piece, what no cup can hide of it. */
  how: Record<string, { state: string; piece: string; shows: string }>
}

export const newRound = (batches: string[]): RoundDraft => ({
  test: 'scored',
  part: '',
  condition: '',
  age: '',
  batches: [...batches],
  outside: '',
  twice: '',
  attributes: [],
  attribute: '',
  label: '',
  ties: false,
  break_min: 0,
  most_each: 0,
  how: Object.fromEntries(batches.map((b) => [b, { state: 'fresh', piece: '', shows: '' }])),
})

export const asSent = (r: RoundDraft): Schemas['RoundIn'] => ({
  test: r.test,
  name: '',
  part: r.part,
  condition: r.condition,
  age: r.age,
  samples: [
    ...r.batches.map((b) => ({
      batch_id: b,
      outside: '',
      piece: r.how[b]?.piece.trim() ?? '',
      state: r.how[b]?.state ?? 'fresh',
      twice: b === r.twice,
    })),
    ...(r.outside.trim()
      ? [{ batch_id: null, outside: r.outside.trim(), piece: '', state: 'fresh', twice: false }]
      : []),
  ],
  attributes: r.attributes,
  settings: {
    attribute: r.attribute,
    label: r.label ?? '',
    ties: r.ties,
    most_each: r.test === 'scored' ? r.most_each || 0 : 0,
  },
  break_s: Math.round(60 * (r.break_min || 0)),
})

/** What no cup can hide, by batch: of the first round that says so. */
export const whatShows = (rounds: RoundDraft[]): Schemas['CupIn'][] => {
  const found = new Map<string, string>()
  for (const r of rounds)
    for (const b of r.batches) if (r.how[b]?.shows.trim()) found.set(b, r.how[b].shows.trim())
  return [...found].map(([batch_id, shows]) => ({ batch_id, shows }))
}

/** "cracker: gluten", one a line; without a colon nobody has checked it, with “none” somebody has. */
export const servedWith = (text: string): Schemas['ServedWith'][] =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => {
      const [what, rest] = l.includes(':')
        ? [l.slice(0, l.indexOf(':')), l.slice(l.indexOf(':') + 1)]
        : [l, '']
      const named = rest
        .split(',')
        .map((a) => a.trim().toLowerCase())
        .filter(Boolean)
      return { what: what.trim(), allergens: named.filter((a) => a !== 'none'), checked: named.length > 0 }
    })

export const names = (text: string): string[] =>
  text
    .split(/[\n,;]/)
    .map((t) => t.trim())
    .filter(Boolean)
