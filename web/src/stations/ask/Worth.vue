<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Trial } from '../../api/client'
import { mass } from '../../bench/units'
import { useSession } from '../../session'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const session = useSession()
const { data } = useQuery({
  queryKey: queryKeys.fairness(
    props.trial.id,
    'worth',
    computed(() => props.trial.version),
  ),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/worth', { params: { path: { trial_id: props.trial.id } } }))
      .data!,
})
const print = () => window.print()
const currency = computed(() => session.state?.currency ?? '')
</script>

<template>
  <section v-if="data" class="stack">
    <h2>{{ data.sentence }}</h2>
    <p class="soft">
      {{ mass(data.food_kg) }} of food in {{ trial.methods.length * trial.batches_each }} batches. Weight of a
      serving, eaters and what leftovers are for stand under “Question and rule”.
    </p>
    <div class="row">
      <h3 class="grow">To buy, all methods together</h3>
      <button class="act quiet" @click="print">Print the list</button>
    </div>
    <table class="plain">
      <thead>
        <tr>
          <th>Ingredient</th>
          <th>In all</th>
          <th>Packs</th>
          <th>Cost {{ currency }}</th>
          <th>For</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in data.buy" :key="b.name">
          <td>{{ b.name }}</td>
          <td class="mono">{{ mass(b.kg) }}</td>
          <td class="mono">{{ b.packs === null ? '' : `${b.packs} × ${mass(b.pack_kg!)}` }}</td>
          <td class="mono">{{ b.cost ?? '' }}</td>
          <td>{{ b.used_by.length === trial.methods.length ? 'all' : b.used_by.join(', ') }}</td>
        </tr>
        <tr v-if="!data.buy.length">
          <td colspan="5" class="soft">No amounts yet: enter them at Set up, under Lots.</td>
        </tr>
      </tbody>
      <tfoot v-if="data.buy.length">
        <tr>
          <td><strong>Together</strong></td>
          <td />
          <td />
          <td class="mono">
            <strong>{{ data.cost }}</strong><span v-if="!data.priced" class="soft small">
              and what has no price yet</span
            >
          </td>
          <td />
        </tr>
      </tfoot>
    </table>
  </section>
</template>
