<script setup lang="ts">
/** Claims: picked, not typed. Each says no more than its records, opens to them, and falls with them. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, words, type Method, type Schemas } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: string; methods: Method[] }>()
const client = useQueryClient()
const path = { params: { path: { trial_id: props.trial } } }
const key = queryKeys.claims(props.trial)
const { data } = useQuery({
  queryKey: key,
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/claims', path)).data!,
  refetchInterval: (q) => (q.state.data && !q.state.data.fresh ? 1500 : false),
})
const all = computed(() => data.value?.claimable ?? [])
const about = ref('')
const topics = computed(() => [...new Map(all.value.map((c) => [c.measure, c])).values()])
watch(topics, (now) => (about.value ||= now[0]?.measure ?? ''), { immediate: true })
const offered = computed(() => all.value.filter((c) => c.measure === about.value))
const standing = computed(() => all.value.filter((c) => c.stands).length)
const same = (a: Schemas['Claimable'], b: Schemas['Claimable']) =>
  a.measure === b.measure && a.subject === b.subject && a.other === b.other
const claimed = (c: Schemas['Claimable']) => data.value?.claims.some((k) => same(k.said, c))
const name = (id: string | null | undefined) =>
  id ? (props.methods.find((m) => m.id === id)?.name ?? '') : 'all others'
const problem = ref('')
const busy = ref(false)
async function run(act: () => Promise<{ data?: Schemas['ClaimsView'] }>) {
  busy.value = true
  try {
    client.setQueryData(key, (await act()).data)
    problem.value = ''
    void client.invalidateQueries({ queryKey: queryKeys.decision(props.trial) })
  } catch (error) {
    problem.value = words(error)
  } finally {
    busy.value = false
  }
}
const pick = (c: Schemas['Claimable']) =>
  run(() =>
    api.POST('/api/v1/trials/{trial_id}/claims', {
      ...path,
      body: { measure: c.measure, subject: c.subject, other: c.other },
    }),
  )
const withdraw = (id: string) =>
  run(() =>
    api.DELETE('/api/v1/trials/{trial_id}/claims/{claim_id}', {
      params: { path: { trial_id: props.trial, claim_id: id } },
    }),
  )
</script>

<template>
  <section v-if="data && (all.length || data.claims.length)" class="claims" aria-label="Claims">
    <h2>Claims</h2>
    <p class="soft small">
      Picked, so that none says more than its records. They go to the page as they stand when it is published;
      what you write in words of your own is the kitchen’s opinion.
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <ul v-if="data.claims.length" class="kept">
      <li v-for="c in data.claims" :key="c.id">
        <p v-if="c.said.stands">
          {{ c.said.text }} <span class="soft small">{{ c.said.standing }}, {{ c.said.how_sure }}</span>
        </p>
        <p v-else class="warn">
          No longer stands: {{ c.said.about }}, {{ name(c.said.subject) }} against {{ name(c.said.other) }}.
          {{ c.said.why_not }}
        </p>
        <details v-if="c.records.length">
          <summary>{{ c.records.length }} records</summary>
          <ul class="small records">
            <li v-for="(line, n) in c.records" :key="n">{{ line }}</li>
          </ul>
        </details>
        <button class="act quiet" :disabled="busy" @click="withdraw(c.id)">Withdraw this claim</button>
      </li>
    </ul>
    <p v-if="!data.fresh" class="soft small">The records are being looked at again …</p>
    <template v-if="all.length">
      <label class="field by"
        >Claim something about<el-select v-model="about" aria-label="Claim something about"
          ><el-option
            v-for="t in topics"
            :key="t.measure"
            :value="t.measure"
            :label="`${t.about} (${t.standing})`" /></el-select
      ></label>
      <ul class="offers">
        <li v-for="c in offered" :key="`${c.subject}${c.other}`" :class="{ soft: !c.stands }">
          <span class="grow">{{ c.stands ? c.text : c.why_not }}</span><button
            v-if="c.stands && !claimed(c)"
            class="act"
            :disabled="busy"
            :aria-label="`Claim: ${c.text}`"
            @click="pick(c)"
          >
            Claim</button
          ><span v-else-if="c.stands" class="soft small">claimed</span
          ><span v-else class="small">cannot be claimed</span>
        </li>
      </ul>
      <p class="soft small">
        {{ standing }} of {{ all.length }} sentences stand. With so many looked at, about one in twenty would
        stand by luck: claim what you asked beforehand.
      </p>
    </template>
  </section>
</template>

<style scoped>
.claims {
  margin-top: var(--gap-5);
}
ul {
  list-style: none;
  padding: 0;
}
.kept > li,
.offers > li {
  border-top: 1px solid var(--line);
  padding: var(--gap-3) 0;
}
.offers > li {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.records {
  padding-left: var(--gap-4);
  list-style: disc;
  columns: 2 360px;
}
.by {
  max-width: 420px;
}
</style>
