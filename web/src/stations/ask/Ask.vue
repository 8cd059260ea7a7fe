<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../../api/client'
import Parts from '../../bench/Parts.vue'
import { useTrial } from '../useTrial'
import AttributesEditor from './AttributesEditor.vue'
import Deciding from './Deciding.vue'
import DesignHistory from './DesignHistory.vue'
import FamilyTree from './FamilyTree.vue'
import Guesses from './Guesses.vue'
import Layout from './Layout.vue'
import Methods from './Methods.vue'
import Preparation from './Preparation.vue'
import Question from './Question.vue'
import Screening from './Screening.vue'
import Worth from './Worth.vue'
import { queryKeys } from '../../api/queries/keys'
import NextStation from '../NextStation.vue'

const id = String(useRoute().params.trial)
const { trial, problem, busy, edit } = useTrial(id)
const { data: kinds } = useQuery({
  queryKey: queryKeys.kinds(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/kinds-of-trial')).data!.items,
})
const kind = computed(() => kinds.value?.find((k) => k.kind === trial.value?.kind))
const LAID_OUT: Record<string, string> = {
  grid: 'Grid',
  ladder: 'Ladder',
  branch: 'Finishes',
  varieties: 'Varieties',
  champion: 'Champion',
}
const parts = computed(() => {
  const t = trial.value
  if (!t) return []
  return [
    ...(LAID_OUT[t.kind] ? [{ key: 'layout', name: LAID_OUT[t.kind]! }] : []),
    ...(t.kind === 'screening' ? [{ key: 'ways', name: 'Ways and words' }] : []),
    { key: 'methods', name: 'Methods', note: String(t.methods.length) },
    {
      key: 'preparation',
      name: 'Prepared for all',
      note: t.preparation.items.length ? String(t.preparation.items.length) : '',
    },
    { key: 'judged', name: 'Judged on', note: String(t.attributes.length) },
    { key: 'question', name: 'Question and rule' },
    { key: 'deciding', name: 'How it is decided' },
    { key: 'family', name: 'Family' },
    { key: 'worth', name: 'Worth it' },
    { key: 'guesses', name: 'Guesses' },
    { key: 'history', name: 'What changed' },
  ]
})
const sentence = computed(() => {
  const t = trial.value
  if (!t) return ''
  if (t.missing.length) return `Before it can be set up: ${t.missing[0]}`
  const n = `${t.methods.length} methods`
  const how = {
    side_by_side: 'side by side',
    one_change: 'that differ in one thing',
    champion: 'champion against challenger',
    grid: 'in a grid',
    ladder: 'on a ladder',
    branch: 'finished in different ways',
    screening: 'to screen',
    chain: 'in a chain of versions',
    varieties: 'that differ in one ingredient',
  }[t.kind]
  const judged = t.attributes
    .filter((a) => a.weight > 0)
    .map((a) => a.name.toLowerCase())
    .join(', ')
  return `${n} ${how}, judged on ${judged || 'a ladder of words'}.`
})
</script>

<template>
  <main v-if="trial" class="page">
    <section class="say">
      <h1>{{ sentence }}</h1>
      <p v-if="trial.missing.length > 1" class="soft">Then: {{ trial.missing.slice(1).join(' ') }}</p>
      <p v-else-if="trial.answer_rule" class="soft">What counts as an answer: {{ trial.answer_rule }}</p>
      <p v-if="kind" class="soft small asks">
        {{ kind.name }} asks — Cook: {{ kind.asks.cook }} Taste: {{ kind.asks.taste }} Decide:
        {{ kind.asks.decide }}
      </p>
      <NextStation v-if="!trial.missing.length && trial.methods.length > 1" :trial="trial.id" to="setup" />
      <p v-if="trial.parent_words" class="soft small">
        Comes from
        <router-link v-if="trial.parent_trial_id" :to="`/trials/${trial.parent_trial_id}/ask`">{{
          trial.parent_words
        }}</router-link><template v-else>{{ trial.parent_words }}</template
        >.
      </p>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <Parts v-slot="{ here }" :parts="parts">
      <Layout v-if="here === 'layout'" :key="trial.kind + trial.version" :trial="trial" :edit="edit" />
      <Screening v-else-if="here === 'ways'" :key="trial.methods.length" :trial="trial" :edit="edit" />
      <Preparation v-else-if="here === 'preparation'" :key="trial.version" :trial="trial" :edit="edit" />
      <Methods v-else-if="here === 'methods'" :trial="trial" :edit="edit" :busy="busy" :problem="problem" />
      <AttributesEditor v-else-if="here === 'judged'" :key="trial.version" :trial="trial" :edit="edit" />
      <Question
        v-else-if="here === 'question'"
        :trial="trial"
        :edit="edit"
        :busy="busy"
        :kinds="kinds ?? []"
      />
      <Deciding v-else-if="here === 'deciding'" :trial="trial" :edit="edit" :busy="busy" />
      <FamilyTree v-else-if="here === 'family'" :trial="trial" :edit="edit" />
      <Worth v-else-if="here === 'worth'" :trial="trial" :edit="edit" />
      <Guesses v-else-if="here === 'guesses'" :trial="trial" />
      <DesignHistory v-else-if="here === 'history'" :trial="trial" />
    </Parts>
  </main>
</template>

<style scoped>
.asks {
  margin-top: var(--gap-2);
}
</style>
