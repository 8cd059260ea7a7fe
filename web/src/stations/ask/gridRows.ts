/** A grid as it is being laid out: what is varied, its levels, and the cells that are struck out. */
import type { Schemas, Trial } from '../../api/client'
import { readSets, saySets } from './sets'

export interface LevelRow {
  name: string
  technique: string
  sets: string
  ingredient: string
  /** What is stored, for as long as nobody types. */
  kept: Record<string, number>
}
export interface FactorRow {
  name: string
  levels: LevelRow[]
}
export interface Barred {
  cell: number[]
  why: string
}
type Kept = {
  base_technique?: string
  factors?: {
    name: string
    levels: { name: string; technique?: string; sets?: Record<string, number>; ingredient?: string }[]
  }[]
  barred?: Barred[]
  pieces_a_cell?: number
  replicates?: number
  pieces_at_hand?: number | null
  cookings_a_shift?: number | null
}
const keptOf = (trial: Trial) => trial.layout as Kept
export const newLevel = (): LevelRow => ({ name: '', technique: '', sets: '', ingredient: '', kept: {} })
export const newFactor = (): FactorRow => ({ name: '', levels: [newLevel(), newLevel()] })
export const factorsOf = (trial: Trial): FactorRow[] =>
  keptOf(trial).factors?.map((f) => ({
    name: f.name,
    levels: f.levels.map((v) => ({
      name: v.name,
      technique: v.technique ?? '',
      sets: saySets(v.sets ?? {}),
      kept: v.sets ?? {},
      ingredient: v.ingredient ?? '',
    })),
  })) ?? [newFactor(), newFactor()]
export const barredOf = (trial: Trial): Barred[] => keptOf(trial).barred?.map((b) => ({ ...b })) ?? []
export function numbersOf(trial: Trial) {
  const kept = keptOf(trial)
  return {
    base_technique: kept.base_technique ?? '',
    pieces_a_cell: kept.pieces_a_cell ?? trial.methods[0]?.pieces_per_batch ?? 6,
    replicates: kept.replicates ?? 1,
    pieces_at_hand: kept.pieces_at_hand ?? (undefined as number | undefined),
    cookings_a_shift: kept.cookings_a_shift ?? (undefined as number | undefined),
  }
}
const setsOf = (v: LevelRow) => (v.sets === saySets(v.kept) ? v.kept : readSets(v.sets))
/** The grid as it is sent. */
export const gridOf = (
  factors: FactorRow[],
  barred: Barred[],
  numbers: ReturnType<typeof numbersOf>,
): Schemas['GridIn'] => ({
  ...numbers,
  pieces_at_hand: numbers.pieces_at_hand ?? null,
  cookings_a_shift: numbers.cookings_a_shift ?? null,
  barred,
  factors: factors.map((f) => ({
    name: f.name,
    levels: f.levels.map((v) => ({
      name: v.name,
      technique: v.technique,
      sets: setsOf(v),
      ingredient: v.ingredient,
    })),
  })),
})
export const isNamed = (factors: FactorRow[]) =>
  factors.every((f) => f.name.trim() && f.levels.length > 1 && f.levels.every((v) => v.name.trim()))
