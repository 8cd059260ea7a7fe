/** What the log tells of a batch, as limits, ties and claims are made of it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api } from '../../api/client'

export function useMeasures() {
  const { data } = useQuery({
    queryKey: ['measures'],
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/measures')).data!.items,
  })
  return computed(() => data.value ?? [])
}
