/** What the list of trials is narrowed to, kept in the address. */
import { computed } from 'vue'
import { useRoute, useRouter, type LocationQuery } from 'vue-router'
import type { Schemas } from '../api/client'

export interface Filters {
  state: Schemas['TrialState'] | ''
  kind: Schemas['TrialKind'] | ''
  technique: string
  person: string
}
export const NOTHING: Filters = { state: '', kind: '', technique: '', person: '' }
type Asked = { [K in keyof Filters]?: Exclude<Filters[K], ''> }
const NAMES = Object.keys(NOTHING) as (keyof Filters)[]

/** As an address says it; what is not there matters not. */
export function read(query: LocationQuery): Filters {
  const said = (name: string) => (typeof query[name] === 'string' ? query[name] : '')
  return Object.fromEntries(NAMES.map((n) => [n, said(n)])) as unknown as Filters
}

export function useTrialFilters() {
  const route = useRoute()
  const router = useRouter()
  const filters = computed({
    get: () => read(route.query),
    set: (wanted) => {
      const rest = Object.fromEntries(Object.entries(route.query).filter(([k]) => !(k in NOTHING)))
      const said = Object.fromEntries(Object.entries(wanted).filter(([, v]) => v))
      void router.replace({ query: { ...rest, ...said } })
    },
  })
  /** As the list is asked: what does not matter is left out. */
  const asked = computed(
    () => Object.fromEntries(NAMES.map((n) => [n, filters.value[n] || undefined])) as Asked,
  )
  return { filters, asked }
}
