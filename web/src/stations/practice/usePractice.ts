/** A practice trial: what there is to do at each station, and what stand-ins do at a touch. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'
import { useStations } from '../useTrial'

export type Practice = Schemas['PracticeView']

/** Begins one, and opens it at its first station. */
export function useBegin() {
  const router = useRouter()
  const problem = ref('')
  async function begin() {
    try {
      const { data } = await api.POST('/api/v1/practice')
      if (data) await router.push(`/trials/${data.id}/ask`)
    } catch (error) {
      problem.value = words(error)
    }
  }
  return { begin, problem }
}

export function usePractice(trial: Ref<string>) {
  const client = useQueryClient()
  const router = useRouter()
  const { data: stations } = useStations(trial)
  const isOne = computed(() => !!trial.value && !!stations.value?.simulated)
  const problem = ref('')
  const busy = ref(false)
  const at = () => ({ params: { path: { trial_id: trial.value } } })
  const { data: practice } = useQuery({
    queryKey: queryKeys.practice(trial),
    enabled: isOne,
    // Most of what it waits for is done by stand-ins, at other screens than this.
    refetchInterval: 3000,
    queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/practice', at())).data!,
  })
  async function tell(act: () => Promise<void>) {
    busy.value = true
    try {
      await act()
      problem.value = ''
    } catch (error) {
      problem.value = words(error)
    } finally {
      busy.value = false
    }
  }
  const doIt = (act: Schemas['PracticeAct']) =>
    tell(async () => {
      const { data } = await api.POST('/api/v1/trials/{trial_id}/practice', { ...at(), body: { act } })
      if (!data) return
      client.setQueryData(queryKeys.practice(trial.value), data)
      await client.invalidateQueries({ queryKey: queryKeys.stations(trial.value) })
      await client.invalidateQueries({ queryKey: queryKeys.tastings(trial.value) })
      if (act === 'cook') await router.push(`/trials/${trial.value}/cook/${data.shift_id}`)
    })
  /** The practice out of sight, and a question of one's own. */
  const ownQuestion = () =>
    tell(async () => {
      await api.PUT('/api/v1/trials/{trial_id}/put-away', { ...at(), body: { away: true } })
      await client.invalidateQueries({ queryKey: queryKeys.trials() })
      await router.push('/?new=1')
    })
  return { isOne, practice, problem, busy, doIt, ownQuestion }
}
