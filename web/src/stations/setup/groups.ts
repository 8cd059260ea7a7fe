/** Values of a difference with those who have them, the commonest first. */
export function groupsOf(values: Record<string, string>): { value: string; tags: string[] }[] {
  const found = new Map<string, string[]>()
  for (const [tag, value] of Object.entries(values)) found.set(value, [...(found.get(value) ?? []), tag])
  return [...found].map(([value, tags]) => ({ value, tags })).sort((a, b) => b.tags.length - a.tags.length)
}
