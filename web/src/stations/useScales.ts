/** Ways to answer a question at the table, as the kitchen knows them. */
import { useQuery } from '@tanstack/vue-query'
import { api, type Schemas } from '../api/client'
import { queryKeys } from '../api/queries/keys'

export function useScales() {
  const { data: scales } = useQuery({
    queryKey: queryKeys.scales(),
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/answer-scales')).data!.items,
  })
  const scaleOf = (key: Schemas['Scale']) => scales.value?.find((s) => s.key === key)
  return { scales, scaleOf }
}
