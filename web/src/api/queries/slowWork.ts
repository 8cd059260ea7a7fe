/** Slow work: how long it usually takes, and stopping it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { newId } from '../../bench/outbox'
import { api, ApiProblem, type Schemas } from '../client'
import { queryKeys } from './keys'

type Kind = Schemas['WorkKind']

/** How long work usually takes [s], and since when it goes on or, while it waits, is waited for [ms]. */
export function useHowLong(kind: Kind, subject?: MaybeRefOrGetter<string | undefined>) {
  const asked = Date.now()
  const about = computed(() => toValue(subject) ?? '')
  const { data } = useQuery({
    queryKey: queryKeys.slowWork(kind, about),
    staleTime: 0,
    queryFn: async () =>
      (await api.GET('/api/v1/slow-work', { params: { query: { kind, subject: about.value || null } } }))
        .data!,
  })
  return {
    usual: computed(() => data.value?.usual_s ?? null),
    since: computed(() => (data.value?.began_at ? data.value.began_at * 1000 : asked)),
  }
}
/** Whether it was stopped; false where it had come to its end before. */
async function stopped(body: Schemas['StopIn']): Promise<boolean> {
  try {
    await api.POST('/api/v1/slow-work/stops', { body })
    return true
  } catch (error) {
    if (error instanceof ApiProblem && error.status === 409) return false
    throw error
  }
}
export const stopWork = (kind: Kind, subject: string) => stopped({ kind, subject, work: null })
export const doAgain = (kind: Kind, subject: string) =>
  api.POST('/api/v1/slow-work/again', { body: { kind, subject } })

/** One request that takes its time: since when it goes on, and stopping it by the id that it carries. */
export function useSlowRequest(kind: Kind) {
  const since = ref<number | null>(null)
  let id = ''
  async function run<T>(act: (headers: Record<string, string>) => Promise<T>): Promise<T> {
    id = newId()
    since.value = Date.now()
    try {
      return await act({ 'Work-Id': id })
    } finally {
      since.value = null
    }
  }
  // The answer tells what became of it: stopped, or done already.
  const stop = () => stopped({ kind, subject: null, work: id })
  return { since, run, stop }
}
