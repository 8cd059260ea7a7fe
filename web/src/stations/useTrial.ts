/** A trial's design, and edits that carry its version. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { api, ApiProblem, ifMatch, words as say, type Trial } from '../api/client'
import { useSession } from '../session'
import { queryKeys } from '../api/queries/keys'

/** Runs an edit with the trial's version; true where it went through. */
export type Edit = (
  act: (t: Trial, headers: Record<string, string>) => Promise<{ data?: Trial }>,
) => Promise<boolean>

export function useStations(id: Ref<string>) {
  const session = useSession()
  return useQuery({
    queryKey: queryKeys.stations(id),
    enabled: computed(() => !!id.value && !!session.me),
    queryFn: async () =>
      (await api.GET('/api/v1/trials/{trial_id}/stations', { params: { path: { trial_id: id.value } } }))
        .data ?? null,
    refetchInterval: 20_000,
  })
}

export function useTrial(id: string) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: queryKeys.trial(id),
    queryFn: async () =>
      (await api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: id } } })).data ?? null,
  })
  const problem = ref('')
  const busy = ref(false)

  /** Run an edit with the current version; on success the new design is taken over, on failure it is told. */
  async function edit(
    act: (trial: Trial, headers: Record<string, string>) => Promise<{ data?: Trial }>,
  ): Promise<boolean> {
    const trial = query.data.value
    if (!trial) return false
    busy.value = true
    try {
      const { data } = await act(trial, ifMatch(trial.version))
      if (data) client.setQueryData(queryKeys.trial(id), data)
      problem.value = ''
      void client.invalidateQueries({ queryKey: queryKeys.stations(id) })
      void client.invalidateQueries({ queryKey: queryKeys.fairness(id) })
      return true
    } catch (error) {
      problem.value = say(error)
      if (error instanceof ApiProblem && error.status === 412)
        void client.invalidateQueries({ queryKey: queryKeys.trial(id) })
      return false
    } finally {
      busy.value = false
    }
  }
  return { trial: query.data, loading: query.isLoading, failed: query.error, problem, busy, edit }
}
