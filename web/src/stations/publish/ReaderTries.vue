<script setup lang="ts">
/** What readers say who cooked it: read here first, then counted on the page, beside the evidence. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { queryKeys } from '../../api/queries/keys'
import { api, words, type Schemas } from '../../api/client'
import { minutes } from '../../bench/units'
import { useSession } from '../../session'
import { day } from '../../bench/dates'

const props = defineProps<{ trial: string }>()
const session = useSession()
const client = useQueryClient()
const key = queryKeys.readerTries(props.trial)
const { data } = useQuery({
  queryKey: key,
  queryFn: async () =>
    (
      await api.GET('/api/v1/trials/{trial_id}/reader-tries', {
        params: { path: { trial_id: props.trial } },
      })
    ).data!.items,
})
const waiting = computed(() => data.value?.filter((t) => t.counted === null).length ?? 0)
const problem = ref('')
const put = ref('')
const at = (t: Schemas['TryView']) => ({ params: { path: { trial_id: props.trial, try_id: t.id } } })
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    await client.invalidateQueries({ queryKey: key })
  } catch (error) {
    problem.value = words(error)
  }
}
const look = (t: Schemas['TryView'], counted: boolean, note_shown = false) =>
  run(() =>
    api.PUT('/api/v1/trials/{trial_id}/reader-tries/{try_id}', {
      ...at(t),
      body: { counted, note_shown },
    }),
  )
const promise = (t: Schemas['TryView']) =>
  run(async () => {
    await api.POST('/api/v1/trials/{trial_id}/reader-tries/{try_id}/promise', at(t))
    put.value = t.id
  })
const stands = (t: Schemas['TryView']) =>
  t.counted === null
    ? 'not looked at yet'
    : t.counted
      ? `counted${t.note_shown ? ', its note shown' : t.note ? ', its note not shown' : ''}`
      : 'left out'
</script>

<template>
  <section v-if="data?.length" class="stack" aria-label="Readers who cooked it">
    <h2>Readers who cooked it</h2>
    <p v-if="waiting" role="status">{{ waiting }} not looked at yet: counted nowhere until you have.</p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <ul class="lines">
      <li v-for="t in data" :key="t.id" class="row">
        <span class="grow"
          ><strong>{{ t.method }}: {{ t.came }}</strong
          ><span v-if="t.note" class="block">“{{ t.note }}”</span
          ><span v-if="t.against" class="block warn small"
            >Its note seems to set a caution aside: it is never shown to readers.</span
          ><span class="block soft small"
            >{{ t.kitchen || 'appliance not said'
            }}<template v-if="t.took_s"> · {{ minutes(t.took_s) }}</template> · version {{ t.version }} ·
            {{ day(t.given_at) }} · {{ stands(t) }}</span
          ></span
        >
        <template v-if="session.lead">
          <button v-if="!t.counted || t.note_shown" class="act" @click="look(t, true)">
            {{ t.note ? 'Count it, no note' : 'Count it' }}</button><button
            v-if="t.note && !t.against && !t.note_shown"
            class="act"
            @click="look(t, true, true)"
          >
            Count it with its note</button
          ><button v-if="t.counted !== false" class="act quiet" @click="look(t, false)">Leave it out</button>
        </template>
        <button class="act quiet" :disabled="put === t.id" @click="promise(t)">
          {{ put === t.id ? 'On the list' : 'Something to try' }}
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.lines .grow {
  flex-basis: 320px;
}
.block {
  display: block;
}
</style>
