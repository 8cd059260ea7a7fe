<script setup lang="ts">
/** A kitchen with nothing in it yet: what it cooks with, and the first question. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, words } from '../api/client'
import { queryKeys } from '../api/queries/keys'
import { sideWord } from '../bench/dates'
import { useBegin } from '../stations/practice/usePractice'
import Toggles from '../ui/Toggles.vue'

const { begin: practise, problem: practiceProblem } = useBegin()
const emit = defineEmits<{ begin: [] }>()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: queryKeys.appliancesWords(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!,
})
const here = computed(() => data.value?.items ?? [])
/** What a kitchen cooks with by another name than the program's. */
const OTHER: Record<string, string> = {
  hob: sideWord('hob', 'stovetop'),
  grill: sideWord('grill', 'broiler'),
}
const said = (kind: string) => {
  const name = OTHER[kind] ?? kind.replaceAll('_', ' ')
  return name.slice(0, 1).toUpperCase() + name.slice(1)
}
const kinds = computed(() => data.value?.kinds.map((k) => [k, said(k)] as const) ?? [])
const chosen = ref<string[]>([])
const toggle = (kind: string) =>
  (chosen.value = chosen.value.includes(kind)
    ? chosen.value.filter((k) => k !== kind)
    : [...chosen.value, kind])
const problem = ref('')
const busy = ref(false)
async function keep() {
  busy.value = true
  try {
    for (const kind of [...chosen.value]) {
      await api.POST('/api/v1/appliances', { body: { name: said(kind), kind } })
      chosen.value = chosen.value.filter((k) => k !== kind)
    }
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  } finally {
    busy.value = false
    await client.invalidateQueries({ queryKey: queryKeys.appliances() })
    await client.invalidateQueries({ queryKey: queryKeys.appliancesWords() })
  }
}
</script>

<template>
  <section v-if="data" class="stack first" aria-label="First steps">
    <template v-if="!here.length">
      <h2>1. What do you cook with?</h2>
      <p class="soft">
        Ways then come with your own appliances. Powers, places and circuits are said later, at Kitchen.
      </p>
      <Toggles label="What do you cook with?" :of="kinds" :on="chosen" @toggle="toggle" />
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div>
        <button class="act strong" :disabled="!chosen.length || busy" @click="keep">These are mine</button>
      </div>
    </template>
    <p v-else>
      This kitchen has {{ here.map((a) => a.name.toLowerCase()).join(', ') }}.
      <router-link to="/kitchen">Change that at Kitchen</router-link>
    </p>
    <h2>{{ here.length ? '' : '2. ' }}Ask your first question</h2>
    <p class="soft">“Which way gives a soft crumb?” One dish, two or three ways, and who tastes.</p>
    <div class="row">
      <button class="act" :class="{ strong: here.length }" @click="emit('begin')">Ask it</button
      ><button class="act quiet" @click="practise">Practise first, with stand-ins: ten minutes</button
      ><router-link class="act quiet" to="/guide/start">Read the first hour</router-link>
    </div>
    <p v-if="practiceProblem" class="bad" role="alert">{{ practiceProblem }}</p>
  </section>
</template>

<style scoped>
.first {
  border-top: 2px solid var(--ink);
  padding-top: var(--gap-4);
}
</style>
