/** The rehearsal of a shift on simulated time: how it goes, what it showed, and its buttons. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, words, type Schemas } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

export interface Wish {
  hands: boolean
  mishaps: Schemas['Mishap'][]
}

export function useRehearsal(shift: string) {
  const client = useQueryClient()
  const path = { params: { path: { shift_id: shift } } }
  const queryKey = queryKeys.rehearsal(shift)
  const problem = ref('')
  const goesOn = (state?: Schemas['RehearsalState'] | null) => state === 'waiting' || state === 'running'
  const { data: rehearsal } = useQuery({
    queryKey,
    // Until there is a plan, nobody knows what can go wrong; what it shows changes with each tap. Without
    // stand-ins at work nothing is asked for.
    refetchInterval: (q) =>
      !q.state.data?.possible.length ? 2000 : goesOn(q.state.data.state) ? 4000 : false,
    queryFn: async () => (await api.GET('/api/v1/shifts/{shift_id}/rehearsal', path)).data!,
  })
  async function tell(act: () => Promise<{ data?: Schemas['RehearsalView'] }>): Promise<boolean> {
    try {
      const { data } = await act()
      if (data) client.setQueryData(queryKey, data)
      problem.value = ''
      return true
    } catch (error) {
      problem.value = words(error)
      return false
    }
  }
  return {
    rehearsal,
    problem,
    going: computed(() => goesOn(rehearsal.value?.state)),
    start: (wish: Wish) =>
      tell(() => api.PUT('/api/v1/shifts/{shift_id}/rehearsal', { ...path, body: wish })),
    end: () => tell(() => api.POST('/api/v1/shifts/{shift_id}/rehearsal/end', path)),
    look: () => client.invalidateQueries({ queryKey }),
  }
}
