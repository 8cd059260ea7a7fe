<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ifMatch, words, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useSession } from '../../session'
import { useTrial } from '../useTrial'
import { pageForm } from './pageForm'
import PageWords from './PageWords.vue'
import VerdictAtWork from '../VerdictAtWork.vue'
import PageVersions from './PageVersions.vue'
import ReaderTries from './ReaderTries.vue'
import WithdrawPage from './WithdrawPage.vue'
import { queryKeys } from '../../api/queries/keys'

const id = String(useRoute().params.trial)
const session = useSession()
const client = useQueryClient()
const { trial } = useTrial(id)
const path = { params: { path: { trial_id: id } } }
const { data } = useQuery({
  queryKey: queryKeys.publication(id),
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/publication', path)).data!,
  refetchInterval: (q) =>
    q.state.data?.versions.some((v) => !v.pdf_ready && !v.pdf_stopped && !v.withdrawn_at) ||
    (q.state.data?.fresh === false && !q.state.data.verdict_stopped)
      ? 2000
      : false,
})
const { data: risks } = useQuery({
  queryKey: queryKeys.pagesAtRisk(),
  enabled: computed(() => session.lead),
  queryFn: async () => (await api.GET('/api/v1/pages-at-risk')).data!.items,
})
const risk = computed(() => risks.value?.find((r) => r.trial_id === id))
/** Something can be told: a method is chosen, or the question came to one. */
const tellable = computed(() => !!data.value?.headline)
const form = reactive(pageForm())
const dirty = ref(false)
watch(
  data,
  (d) => {
    if (d && !dirty.value) Object.assign(form, pageForm(d))
  },
  { immediate: true },
)
const problem = ref('')
const correction = ref('')
/** One after the other: each knows the version that the one before it left. */
let line: Promise<boolean> = Promise.resolve(true)
function run(act: () => Promise<unknown>, keeps = false) {
  line = line.then(() => done(act, keeps))
  return line
}
const told = () => client.invalidateQueries({ queryKey: queryKeys.publication(id) })
async function done(act: () => Promise<unknown>, keeps: boolean) {
  try {
    await act()
    problem.value = ''
    // Words that are not saved yet stay as they stand.
    if (!keeps) dirty.value = false
    await told()
    void client.invalidateQueries({ queryKey: queryKeys.stations(id) })
    void client.invalidateQueries({ queryKey: queryKeys.pagesAtRisk() })
    return true
  } catch (error) {
    problem.value = words(error)
    // Somebody else may have written in between: the next try knows it.
    await told()
    return false
  }
}
const save = () =>
  run(() =>
    api.PATCH('/api/v1/trials/{trial_id}/publication', {
      ...path,
      headers: ifMatch(data.value!.version),
      body: { ...form },
    }),
  )
const pictured = ref(true)
const picture = async (pictures: Schemas['PictureIn'][]) => {
  pictured.value = await run(
    () =>
      api.PATCH('/api/v1/trials/{trial_id}/publication', {
        ...path,
        headers: ifMatch(data.value!.version),
        body: { pictures },
      }),
    true,
  )
  return pictured.value
}
async function publish() {
  // What was typed last is on its way.
  await line
  if (!pictured.value) {
    problem.value ||= 'What was said of a photo is not kept yet. Change it again, then publish.'
    return
  }
  if (dirty.value && !(await save())) return
  if (
    await run(() =>
      api.POST('/api/v1/trials/{trial_id}/publications', { ...path, body: { correction: correction.value } }),
    )
  )
    correction.value = ''
}
const withdrawing = ref(false)
const why = ref('')
async function withdraw() {
  if (
    await run(() => api.POST('/api/v1/trials/{trial_id}/withdrawal', { ...path, body: { why: why.value } }))
  )
    withdrawing.value = false
}
function layReady() {
  correction.value = why.value = risk.value!.correction
}
const newest = computed(() => data.value?.versions[0])
const sentence = computed(() => {
  if (newest.value?.withdrawn_at) return 'Withdrawn: readers see only the notice.'
  if (newest.value)
    return `Version ${newest.value.version} is out. A change is a new dated version; the old stays readable.`
  if (tellable.value) return 'Ready to be read over: this is what would be told.'
  return trial.value?.methods.length && trial.value.methods.every((m) => data.value?.unfit?.[m.id])
    ? 'No way may be told to readers as it stands: below it says why.'
    : 'Nothing to tell yet. Choose a method or a kind of page, or taste and open the codes first.'
})
const chosen = computed(() => trial.value?.methods.find((m) => m.id === data.value?.chosen_method_id))
</script>

<template>
  <main v-if="trial && data" class="page">
    <section class="say row">
      <LoafMark v-if="chosen" :mark="chosen.mark" :size="50" />
      <div class="grow">
        <h1>{{ sentence }}</h1>
        <p v-if="tellable">
          {{ data.headline }} <span class="soft">{{ data.how_sure }}</span>
        </p>
      </div>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <VerdictAtWork
      v-if="!data.fresh"
      :trial="id"
      :stopped="data.verdict_stopped"
      words="Records have changed; the verdict is being worked out again, and nothing can be published before"
      older="Records have changed, and nothing can be published before the verdict is worked out."
    />
    <section v-if="risk" class="warn stack" aria-label="This page would not stand today">
      <p><strong>The page that is out would not stand today.</strong> {{ risk.why }} {{ risk.proposal }}</p>
      <div class="row">
        <button class="act" @click="layReady">Lay the words for readers ready</button>
        <span v-if="correction === risk.correction" class="soft"
          >They stand below, and under Withdraw; read them over.</span
        >
      </div>
    </section>
    <PageVersions v-if="data.versions.length" :versions="data.versions" :title="form.title" @changed="told" />
    <ReaderTries v-if="data.versions.length" :trial="id" />
    <hr class="rule" />
    <div class="two">
      <form class="stack" @submit.prevent="save" @input="dirty = true">
        <PageWords
          :model-value="form"
          :data="data"
          :trial="trial"
          :keep="picture"
          @touched="dirty = true"
          @update:model-value="Object.assign(form, $event)"
        />
        <div class="row">
          <button class="act">Save the words</button><span v-if="dirty" class="soft">Not saved yet.</span>
        </div>
        <template v-if="session.lead">
          <label v-if="data.versions.length" class="field"
            >What the next version corrects<el-input v-model="correction" name="correction"
          /></label>
          <div class="row">
            <button type="button" class="act strong" :disabled="!tellable || !data.fresh" @click="publish">
              {{ data.versions.length ? 'Publish a correction' : 'Publish' }}</button><button
              v-if="newest && !newest.withdrawn_at"
              type="button"
              class="act quiet"
              @click="withdrawing = true"
            >
              Withdraw for safety
            </button>
          </div>
        </template>
      </form>
      <section v-if="tellable" class="preview">
        <p class="small soft">As readers would see it{{ dirty ? ', once the words are saved' : '' }}.</p>
        <iframe
          :key="`${data.version} ${data.fresh}`"
          :src="`/api/v1/trials/${id}/publication/page`"
          title="The page as readers would see it"
        />
      </section>
    </div>
    <WithdrawPage
      v-if="withdrawing"
      v-model:why="why"
      :problem="problem"
      @withdraw="withdraw"
      @away="withdrawing = false"
    />
  </main>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(300px, 1fr) minmax(340px, 1.2fr);
  gap: var(--gap-6);
}
.preview {
  border-left: 1px solid var(--line);
  padding-left: var(--gap-6);
}
.preview iframe {
  position: sticky;
  top: var(--gap-4);
  width: 100%;
  height: 78vh;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--white);
}
@media (max-width: 800px) {
  .two {
    grid-template-columns: 1fr;
  }
  .preview {
    border: 0;
    padding: 0;
  }
}
</style>
