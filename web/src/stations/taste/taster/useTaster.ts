/**
 * What a taster says: shown at once, kept on this phone, sent one after the other, and sent again when a dead
 * network is back. The server's page is taken over only when nothing waits any more.
 */
import { useEventListener, useIntervalFn, useLocalStorage, useTimeoutFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ApiProblem, words, type Schemas } from '../../../api/client'

export type Page = Schemas['TasterView']
export type Round = Schemas['TasterRound']
export type Sample = Schemas['TasterSample']
export type Telling = Schemas['TasterAnswer']
export type Said = NonNullable<Telling['said']>

const AGAIN_MS = 3000
const LOOK_MS = 8000

/** A page as it is once this has been said. */
export function told(page: Page, t: Partial<Telling>): Page {
  // A page is JSON, and what waits comes as proxies of Vue's, which no structured clone takes.
  const next = JSON.parse(JSON.stringify(page)) as Page
  const round = next.rounds.find((r) => r.position === (t.round ?? 0))
  const sample = round?.samples.find((s) => s.code === t.code)
  if (!round) return page
  if (!sample) {
    round.said = t.said ?? null
    round.refused = !!t.refused
    return next
  }
  if (typeof t.comment === 'string') sample.comment = t.comment
  else if (!t.attribute_id) sample.not_for_me = true
  else {
    const asked = t.attribute_id
    delete sample.answers[asked]
    sample.refused = sample.refused.filter((a) => a !== asked)
    if (t.refused) sample.refused.push(asked)
    else if (t.said) sample.answers[asked] = t.said
  }
  return next
}

/** Whether all that is asked of a sample was answered, or it is not for this person tonight. */
export const complete = (round: Round, s: Sample) =>
  s.not_for_me || round.attributes.every((a) => s.answers[a.id] !== undefined || s.refused.includes(a.id))

/** What of a round is still open: codes, or the round itself. */
export const gaps = (round: Round): string[] =>
  round.drawn === 'samples'
    ? round.samples.filter((s) => !complete(round, s)).map((s) => s.code)
    : round.said || round.refused
      ? []
      : [round.name || round.question]

/** Written before anything is sent: what was said outlives a phone that dies. Each tab keeps its own. */
const KEEPING = { flush: 'sync', writeDefaults: false, listenToStorageChanges: false } as const

interface Kept {
  page: Page | null
  waiting: Partial<Telling>[]
}

export function useTaster(token: string) {
  const path = { params: { path: { token } } }
  const place = `yeasty-taste-${token.slice(-32)}`
  const kept = useLocalStorage<Kept>(place, { page: null, waiting: [] }, KEEPING)
  const page = ref<Page | null>(kept.value.page)
  const waiting = ref<Partial<Telling>[]>([...kept.value.waiting])
  const away = ref(false)
  const problem = ref('')
  const keep = () => (kept.value = { page: page.value, waiting: [...waiting.value] })
  let sending = false
  const later = useTimeoutFn(() => void send(), AGAIN_MS, { immediate: false })

  function take(data: Page | undefined) {
    if (!data) return
    page.value = waiting.value.reduce<Page>((p, t) => told(p, t), data)
    keep()
  }
  function failed(error: unknown) {
    away.value = error instanceof ApiProblem && error.status === 0
    problem.value = away.value ? '' : words(error)
  }
  let going = Promise.resolve()
  /** Send what waits; whoever asks while it is on its way waits for the same. */
  function send(): Promise<void> {
    if (!sending) going = sendAll()
    return going
  }
  async function sendAll(): Promise<void> {
    sending = true
    later.stop()
    while (waiting.value.length) {
      try {
        const { data } = await api.POST('/api/v1/taste/{token}/answers', {
          ...path,
          body: waiting.value[0] as Telling,
        })
        waiting.value.shift()
        away.value = false
        problem.value = ''
        take(data)
      } catch (error) {
        failed(error)
        if (away.value) {
          later.start()
          break
        }
        // Refused for good: said, and the page as the server has it.
        waiting.value.shift()
        keep()
        await look()
      }
    }
    sending = false
  }
  let said = 0
  function tell(t: Partial<Telling>): Promise<void> {
    said++
    if (page.value) page.value = told(page.value, t)
    waiting.value.push(t)
    keep()
    return send()
  }
  async function ask(act: () => Promise<{ data?: Page }>): Promise<void> {
    try {
      take((await act()).data)
      away.value = false
      problem.value = ''
    } catch (error) {
      failed(error)
    }
  }
  async function look(): Promise<void> {
    const before = said
    try {
      const { data } = await api.GET('/api/v1/taste/{token}', path)
      // Something was said while it was on its way: what it shows is older than that.
      if (said === before) take(data)
      away.value = false
    } catch (error) {
      failed(error)
    }
  }
  void look().then(send)
  // Somebody may stop everyone at any moment, or open the codes.
  useIntervalFn(() => {
    if (!sending && !page.value?.closed) void look()
  }, LOOK_MS)
  useEventListener(window, 'online', () => void look().then(send))
  return {
    page,
    away,
    problem,
    unsent: computed(() => waiting.value.length),
    tell,
    allergens: (said: Record<string, 'yes' | 'no'>, own: string) =>
      ask(() => api.POST('/api/v1/taste/{token}/allergens-told', { ...path, body: { said, words: own } })),
    /** Done only once all that was said is there: whoever reads “done” puts the phone away. */
    finish: async (quote: boolean) => {
      await send()
      if (waiting.value.length) {
        problem.value =
          'Not all of it is sent yet. It is kept on this phone: try again when the network is back.'
        return
      }
      await ask(() => api.POST('/api/v1/taste/{token}/finish', { ...path, body: { may_quote: quote } }))
    },
  }
}
