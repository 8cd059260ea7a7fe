/** Devices at this bench and what they last read, asked for every few seconds where there are any. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, type Schemas } from '../../api/client'
import { effective, when, type FoldEntry } from '../../bench/fold'
import { queryKeys } from '../../api/queries/keys'

export type DeviceView = Schemas['DeviceView']
export interface Stay {
  device: string
  channel: string
  batch: string
  where: string
  since: number
  name: string
}

export function useDevices(shift: string, ended: Ref<boolean>) {
  return useQuery({
    queryKey: queryKeys.probes(shift),
    retry: false,
    queryFn: async () =>
      (await api.GET('/api/v1/shifts/{shift_id}/probes', { params: { path: { shift_id: shift } } })).data!,
    refetchInterval: (q) => (ended.value ? false : q.state.data?.devices.length ? 3000 : 30_000),
  })
}
/** Where each probe is now, from the entries that say so. */
export function staysOf(entries: FoldEntry[]): Stay[] {
  const open = new Map<string, Stay>()
  for (const e of effective(entries)
    .filter((x) => x.kind === 'probe')
    .sort((a, b) => when(a) - when(b))) {
    const p = e.payload as Record<string, string>
    const key = `${p.device}|${p.channel}`
    open.delete(key)
    if (p.where !== 'out')
      open.set(key, {
        device: p.device!,
        channel: p.channel!,
        batch: e.batch,
        where: p.where!,
        since: when(e),
        name: p.name ?? '',
      })
  }
  return [...open.values()]
}
/** What scales show, for taking a weight over. */
export function usePans(shift: string, wanted: boolean) {
  const query = useQuery({
    queryKey: queryKeys.pans(shift),
    enabled: wanted,
    retry: false,
    refetchInterval: 2000,
    queryFn: async () =>
      (
        await api.GET('/api/v1/shifts/{shift_id}/probes', { params: { path: { shift_id: shift } } })
      ).data!.devices.filter((d) => d.kind === 'scale'),
  })
  return computed(() =>
    (query.data.value ?? []).flatMap((d) =>
      d.channels.filter((c) => c.value !== null).map((c) => ({ name: d.name, kg: c.value as number })),
    ),
  )
}
