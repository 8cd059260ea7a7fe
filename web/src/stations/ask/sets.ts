/**
 * What a level sets, as a cook writes it, and back: "cooks 10 min, set to 180 °C, rests 5 min, 600 W". Units
 * only.
 */
import { minutes, temperature } from '../../bench/units'
import { useSession } from '../../session'

const us = () => useSession().us

export function saySets(sets: Record<string, number>): string {
  const said: string[] = []
  if (sets.cook_s !== undefined) said.push(`cooks ${minutes(sets.cook_s)}`)
  if (sets.set_point_c !== undefined) said.push(`set to ${temperature(sets.set_point_c)}`)
  if (sets.power_w !== undefined) said.push(`${sets.power_w} W`)
  if (sets.rest_s !== undefined) said.push(`rests ${minutes(sets.rest_s)}`)
  return said.join(', ')
}

function seconds(text: string): number | null {
  let total = 0
  let found = false
  for (const m of text.matchAll(/(\d+(?:[.,]\d+)?)\s*(h|min|m|s)\b/g)) {
    total += Number(m[1]!.replace(',', '.')) * (m[2] === 'h' ? 3600 : m[2] === 's' ? 1 : 60)
    found = true
  }
  return found ? total : null
}

export function readSets(text: string): Record<string, number> {
  const sets: Record<string, number> = {}
  for (const part of text.toLowerCase().split(/[,;]/)) {
    const length = seconds(part)
    const degrees = part.match(/(-?\d+(?:[.,]\d+)?)\s*°?\s*(c|f)\b/)
    const watts = part.match(/(\d+)\s*w\b/)
    if (degrees) {
      const v = Number(degrees[1]!.replace(',', '.'))
      sets.set_point_c =
        degrees[2] === 'f' || (us() && degrees[2] !== 'c') ? Math.round(((v - 32) / 1.8) * 10) / 10 : v
    } else if (watts) sets.power_w = Number(watts[1])
    else if (length !== null && /rest|stand|wait/.test(part)) sets.rest_s = length
    else if (length !== null) sets.cook_s = length
  }
  return sets
}
