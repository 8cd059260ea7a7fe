/**
 * A new trial as its dialog gathers it. What its words propose is taken as long as nobody chose otherwise,
 * and shown with its reason.
 */
import { watchDebounced } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { queryKeys } from '../api/queries/keys'
import type { Quantity } from '../bench/units'

type Judged = Schemas['JudgedProposal']

export function useNewTrial() {
  const form = reactive({
    question: '',
    dish: '',
    title: '',
    kind: 'side_by_side' as Schemas['TrialKind'],
    food_class: '',
    techniques: [] as string[],
    pieces: null as number | null,
    piece: null as Quantity,
    core: null as Quantity,
    ingredients: '',
  })
  const { data: safety } = useQuery({
    queryKey: queryKeys.safety(),
    queryFn: async () => (await api.GET('/api/v1/safety')).data!,
  })
  const { data: kinds } = useQuery({
    queryKey: queryKeys.kinds(),
    staleTime: Infinity,
    queryFn: async () => (await api.GET('/api/v1/kinds-of-trial')).data!.items,
  })
  const { data: techniques } = useQuery({
    queryKey: queryKeys.techniques(),
    queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
  })
  const { data: appliances } = useQuery({
    queryKey: queryKeys.appliances(),
    queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
  })
  const kind = computed(() => kinds.value?.find((k) => k.kind === form.kind))
  /** What this kitchen can do at once, and what it lacks the appliance for. */
  const offered = computed(() => {
    const here = new Set(appliances.value?.map((a) => a.kind))
    const known = techniques.value?.filter((t) => !t.hidden) ?? []
    const has = (t: Schemas['TechniqueView']) => !t.appliance_kind || here.has(t.appliance_kind)
    return { here: known.filter(has), others: known.filter((t) => !has(t)) }
  })

  const proposed = ref<Schemas['ProposalView'] | null>(null)
  const chosen = reactive({ food: false })
  /** Names that were struck out; the rest of what is proposed is judged. */
  const struck = ref<string[]>([])
  watchDebounced(
    () => [form.dish, form.question, form.techniques.join()],
    async () => {
      if (!form.dish.trim()) return
      try {
        const { data } = await api.POST('/api/v1/trial-proposals', {
          body: { dish: form.dish, question: form.question, techniques: form.techniques },
        })
        proposed.value = data ?? null
      } catch {
        // A proposal is a convenience: without one, all of it is chosen by hand.
        proposed.value = null
      }
    },
    { debounce: 300 },
  )
  watch(
    () => proposed.value?.food.food_class,
    (food) => {
      if (!chosen.food && food !== undefined) form.food_class = food
    },
  )
  const why = computed(() =>
    form.food_class && form.food_class === proposed.value?.food.food_class ? proposed.value.food.why : '',
  )
  /** Ways that are screened get a word each; nobody scores them. */
  const judgeable = computed(() => (form.kind === 'screening' ? [] : (proposed.value?.judged ?? [])))
  const judged = computed(() => judgeable.value.filter((j) => !struck.value.includes(j.name)))
  const strike = (name: string) =>
    (struck.value = struck.value.includes(name)
      ? struck.value.filter((n) => n !== name)
      : [...struck.value, name])
  const take = (technique: string) =>
    (form.techniques = form.techniques.includes(technique)
      ? form.techniques.filter((t) => t !== technique)
      : [...form.techniques, technique])
  const question = (j: Judged): Schemas['AttributeIn'] => ({
    name: j.name,
    scale: 'intensity',
    weight: j.weight,
    low_words: j.low_words,
    high_words: j.high_words,
    high_is_better: true,
  })

  const problem = ref('')
  /** The new trial's id; null where it was refused, with what is wrong in `problem`. */
  async function make(): Promise<string | null> {
    const { piece, core, techniques: ways, ...rest } = form
    try {
      const { data } = await api.POST('/api/v1/trials', {
        body: {
          ...rest,
          techniques: kind.value?.laid_out ? [] : ways,
          ingredients: kind.value?.laid_out || !ways.length ? '' : rest.ingredients,
          piece_kg: piece,
          core_c: core,
          judged: judged.value.map(question),
        },
      })
      return data?.id ?? null
    } catch (error) {
      problem.value = words(error)
      return null
    }
  }
  return {
    form,
    kinds,
    kind,
    safety,
    offered,
    proposed,
    chosen,
    judgeable,
    judged,
    why,
    problem,
    strike,
    take,
    make,
  }
}
