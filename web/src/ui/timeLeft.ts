/** How far something is that takes more than a moment, by what the like of it took. */
export interface Left {
  /** Of the whole, up to nearly one; null where nothing is known. */
  share: number | null
  words: string
}
export function timeLeft(gone_ms: number, usual_s: number | null): Left {
  if (usual_s === null || usual_s <= 0) return { share: null, words: '' }
  const gone = Math.max(0, gone_ms / 1000)
  const left = usual_s - gone
  if (left < 0.5 && gone > usual_s * 1.3)
    return { share: null, words: `longer than usual, which is ${spoken(usual_s)}` }
  // What is usual is no promise: the bar never says that it is done.
  return {
    share: Math.min(0.97, gone / usual_s),
    words: left < 0.5 ? 'any moment' : `about ${spoken(left)} left`,
  }
}
function spoken(s: number): string {
  const whole = Math.max(1, Math.round(s))
  return whole < 90 ? `${whole} s` : `${Math.round(whole / 60)} min`
}
