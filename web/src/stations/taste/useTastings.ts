/** The tastings of a trial: asked for once, and again when the server says that something has changed. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { onScopeDispose, ref } from 'vue'
import { api, words } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

/** Changes that come together are asked for together. */
const SETTLE_MS = 300

export function useTastings(id: string) {
  const client = useQueryClient()
  const { data } = useQuery({
    queryKey: queryKeys.tastings(id),
    queryFn: async () =>
      (await api.GET('/api/v1/trials/{trial_id}/tastings', { params: { path: { trial_id: id } } })).data!,
    // Who comes back from tasting alone has just changed it, with nobody here to hear so.
    refetchOnMount: 'always',
  })
  const { data: trial } = useQuery({
    queryKey: queryKeys.trial(id),
    queryFn: async () =>
      (await api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: id } } })).data ?? null,
  })
  const again = () => {
    void client.invalidateQueries({ queryKey: queryKeys.tastings(id) })
    void client.invalidateQueries({ queryKey: queryKeys.found() })
    void client.invalidateQueries({ queryKey: queryKeys.stations(id) })
  }
  const source = new EventSource(`/api/v1/trials/${id}/stream`)
  useEventListener(source, 'changed', useDebounceFn(again, SETTLE_MS))
  onScopeDispose(() => source.close())
  const problem = ref('')
  /** Do something, tell what was wrong with it, show what came of it. */
  async function run(act: () => Promise<unknown>): Promise<boolean> {
    try {
      await act()
      problem.value = ''
      again()
      return true
    } catch (error) {
      problem.value = words(error)
      return false
    }
  }
  return { data, trial, run, problem }
}
