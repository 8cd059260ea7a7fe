/** Keys of the bench: a press does its act, unless somebody types or something is open over it. */
import { useEventListener } from '@vueuse/core'
import { useKeys } from './useKeys'

const TYPING = 'input, textarea, select, [role=dialog], .el-select, .el-overlay'

/**
 * `acts`: what each does; `other`: an act without one of these, by its name; `pick`: a batch by its number
 * from 1; `busy`: whether something is open.
 */
export function useBenchKeys(
  acts: Record<string, () => void>,
  other: (act: string) => void,
  pick: (number: number) => void,
  busy: () => boolean,
) {
  const keys = useKeys()
  function pressed(e: KeyboardEvent) {
    const on = e.target as HTMLElement | null
    if (on?.closest(TYPING) || e.ctrlKey || e.metaKey || e.altKey || busy()) return
    if (e.key === ' ' && on?.tagName === 'BUTTON') return
    const act = keys.actOf(e)
    if (/^[1-9]$/.test(e.key)) pick(Number(e.key))
    else if (!act) return
    else if (acts[act]) acts[act]()
    else other(act)
    e.preventDefault()
  }
  useEventListener(window, 'keydown', pressed)
  return keys
}
