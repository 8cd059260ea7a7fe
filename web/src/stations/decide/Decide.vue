<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useTrial } from '../useTrial'
import MeasureBars from './MeasureBars.vue'
import QuestionPicture from './QuestionPicture.vue'
import RescueWords from './RescueWords.vue'
import SentenceRecords from './SentenceRecords.vue'
import SideBySide from './SideBySide.vue'
import Tonight from './Tonight.vue'
import VerdictAtWork from '../VerdictAtWork.vue'
import TrialClaims from './TrialClaims.vue'
import WayPhotos from './WayPhotos.vue'
import WayPurposes from './WayPurposes.vue'
import WayRows from './WayRows.vue'
import { queryKeys } from '../../api/queries/keys'
import { figure } from './figure'
import Term from '../../guide/Term.vue'
import NextStation from '../NextStation.vue'

const id = String(useRoute().params.trial)
const { trial, edit, busy, problem } = useTrial(id)
const { data, refetch } = useQuery({
  queryKey: queryKeys.decision(id),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/decision', { params: { path: { trial_id: id } } })).data!,
  refetchInterval: (q) => (q.state.data?.state === 'working' ? 1000 : false),
})
/** Once the verdict is there as the records are, it is no news any more. */
watch(
  () => data.value?.state === 'fresh' && !!data.value.outcome,
  (there) => {
    if (there)
      void api.POST('/api/v1/trials/{trial_id}/decision/looked-at', { params: { path: { trial_id: id } } })
  },
  { immediate: true },
)
const school = ref<Schemas['School']>('weighted_score')
const { data: schools } = useQuery({
  queryKey: queryKeys.schools(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/schools')).data!.items,
})
const chosen = computed(() => schools.value?.find((s) => s.key === school.value))
const axis = computed(() => chosen.value?.axis ?? '')
const called = (id: string) => trial.value?.methods.find((m) => m.id === id)?.name
const outcome = computed(() => data.value?.outcome ?? null)
const verdict = computed(() => outcome.value?.verdicts[school.value] ?? null)
const said = computed(() => outcome.value?.answer ?? null)
/** The trial's own question stands in front; a school that was picked besides is told beneath it. */
const leader = computed(() => trial.value?.methods.find((m) => m.id === said.value?.leader) ?? null)
const sentences = computed(() => said.value?.sentences ?? [])
/** How likely a leader is the best is the answer only where that was the question. */
const ASKS_WHICH: Schemas['Asks'][] = ['best', 'varieties', 'branch']
const likely = computed(() =>
  said.value &&
  ASKS_WHICH.includes(said.value.question) &&
  verdict.value?.likely &&
  leader.value?.id === verdict.value.leader
    ? verdict.value.likely
    : '',
)
const otherSchool = computed(() =>
  said.value &&
  (outcome.value?.tasters ?? 0) > 1 &&
  ASKS_WHICH.includes(said.value.question) &&
  verdict.value &&
  said.value &&
  verdict.value.leader !== said.value.leader
    ? verdict.value.headline
    : '',
)
const methods = computed(() => trial.value?.methods ?? [])
/** Where there is nothing to compare yet, what has to come first. */
const first = computed(() => {
  if (!outcome.value || verdict.value?.how_sure !== 'not comparable') return null
  const cooked = outcome.value.methods.filter((m) => m.batches.some((b) => b.complete)).length
  if (cooked < 2) return { to: `/trials/${id}/cook`, words: 'Cook' }
  const tasted = outcome.value.tasters || outcome.value.beside.length
  return tasted ? null : { to: `/trials/${id}/taste`, words: 'Taste' }
})
const cookedAny = computed(() => outcome.value?.methods.some((m) => m.batches.length) ?? false)
/** More than so many stand in rows of their own: columns would be too narrow to read. */
const AT_A_GLANCE = 6
const asRows = computed(() => methods.value.length > AT_A_GLANCE && said.value?.picture?.shape === 'list')
</script>

<template>
  <main v-if="trial" class="page decide">
    <section class="say verdict">
      <LoafMark v-if="leader" :mark="leader.mark" :size="58" />
      <div class="grow">
        <h1>
          {{
            said?.headline ??
            (!data || data.state === 'working' ? 'Working it out …' : 'Nothing to decide yet.')
          }}
        </h1>
        <p v-for="s in sentences.slice(0, 2)" :key="s.text">
          {{ s.text }} <span class="soft small">{{ s.stands_on }}</span>
        </p>
        <NextStation v-if="sentences.length && !first && data?.state === 'fresh'" :trial="id" to="publish" />
      </div>
      <RouterLink v-if="first" :to="first.to" class="act strong">{{ first.words }}</RouterLink>
      <div v-if="likely && leader && verdict?.how_sure !== 'not comparable'" class="share">
        <strong class="mono">{{ likely }}</strong><span class="small soft"
          >about: how likely {{ leader.name }} really is the best<template v-if="outcome?.batch_sd"
            >; batches spread by {{ figure(outcome.batch_sd) }} points here</template
          ></span
        >
      </div>
    </section>
    <section v-if="outcome?.reread" class="warn stack">
      <p>
        <strong>A new reading of the same answers.</strong> After the codes were opened the questions were
        changed: {{ outcome.reread.changed.join('; ') }}. The verdict above stands on the questions as they
        were asked.
      </p>
      <p>Read so it would be: {{ outcome.reread.verdicts[school]?.headline }}</p>
    </section>
    <QuestionPicture v-if="said?.picture && !asRows" :picture="said.picture" />
    <section v-if="outcome?.beside.length || outcome?.scope" class="stack">
      <p v-if="outcome.scope" class="small soft">
        The answer above stands on one round: {{ outcome.scope }}.
      </p>
      <p v-for="(b, n) in outcome.beside" :key="n" :class="{ warn: b.turns }">
        <strong>{{ b.name }}:</strong> {{ b.headline
        }}<template v-if="b.turns">. Here the order turns.</template>
      </p>
    </section>
    <p v-if="otherSchool" class="small">By {{ chosen?.name }} it would be: {{ otherSchool }}</p>
    <VerdictAtWork
      v-if="data && data.state !== 'fresh'"
      :trial="id"
      :stopped="data.state === 'stopped'"
      :words="
        outcome ? 'Records changed; a new verdict is being worked out' : 'The verdict is being worked out'
      "
      :older="outcome ? 'What stands here is older than the records.' : 'Nothing is worked out yet.'"
    />
    <div class="row judged">
      <span v-if="outcome?.tasters" class="soft"><Term of="judged by" /></span
      ><button
        v-for="k in outcome?.tasters ? schools : []"
        :key="k.key"
        class="act"
        :class="school === k.key ? 'strong' : 'quiet'"
        :aria-pressed="school === k.key"
        @click="school = k.key"
      >
        {{ k.name }}
      </button>
      <span class="grow" /><a class="act quiet" :href="`/api/v1/trials/${id}/report.pdf`" target="_blank"
        >Report, PDF</a
      ><a class="act quiet" :href="`/api/v1/trials/${id}/archive`">Archive of the trial</a
      ><a class="act quiet" :href="`/api/v1/trials/${id}/tables/answer.csv`">Answers, CSV</a
      ><a class="act quiet" :href="`/api/v1/trials/${id}/tables/entry.csv`">Log, CSV</a>
    </div>
    <template v-if="outcome">
      <SideBySide
        v-if="methods.length <= AT_A_GLANCE"
        :trial="trial"
        :outcome="outcome"
        :verdict="verdict"
        :axis="axis"
      />
      <WayRows v-else :trial="trial" :outcome="outcome" :verdict="verdict" :axis="axis" />
      <RescueWords
        v-if="trial.kind === 'screening' && outcome.rescues?.length"
        :trial="trial"
        :rescues="outcome.rescues"
        @said="refetch"
      />
      <MeasureBars :measures="outcome.measures" :methods="methods" :pieces="outcome.pieces" />
      <WayPhotos :trial="id" :methods="methods" :told="outcome.methods" />
      <Tonight v-if="outcome.measures.length" :trial="id" :methods="methods" />
    </template>
    <section v-if="verdict && cookedAny" class="stand">
      <h2>What this stands on</h2>
      <ul>
        <li v-for="s in sentences" :key="s.text">
          {{ s.text }} <SentenceRecords v-if="outcome" :sentence="s" :outcome="outcome" :methods="methods" />
        </li>
        <li v-for="b in outcome?.limits" :key="b">A way had to keep to: {{ b }}</li>
        <li v-for="b in outcome?.blindness" :key="b">{{ b }}</li>
        <li v-for="s in outcome?.shifts_tell" :key="s">{{ s }}</li>
        <li v-for="g in outcome?.gaps" :key="g">Gap: {{ g }}</li>
      </ul>
      <template v-if="outcome?.what_next.length"
        ><h2>What would tell more</h2>
        <p v-for="line in outcome.what_next" :key="line">{{ line }}</p></template
      >
      <template v-if="outcome?.choose_another.length"
        ><h2>Choose another when …</h2>
        <ul>
          <li v-for="c in outcome.choose_another" :key="c.method">
            <strong>{{ called(c.method) }}</strong>: {{ c.when }}
          </li>
        </ul></template
      >
    </section>
    <template v-if="outcome && methods.length > 1">
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <TrialClaims :trial="id" :methods="methods" />
      <WayPurposes
        v-if="cookedAny && methods.length <= AT_A_GLANCE"
        :trial="trial"
        :choose="outcome.choose_another"
        :edit="edit"
        :busy="busy"
      />
    </template>
  </main>
</template>

<style scoped>
.decide {
  max-width: 1260px;
}
.verdict {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  margin-bottom: var(--gap-3);
}
.share {
  text-align: right;
  width: 190px;
  display: grid;
  flex: none;
}
.share strong {
  font-size: var(--type-6);
  line-height: 1.1;
}
.judged {
  margin-bottom: var(--gap-2);
}
.judged .act {
  min-height: 44px;
  padding: var(--gap-2) var(--gap-4);
  font-size: var(--type-2);
}
.stand {
  margin-top: var(--gap-4);
}
.stand ul {
  padding-left: var(--gap-5);
}
@media (max-width: 700px) {
  .verdict {
    flex-wrap: wrap;
  }
  .share {
    text-align: left;
    width: 100%;
  }
}
</style>
