/** The user's guide: the same text in docs/guide, at a station and on its own page. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api } from '../api/client'
import { queryKeys } from '../api/queries/keys'

const whole = () =>
  useQuery({
    queryKey: queryKeys.guide(),
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/guide')).data!,
  })
export function useGuide() {
  const { data } = whole()
  return { data: computed(() => data.value?.items) }
}
/** Words of the trade, each with what it means. */
export function useGlossary() {
  const { data } = whole()
  return computed(() => data.value?.words ?? {})
}
