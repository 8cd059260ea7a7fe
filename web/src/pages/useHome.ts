/** What goes on now and what waits for whom, above the list of trials. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api } from '../api/client'
import { queryKeys } from '../api/queries/keys'

export function useHome() {
  const { data, isFetched, fetchStatus } = useQuery({
    queryKey: queryKeys.home(),
    // A minute is the finest that the sentence says.
    refetchInterval: 20_000,
    queryFn: async () => (await api.GET('/api/v1/home')).data!,
  })
  /** Whether it has come, or will not for now: what stands below it stays where it is from then on. */
  const settled = computed(() => isFetched.value || fetchStatus.value === 'paused')
  return { home: data, settled }
}
