/**
 * Keys of the bench: each act has one, of one's own choosing, kept on this device and shown on its control.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'

export interface Act {
  key: string
  words: string
  group: string
}
/** Every act of the bench with the key it starts with. */
export const ACTS: Record<string, Act> = {
  done: { key: ' ', words: 'Done, started or reached: what the card asks for', group: 'Card' },
  later: { key: 'l', words: 'Later: ask again in a minute', group: 'Card' },
  not_yet: { key: 'y', words: 'Not yet: look again', group: 'Card' },
  undo: { key: 'u', words: 'Take back the last thing logged here', group: 'Card' },
  say: { key: 'v', words: 'Say the card aloud', group: 'Card' },
  in: { key: 'i', words: 'In', group: 'Facts' },
  turned: { key: 'r', words: 'Turned', group: 'Facts' },
  out: { key: 'o', words: 'Out', group: 'Facts' },
  plus: { key: '+', words: 'A minute more', group: 'Facts' },
  temperature: { key: 't', words: 'Temperature', group: 'Facts' },
  weight: { key: 'w', words: 'Weight', group: 'Facts' },
  size: { key: 'z', words: 'Size: length, width, thickness, diameter', group: 'Facts' },
  tally: { key: ',', words: 'Count pieces: so many of so many', group: 'Facts' },
  cue: { key: 'c', words: 'Cue', group: 'Facts' },
  photo: { key: 'p', words: 'Photo', group: 'Facts' },
  note: { key: 'n', words: 'Note', group: 'Facts' },
  looked: { key: 'k', words: 'Looked in: water, lid, fire', group: 'Facts' },
  extended: { key: 'x', words: 'Extend by minutes', group: 'Facts' },
  energy: { key: 'g', words: 'Meter', group: 'Facts' },
  effort: { key: 'e', words: 'Effort and nuisance', group: 'Facts' },
  wash_item: { key: 'a', words: 'Wash up, timed', group: 'Facts' },
  handling_error: { key: 'h', words: 'Spoiled: handling error or void', group: 'Facts' },
  rescue: { key: 's', words: 'Rescue: a finish, judged as a sample of its own', group: 'Facts' },
  timer: { key: 'm', words: 'A timer of your own', group: 'Bench' },
  log: { key: 'b', words: 'The log of this shift', group: 'Bench' },
  photos: { key: 'f', words: 'Photos side by side', group: 'Bench' },
  follow: { key: '0', words: 'Log for whatever the card asks', group: 'Bench' },
  big: { key: 'j', words: 'The card large, for two metres', group: 'Bench' },
  dark: { key: 'd', words: 'Dark kitchen, bright kitchen', group: 'Bench' },
  keys: { key: '?', words: 'This list', group: 'Bench' },
}
const KEPT = 'yeasty-keys'
// 1 to 9 choose a batch and are not to be had.
const taken = /^[1-9]$/

/** What cannot be read is as if nothing had been chosen. */
const own = useLocalStorage<Record<string, string>>(
  KEPT,
  {},
  { onError: () => undefined, writeDefaults: false },
)
const keyOf = (act: string) => own.value[act] ?? ACTS[act]!.key
export const shown = (key: string) => (key === ' ' ? 'space' : key.length === 1 ? key.toUpperCase() : key)

export function useKeys() {
  // What somebody chose stands before what a key is shipped as: an act that is new takes nobody's key.
  const acts = computed(() => {
    const chosen = (a: string) => (own.value[a] ? 1 : 0)
    const order = Object.keys(ACTS).sort((a, b) => chosen(a) - chosen(b))
    return new Map(order.map((a) => [keyOf(a), a] as const))
  })
  /** What a press asks for; undefined where the key means nothing. */
  const actOf = (e: KeyboardEvent) => acts.value.get(e.key.length === 1 ? e.key.toLowerCase() : e.key)
  /** Give an act another key; why not, where that cannot be. */
  function choose(act: string, key: string): string {
    const k = key.length === 1 ? key.toLowerCase() : key
    if (taken.test(k)) return `${k} chooses a batch.`
    if (['Escape', 'Tab', 'Enter', 'Shift', 'Control', 'Alt', 'Meta'].includes(k))
      return `${k} is needed to move about.`
    const other = acts.value.get(k)
    if (other && other !== act) return `${shown(k)} is “${ACTS[other]!.words}”. Give that another key first.`
    own.value = { ...own.value, [act]: k }
    return ''
  }
  function asShipped(): void {
    own.value = {}
  }
  return { keyOf, actOf, choose, asShipped, label: (act: string) => shown(keyOf(act)) }
}
