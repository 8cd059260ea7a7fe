<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import { minutes, temperature } from '../../bench/units'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean }>()
const { data: offers } = useQuery({
  queryKey: queryKeys.fairness(props.trial.id, 'offers'),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/offers', { params: { path: { trial_id: props.trial.id } } }))
      .data!.items,
})
const said = (o: Schemas['OfferView'], v: number) => (o.field === 'set_point_c' ? temperature(v) : minutes(v))
const tagOf = (method: string) => props.trial.methods.find((m) => m.id === method)?.tag
const all = ref(false)
async function takeAll() {
  // One after the other: each edit carries the version the one before it made.
  for (const o of [...(offers.value ?? [])]) await take(o)
}
async function take(o: Schemas['OfferView']) {
  const method = props.trial.methods.find((m) => m.id === o.method_id)
  if (!method) return
  const items = method.steps.map((s) => ({
    ...s,
    ...(s.id === o.step_id ? { [o.field]: Math.round(o.offered), ...o.also } : {}),
  }))
  await props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/steps', {
      params: { path: { trial_id: props.trial.id, method_id: method.id } },
      headers,
      body: { items },
    }),
  )
}
</script>

<template>
  <section v-if="offers?.length" class="stack offers">
    <div class="row">
      <h2 class="grow">Worked out for this kitchen</h2>
      <button v-if="offers.length > 1" class="act quiet" :disabled="busy" @click="takeAll">
        Take all {{ offers.length }}
      </button>
    </div>
    <div v-for="o in all ? offers : offers.slice(0, 4)" :key="o.step_id + o.rule" class="row offer">
      <span class="grow"
        ><strong>{{ tagOf(o.method_id) }} · {{ o.what }}</strong
        >: {{ said(o, o.written) }} → <strong>{{ said(o, o.offered) }}</strong>
        <span class="soft">({{ said(o, o.low) }} to {{ said(o, o.high) }})</span><br /><span
          class="small soft"
          >{{ o.rule }}: {{ o.source }}</span
        ></span
      >
      <button class="act" :disabled="busy" @click="take(o)">Take {{ said(o, o.offered) }}</button>
    </div>
    <div v-if="offers.length > 4">
      <button class="act quiet" @click="all = !all">
        {{ all ? 'Show fewer' : `Show all ${offers.length}` }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.offers {
  margin-bottom: var(--gap-4);
  gap: var(--gap-1);
}
.offer {
  border-bottom: 1px solid var(--line);
  padding: var(--gap-0) 0;
  line-height: 1.25;
  flex-wrap: nowrap;
}
</style>
