/** How a step looks wherever it is drawn on a clock: by what it needs, and by what happens in it. */

export function stepLook(step: { attention: string; phase: string }): string {
  if (step.attention === 'hands') return 'hand'
  if (step.phase === 'cook') return 'cook'
  if (step.phase === 'wait') return 'rest'
  return step.attention === 'watched' ? 'hatch watched' : 'hatch'
}
