<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words, type Schemas } from '../api/client'
import { queryKeys } from '../api/queries/keys'
import { day } from '../bench/dates'

const router = useRouter()
const client = useQueryClient()
const closed = ref(false)
const { data } = useQuery({
  queryKey: queryKeys.promises(closed),
  queryFn: async () =>
    (await api.GET('/api/v1/promises', { params: { query: { closed: closed.value } } })).data!,
})
const { data: kinds } = useQuery({
  queryKey: queryKeys.kinds(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/kinds-of-trial')).data!.items,
})
const form = reactive({ text: '', dish: '' })
const problem = ref('')
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    await client.invalidateQueries({ queryKey: queryKeys.promises() })
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
const add = async () => {
  if (
    await run(() =>
      api.POST('/api/v1/promises', {
        body: { text: form.text, dish: form.dish, source: 'own', trial_id: null, entry_id: null },
      }),
    )
  )
    Object.assign(form, { text: '', dish: '' })
}
const take = (s: Schemas['SuggestionView']) =>
  run(() =>
    api.POST('/api/v1/promises', {
      body: {
        text: s.text,
        dish: s.dish,
        source: s.source as 'note' | 'what_next',
        trial_id: s.trial_id,
        entry_id: s.entry_id,
      },
    }),
  )
const closing = ref<string | null>(null)
const why = ref('')
const close = async () => {
  if (
    closing.value &&
    (await run(() =>
      api.POST('/api/v1/promises/{promise_id}/closure', {
        params: { path: { promise_id: closing.value! } },
        body: { why: why.value },
      }),
    ))
  ) {
    closing.value = null
    why.value = ''
  }
}
const making = ref<Schemas['PromiseView'] | null>(null)
const kind = ref<Schemas['TrialKind']>('one_change')
async function make() {
  try {
    const { data } = await api.POST('/api/v1/promises/{promise_id}/trial', {
      params: { path: { promise_id: making.value!.id } },
      body: { kind: kind.value },
    })
    if (data) await router.push(`/trials/${data.id}/ask`)
  } catch (error) {
    problem.value = words(error)
  }
}
const FROM: Record<string, string> = {
  own: 'written down',
  note: 'from a note at the bench',
  what_next: 'from a verdict',
  reader: 'asked by a reader',
}
const sentence = computed(() => {
  const open = data.value?.items.filter((p) => !p.closed_at) ?? []
  const n = open.length
  const asked = open.filter((p) => p.source === 'reader').length
  return n
    ? `${n} thing${n === 1 ? '' : 's'} to try, ${asked} of them asked by readers.`
    : 'Nothing promised. What is said to be done later belongs here.'
})
</script>

<template>
  <main class="page stack">
    <section class="say">
      <h1>{{ sentence }}</h1>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <form class="row" @submit.prevent="add">
      <el-input
        v-model="form.text"
        class="grow"
        name="promise"
        placeholder="Try it again with rice flour"
        aria-label="What to try"
      /><el-input v-model="form.dish" class="w" placeholder="dish" aria-label="Dish" /><button
        class="act strong"
        :disabled="!form.text.trim()"
      >
        Put it on the list
      </button>
    </form>
    <ul class="lines ruled">
      <li v-for="p in data?.items" :key="p.id" class="row" :class="{ past: p.closed_at }">
        <span class="grow"
          ><strong>{{ p.text }}</strong
          ><span class="soft small block"
            >{{ FROM[p.source]
            }}<template v-if="p.trial">
              · <router-link :to="`/trials/${p.trial_id}/ask`">{{ p.trial }}</router-link></template
            ><template v-if="p.dish"> · {{ p.dish }}</template> · {{ day(p.added_at)
            }}<template v-if="p.closed_at"> · {{ p.closed_why }}</template></span
          ></span
        >
        <template v-if="!p.closed_at"
          ><button class="act" @click="making = p">Make it a trial</button
          ><button class="act quiet" @click="closing = p.id">Close</button></template
        >
        <router-link v-else-if="p.became_trial_id" class="act quiet" :to="`/trials/${p.became_trial_id}/ask`"
          >Its trial</router-link
        >
      </li>
    </ul>
    <div><el-checkbox v-model="closed">Show what was done or closed</el-checkbox></div>
    <template v-if="data?.suggestions.length">
      <h2>May belong on the list</h2>
      <ul class="lines ruled">
        <li v-for="s in data.suggestions" :key="(s.entry_id ?? '') + s.text + s.trial_id" class="row">
          <span class="grow"
            >“{{ s.text }}”<span class="soft small block"
              >{{ FROM[s.source] }} ·
              <router-link :to="`/trials/${s.trial_id}/ask`">{{ s.trial }}</router-link></span
            ></span
          ><button class="act quiet" @click="take(s)">Put it on the list</button>
        </li>
      </ul>
    </template>
    <el-dialog :model-value="!!closing" title="Close it" width="460" @close="closing = null"
      ><form class="stack" @submit.prevent="close">
        <label class="field">Why it will not be tried<el-input v-model="why" name="why" /></label>
        <div><button class="act strong">Close it</button></div>
      </form></el-dialog
    >
    <el-dialog :model-value="!!making" title="Make it a trial" width="520" @close="making = null"
      ><form class="stack" @submit.prevent="make">
        <p>{{ making?.text }}</p>
        <label class="field"
          >Kind of trial<el-select v-model="kind" aria-label="Kind of trial"
            ><el-option
              v-for="k in kinds"
              :key="k.kind"
              :value="k.kind"
              :label="`${k.name}: ${k.what}`" /></el-select
        ></label>
        <p v-if="making?.trial" class="soft small">
          Copied from “{{ making.trial }}”: its lots, attributes, and what leads it.
        </p>
        <div><button class="act strong">Make it</button></div>
      </form></el-dialog
    >
  </main>
</template>

<style scoped>
.past {
  color: var(--ink-soft);
}
.block {
  display: block;
}
.w {
  width: 220px;
}
@media (max-width: 700px) {
  .grow {
    flex-basis: 100%;
  }
}
</style>
