/** A chance as a cook says it; "" where there is none. */
export const oftenSaid = (p: number | undefined): string =>
  p === undefined ? '' : p < 0.05 ? 'hardly' : `about ${Math.min(9, Math.round(10 * p))} in 10`
