<script setup lang="ts">
/** Who changed what of the design, and when. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Trial } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'
import { dayAndTime } from '../../bench/dates'

const props = defineProps<{ trial: Trial }>()
const { data } = useQuery({
  queryKey: queryKeys.designHistory(
    props.trial.id,
    computed(() => props.trial.version),
  ),
  queryFn: async () =>
    (
      await api.GET('/api/v1/trials/{trial_id}/design-history', {
        params: { path: { trial_id: props.trial.id } },
      })
    ).data!.items,
})
const said = (v: unknown) => (v === null || v === undefined ? 'nothing' : String(v).slice(0, 80))
/** "methods.<id>.steps.<id>.duration_s" as "methods, steps, duration". */
const where = (path: string) =>
  path
    .split('.')
    .filter((p) => !/^[0-9a-f-]{36}$/.test(p))
    .join(', ')
    .replace(/_(s|c|kg|w|m)\b/g, '')
    .replace(/_/g, ' ')
</script>

<template>
  <section class="stack">
    <h2>What changed</h2>
    <p v-if="data && !data.length" class="soft">Nothing has been changed since the history is kept.</p>
    <details v-for="e in data" :key="`${e.version}-${e.at}`">
      <summary>
        <strong>{{ e.what }}</strong>
        <span class="soft small">{{ dayAndTime(e.at) }}, {{ e.by }}, version {{ e.version }}</span>
      </summary>
      <p v-for="c in e.changes" :key="c.path" class="small">
        {{ where(c.path) }}: {{ said(c.before) }} → {{ said(c.after) }}
      </p>
    </details>
  </section>
</template>
