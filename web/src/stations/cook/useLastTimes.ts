/** How each way went the last time it was cooked, by its method. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

export function useLastTimes(shift: string) {
  const { data } = useQuery({
    queryKey: queryKeys.lastTimes(shift),
    staleTime: Infinity,
    retry: false,
    queryFn: async () =>
      (await api.GET('/api/v1/shifts/{shift_id}/last-times', { params: { path: { shift_id: shift } } })).data!
        .items,
  })
  return computed(() => new Map((data.value ?? []).map((l) => [l.method, l] as const)))
}
