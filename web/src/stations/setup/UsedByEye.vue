<script setup lang="ts">
/** What was poured or strewn by eye, as it was weighed: told beside what is written, and carried over. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Trial } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'
import { mass } from '../../bench/units'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const path = { params: { path: { trial_id: props.trial.id } } }
const client = useQueryClient()
const key = queryKeys.usedByEye(props.trial.id)
const { data } = useQuery({
  queryKey: key,
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/used-by-eye', path)).data!.items,
})
const tags = computed(() => Object.fromEntries(props.trial.methods.map((m) => [m.id, m.tag])))
const same = (a: number, b: number | null) => b !== null && Math.abs(a - b) < 5e-4
const news = computed(() => data.value?.some((u) => !same(u.kg, u.written_kg)) ?? false)
async function carry() {
  const done = await props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/used-by-eye/carried', { ...path, headers }),
  )
  if (done) await client.invalidateQueries({ queryKey: key })
}
</script>

<template>
  <section v-if="data?.length" class="warn stack" aria-label="Used by eye">
    <p><strong>Used by eye, and weighed before and after:</strong></p>
    <ul>
      <li v-for="u in data" :key="u.method_id + u.item">
        {{ tags[u.method_id] }}: {{ u.item }} {{ mass(u.kg)
        }}{{ u.batches > 1 ? ` in the mean of ${u.batches} batches` : '' }},
        {{ u.written_kg === null ? 'not written yet' : `written: ${mass(u.written_kg)}` }}
      </li>
    </ul>
    <div v-if="news">
      <button class="act" @click="carry">Write them as the amounts of the next run</button>
    </div>
  </section>
</template>
