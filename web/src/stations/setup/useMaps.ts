/** The maps of a trial: which is shown, its pieces as the hand moves them, and each change that is kept. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

export type MapBody = Schemas['MapIn']

export function useMaps(trial: Trial) {
  const client = useQueryClient()
  const key = queryKeys.maps(trial.id)
  const path = { params: { path: { trial_id: trial.id } } }
  const { data } = useQuery({
    queryKey: key,
    queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/maps', path)).data!.items,
  })
  const problem = ref('')
  const chosen = ref('')
  const map = computed(() => data.value?.find((m) => m.id === chosen.value) ?? data.value?.[0] ?? null)
  const places = ref<Schemas['PlaceView'][]>([])
  watch(
    map,
    (m) => {
      places.value = m?.places.map((p) => ({ ...p })) ?? []
    },
    { immediate: true },
  )
  async function run(act: () => Promise<{ data?: Schemas['MapList'] } | unknown>) {
    try {
      const done = (await act()) as { data?: Schemas['MapList'] }
      if (done.data?.items) client.setQueryData(key, done.data.items)
      else await client.invalidateQueries({ queryKey: key })
      problem.value = ''
      return done.data?.items ?? []
    } catch (error) {
      problem.value = words(error)
      return null
    }
  }
  const one = () => ({ params: { path: { trial_id: trial.id, map_id: map.value!.id } } })
  /** The map as it lies now, with other spots where they are given. */
  function keep(spots = map.value!.spots) {
    const m = map.value!
    return run(() =>
      api.PUT('/api/v1/trials/{trial_id}/maps/{map_id}', {
        ...one(),
        headers: { 'If-Match': m.version ?? '' },
        body: {
          name: m.name,
          kind: m.kind as MapBody['kind'],
          round: m.round,
          width_m: m.width_m,
          depth_m: m.depth_m,
          piece_m: m.piece_m,
          spacing_m: m.spacing_m,
          places: places.value.map(({ x_m, y_m, tag, piece }) => ({ x_m, y_m, tag, piece })),
          spots,
        },
      }),
    )
  }
  async function make(body: MapBody, handOver: boolean) {
    const from = map.value?.id ?? ''
    const done = await run(() =>
      handOver
        ? api.POST('/api/v1/trials/{trial_id}/maps/{map_id}/hand-overs', {
            params: { path: { trial_id: trial.id, map_id: from } },
            body,
          })
        : api.POST('/api/v1/trials/{trial_id}/maps', { ...path, body }),
    )
    if (done) chosen.value = done.at(-1)?.id ?? ''
    return !!done
  }
  const deal = (body: Schemas['PlaceDealIn']) =>
    run(() => api.POST('/api/v1/trials/{trial_id}/maps/{map_id}/dealings', { ...one(), body }))
  const test = (body: Schemas['HeatTestIn']) =>
    run(() => api.POST('/api/v1/trials/{trial_id}/maps/{map_id}/heat-tests', { ...one(), body }))
  const remove = () => run(() => api.DELETE('/api/v1/trials/{trial_id}/maps/{map_id}', one()))
  return { maps: data, map, places, chosen, problem, keep, make, deal, test, remove }
}
