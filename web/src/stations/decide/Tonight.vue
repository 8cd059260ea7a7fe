<script setup lang="ts">
/** What there is tonight: which ways fit, which do not and why, by what was measured. */
import { ref } from 'vue'
import { api, words, type Schemas } from '../../api/client'
import LimitRows from './LimitRows.vue'
import { useMeasures } from './useMeasures'

const props = defineProps<{ trial: string; methods: Schemas['MethodView'][] }>()
const measures = useMeasures()
const limits = ref<Schemas['LimitIn'][]>([{ measure: 'total_s', at_most: null, at_least: null }])
const found = ref<Schemas['Fits'][] | null>(null)
const problem = ref('')
async function choose() {
  problem.value = ''
  try {
    const set = limits.value.filter((x) => x.at_most !== null || x.at_least !== null)
    const { data } = await api.POST('/api/v1/trials/{trial_id}/tonight', {
      params: { path: { trial_id: props.trial } },
      body: { limits: set },
    })
    found.value = data?.items ?? []
  } catch (error) {
    problem.value = words(error)
  }
}
const name = (id: string) => props.methods.find((m) => m.id === id)?.name
</script>

<template>
  <section class="tonight no-print">
    <h2>Which one tonight?</h2>
    <form class="stack" @submit.prevent="choose">
      <LimitRows v-model="limits" :measures="measures">Something else is short</LimitRows>
      <div><button class="act strong">What fits?</button></div>
    </form>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <template v-if="found">
      <p v-if="!found.some((f) => f.fits)"><strong>None of these.</strong></p>
      <ul>
        <li v-for="f in found" :key="f.method">
          <strong>{{ name(f.method) }}</strong>
          {{ f.fits ? 'fits' : `does not: ${(f.why_not ?? []).join('; ')}` }}
        </li>
      </ul>
    </template>
  </section>
</template>
