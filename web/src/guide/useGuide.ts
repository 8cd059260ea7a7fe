/** The user's guide: the same text in docs/guide, at a station and on its own page. */
import { useQuery } from '@tanstack/vue-query'
import { api } from '../api/client'
import { queryKeys } from '../api/queries/keys'

export const useGuide = () =>
  useQuery({
    queryKey: queryKeys.guide(),
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/guide')).data!.items,
  })
