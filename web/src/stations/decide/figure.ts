/**
 * A figure as the server writes it, so that two screens and the page never tell one mean as two: what lies
 * exactly between two steps goes to the even one. The browser alone would write 5.25 as 5.3 beside the
 * page's 5.2.
 */
export function figure(v: number, digits = 1): string {
  const plain = v.toFixed(digits)
  const rest = Math.abs(v)
    .toFixed(digits + 24)
    .slice(-24)
  if (!/^50*$/.test(rest)) return plain
  const step = 10 ** digits
  const below = Math.floor(Math.abs(v) * step)
  return ((Math.sign(v) * (below + (below % 2))) / step).toFixed(digits)
}
