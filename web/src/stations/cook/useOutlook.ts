/** What lies ahead of a shift, asked for now and then and whenever a reading or a step comes in. */
import { useQuery } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import { api, type Schemas } from '../../api/client'
import type { FoldEntry } from '../../bench/fold'
import { queryKeys } from '../../api/queries/keys'

export type BatchOutlook = Schemas['BatchOutlook']

export function useOutlook(shift: string, standing: Ref<FoldEntry[]>, ended: Ref<boolean>) {
  const query = useQuery({
    queryKey: queryKeys.outlook(shift),
    queryFn: async () =>
      (await api.GET('/api/v1/shifts/{shift_id}/outlook', { params: { path: { shift_id: shift } } })).data!,
    refetchInterval: () => (ended.value ? false : 20_000),
    retry: false,
  })
  const saved = computed(
    () => standing.value.filter((e) => !['note', 'photo', 'cue'].includes(e.kind)).length,
  )
  // The tap is sent first; a moment later the server knows it.
  watchDebounced(saved, () => void query.refetch(), { debounce: 1200 })
  const byBatch = computed(() => new Map((query.data.value?.batches ?? []).map((b) => [b.batch, b] as const)))
  return { outlook: query.data, byBatch }
}
