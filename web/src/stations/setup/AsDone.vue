<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, type Schemas, type Trial } from '../../api/client'
import { groupsOf } from './groups'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial }>()
const { data } = useQuery({
  queryKey: queryKeys.asDone(props.trial.id),
  queryFn: async () =>
    (
      await api.GET('/api/v1/trials/{trial_id}/fairness/as-done', {
        params: { path: { trial_id: props.trial.id } },
      })
    ).data!,
})
function stands(d: Schemas['DifferenceView']): string {
  if (d.varied) return 'varied on purpose'
  if (d.result) return 'a result'
  return d.accepted ? `comes with the method: ${d.accepted}` : 'not varied on purpose'
}
</script>

<template>
  <section v-if="data" class="stack">
    <h2>{{ data.sentence }}</h2>
    <p v-if="data.claim">{{ data.claim }}</p>
    <table v-if="data.differences.length" class="plain">
      <thead>
        <tr>
          <th>Field</th>
          <th>As done</th>
          <th>Sways</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="d in data.differences"
          :key="d.field"
          :class="{ open: !d.varied && !d.result && !d.accepted }"
        >
          <td>
            <strong>{{ d.field }}</strong><span class="soft small block">{{ stands(d) }}</span>
          </td>
          <td>
            <span v-for="g in groupsOf(d.values)" :key="g.value" class="block"
              ><strong>{{ g.value }}</strong> <span class="mono">{{ g.tags.join(', ') }}</span></span
            >
          </td>
          <td class="small">
            {{ d.sways.map((s) => `${s.attribute.toLowerCase()} ${s.words}`).join(', ') }}
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="data.not_in_all.length" class="soft">
      Measured in some only, so not compared: {{ data.not_in_all.join(', ') }}.
    </p>
    <template v-if="data.departures.length"
      ><h3>Where a batch left its own plan</h3>
      <table class="plain">
        <thead>
          <tr>
            <th>Batch</th>
            <th>What</th>
            <th>Planned</th>
            <th>Done</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(d, i) in data.departures" :key="i">
            <td>
              <strong>{{ d.tag }}</strong> {{ d.replicate > 1 ? d.replicate : '' }}
            </td>
            <td>{{ d.what }}</td>
            <td class="mono">{{ d.planned }}</td>
            <td class="mono">{{ d.done }}</td>
          </tr>
        </tbody>
      </table></template
    >
    <p class="soft small">
      From the bench log: only finished batches that are judged. Taps are taken as good to half a minute or a
      twentieth, probes to one kelvin.
    </p>
  </section>
</template>

<style scoped>
.block {
  display: block;
}
.open td:first-child {
  border-left: 6px solid var(--warn-line);
  padding-left: var(--gap-3);
}
</style>
