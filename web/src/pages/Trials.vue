<script setup lang="ts">
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, sendFile, words, type Schemas } from '../api/client'
import LoafMark from '../bench/LoafMark.vue'
import { useSession } from '../session'
import TrialFilters from './TrialFilters.vue'
import { useHome } from './useHome'
import { useTrialFilters } from './useTrialFilters'
import AtHome from './AtHome.vue'
import FirstSteps from './FirstSteps.vue'
import NewTrial from './NewTrial.vue'
import DeleteTrial from './DeleteTrial.vue'
import AtWork from '../stations/AtWork.vue'
import { queryKeys } from '../api/queries/keys'
import { useSlowRequest } from '../api/queries/slowWork'
import { day } from '../bench/dates'

const router = useRouter()
const { home, settled: homeSettled } = useHome()
const search = ref('')
const settled = refDebounced(search, 200)
const away = ref(false)
const { filters, asked } = useTrialFilters()
const said = computed(() => JSON.stringify(asked.value))
const client = useQueryClient()
const { data, hasNextPage, fetchNextPage, isLoading, error } = useInfiniteQuery({
  queryKey: queryKeys.trials(settled, away, said),
  initialPageParam: '',
  queryFn: async ({ pageParam }) =>
    (
      await api.GET('/api/v1/trials', {
        params: {
          query: { search: settled.value, cursor: pageParam, away: away.value, ...asked.value },
        },
      })
    ).data!,
  getNextPageParam: (last) => last.cursor || undefined,
})
const session = useSession()
const { data: risks } = useQuery({
  queryKey: queryKeys.pagesAtRisk(),
  enabled: computed(() => session.lead),
  queryFn: async () => (await api.GET('/api/v1/pages-at-risk')).data!.items,
})
const trials = computed(() => data.value?.pages.flatMap((p) => p.items) ?? [])
const nothing = computed(
  () => !!data.value && !trials.value.length && !settled.value && said.value === '{}' && !away.value,
)
async function putAway(trial: string) {
  try {
    await api.PUT('/api/v1/trials/{trial_id}/put-away', {
      params: { path: { trial_id: trial } },
      body: { away: !away.value },
    })
  } catch (error) {
    importProblem.value = words(error)
  }
  await client.invalidateQueries({ queryKey: queryKeys.trials() })
}
const deleting = ref<Schemas['TrialCard'] | null>(null)
// Who comes from a practice wants to ask.
const making = ref(!!useRoute().query.new)
const file = ref<HTMLInputElement>()
const importProblem = ref('')
const { since, run, stop } = useSlowRequest('archive')
async function bringIn(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  try {
    const send = (headers: Record<string, string>) => sendFile('POST', '/api/v1/archives', chosen, headers)
    const done = (await run(send)) as { trial_id: string }
    await router.push(`/trials/${done.trial_id}/decide`)
  } catch (error) {
    importProblem.value = words(error)
  } finally {
    if (file.value) file.value.value = ''
  }
}
const { data: kindList } = useQuery({
  queryKey: queryKeys.kinds(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/kinds-of-trial')).data!.items,
})
const kinds = computed(
  () => Object.fromEntries((kindList.value ?? []).map((k) => [k.kind, k.name])) as Record<string, string>,
)
</script>

<template>
  <main class="page">
    <AtHome v-if="!away && home" :home="home" />
    <!-- Not before it, or all of this moves down under a quick hand. -->
    <template v-if="away || homeSettled">
      <section v-if="risks?.length" class="warn stack">
        <p>
          <strong>{{
            risks.length === 1
              ? 'A page that is out would not stand today.'
              : `${risks.length} pages that are out would not stand today.`
          }}</strong>
        </p>
        <p v-for="r in risks" :key="r.path">
          <router-link :to="`/trials/${r.trial_id}/publish`">{{ r.title }}</router-link>: {{ r.why }}
          {{ r.proposal }} Words for its readers are laid ready there.
        </p>
      </section>
      <div class="row head">
        <component :is="away ? 'h1' : 'h2'" class="grow heading">{{
          away ? 'Put away' : 'Trials'
        }}</component>
        <el-input
          v-model="search"
          class="search"
          clearable
          placeholder="Search dish, question, other names"
          aria-label="Search trials"
        />
        <button class="act quiet" @click="file?.click()">Bring in an archive</button>
        <input ref="file" type="file" accept=".zip" hidden @change="bringIn" />
        <router-link class="act quiet" to="/promises">To try</router-link>
        <button class="act strong" @click="making = true">New trial</button>
      </div>
      <TrialFilters v-if="!nothing" v-model="filters" />
      <p v-if="importProblem" class="bad" role="alert">{{ importProblem }}</p>
      <AtWork
        v-if="since !== null"
        kind="archive"
        words="The archive is being read"
        :since="since"
        stops="Stop"
        @stop="stop"
      />
      <p v-if="error" class="bad" role="alert">{{ words(error) }}</p>
      <FirstSteps v-else-if="nothing" @begin="making = true" />
      <p v-else-if="!isLoading && !trials.length" class="say">
        {{
          settled || said !== '{}'
            ? 'No trial is all of this. Leave out a word, or choose “Show all”.'
            : 'Nothing is put away.'
        }}
      </p>
      <ul v-if="trials.length" class="lines ruled list" aria-label="All trials">
        <li v-for="t in trials" :key="t.id">
          <router-link :to="`/trials/${t.id}/ask`">
            <span class="grow"
              ><strong>{{ t.title }}</strong
              ><span class="q">{{ t.question }}</span
              ><span class="soft small"
                ><b>{{ t.how_far }}</b> · {{ t.dish }} · {{ kinds[t.kind] }} · last changed
                {{ day(t.updated_at) }}</span
              ></span
            >
            <span class="marks"
              ><LoafMark v-for="m in t.marks.slice(0, 8)" :key="m.number" :mark="m" :size="30"
            /></span>
          </router-link>
          <button
            class="act quiet small"
            :aria-label="`${away ? 'Bring back' : 'Put away'}: ${t.title}`"
            @click="putAway(t.id)"
          >
            {{ away ? 'Bring back' : 'Put away' }}
          </button>
          <button
            v-if="away && session.lead"
            class="act quiet small"
            :aria-label="`Delete for good: ${t.title}`"
            @click="deleting = t"
          >
            Delete for good …
          </button>
        </li>
      </ul>
      <DeleteTrial
        v-if="deleting"
        :model-value="true"
        :trial="deleting"
        @update:model-value="deleting = null"
        @deleted="client.invalidateQueries({ queryKey: queryKeys.trials() })"
      />
      <p>
        <button class="act quiet" @click="away = !away">
          {{ away ? 'Back to the trials at hand' : 'Trials that were put away' }}
        </button>
      </p>
      <button v-if="hasNextPage" class="act quiet" @click="fetchNextPage()">More</button>
    </template>
    <NewTrial v-if="making" @close="making = false" />
  </main>
</template>

<style scoped>
.heading {
  margin: 0;
}
.head {
  margin-bottom: var(--gap-4);
}
.search {
  width: 320px;
  max-width: 100%;
}

.list li {
  padding: 0;
  display: flex;
  align-items: center;
  gap: var(--gap-3);
}
.list a {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  padding: var(--gap-4) var(--gap-2);
  text-decoration: none;
}
.list a:hover {
  background: var(--paper);
}
.list strong {
  font-size: var(--type-4);
  display: block;
}
.q {
  display: block;
}
.marks {
  display: flex;
  gap: var(--gap-1);
  flex-wrap: wrap;
  justify-content: end;
}
@media (max-width: 700px) {
  .marks {
    display: none;
  }
  .search {
    width: 100%;
  }
}
</style>
