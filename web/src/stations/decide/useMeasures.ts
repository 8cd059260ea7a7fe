/** What the log tells of a batch, as limits, ties and claims are made of it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

export function useMeasures() {
  const { data } = useQuery({
    queryKey: queryKeys.measures(),
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/measures')).data!.items,
  })
  return computed(() => data.value ?? [])
}
