/**
 * Cue chips of this bench: the kitchen's own first. The last known ones are kept for the time without
 * network.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { api, type Schemas } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

type Chip = Schemas['ChipView']
const kept = useLocalStorage<Chip[]>('yeasty-chips', [], { writeDefaults: false })

export function useChips(shift: string) {
  const client = useQueryClient()
  const path = { params: { path: { shift_id: shift } } }
  const query = useQuery({
    queryKey: queryKeys.cueChips(shift),
    staleTime: 300_000,
    retry: false,
    queryFn: async () => {
      const items = (await api.GET('/api/v1/shifts/{shift_id}/cue-chips', path)).data!.items
      kept.value = items
      return items
    },
  })
  const chips = computed<Chip[]>(() => query.data.value ?? kept.value)
  async function keep(technique: string, face: string, text: string): Promise<void> {
    await api.POST('/api/v1/cue-chips', { body: { technique, face, text: text.trim() } })
    await client.invalidateQueries({ queryKey: queryKeys.cueChips(shift) })
  }
  return { chips, keep }
}
/** Those of a technique and a face, nearest first. */
export function chipsFor(chips: Chip[], technique: string, face: string): Chip[] {
  const fits = chips.filter(
    (c) => (!c.technique || c.technique === technique) && (!face || !c.face || c.face === face),
  )
  return [...fits.filter((c) => c.technique === technique), ...fits.filter((c) => c.technique !== technique)]
}
