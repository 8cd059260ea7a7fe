<script setup lang="ts">
/** How the trial is decided, said before anything is cooked: school, limits, what breaks a tie. */
import { computed, reactive, watch } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import LimitRows from '../decide/LimitRows.vue'
import { useMeasures } from '../decide/useMeasures'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean }>()
const measures = useMeasures()
const SCHOOLS: Record<Schemas['School'], string> = {
  weighted_score: 'Weighted score: what counts more weighs more',
  rank_points: 'Rank points: only the order counts, not how far apart',
  head_to_head: 'Head to head: how many of the others each one beats',
  flavour_for_effort: 'Flavour for effort: what nothing else beats in both',
  no_winner: 'No winner: which one tonight, by what there is',
}
const of = (t: Trial): Schemas['DecidingIn'] => {
  const { school, ties, limits, claim, effort } = t.deciding
  return { school, ties: [...(ties ?? [])], limits: (limits ?? []).map((x) => ({ ...x })), claim, effort }
}
const form = reactive(of(props.trial))
watch(
  () => props.trial.version,
  () => Object.assign(form, of(props.trial)),
)
const changed = computed(() => JSON.stringify(form) !== JSON.stringify(of(props.trial)))
const name = (key: string) => measures.value.find((m) => m.key === key)?.name ?? key
/** What every log may tell; some of it only where somebody measures it, so that it can be a claim alone. */
const limiting = computed(() => measures.value.filter((m) => !m.only_claimed))
const efforts = computed(() => limiting.value.filter((m) => m.less_is_better))
const TALLY = 'tally:'
const counts = computed(() => (form.claim ?? '').startsWith(TALLY))
const counted = computed({
  get: () => (form.claim ?? '').slice(TALLY.length),
  set: (word: string) => (form.claim = TALLY + word.toLowerCase()),
})
const claimWords = (m: Schemas['MeasureView']) =>
  m.less_is_better === null ? m.name : `${m.less_is_better ? 'least' : 'most'} ${m.name}`
const unused = computed(() =>
  limiting.value.filter((m) => m.less_is_better !== null && !form.ties!.includes(m.key)),
)
function up(n: number) {
  const ties = [...form.ties!]
  ties.splice(n - 1, 2, ties[n]!, ties[n - 1]!)
  form.ties = ties
}
const save = () =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/deciding', {
      params: { path: { trial_id: t.id } },
      headers,
      body: form,
    }),
  )
function leaveOut(key: string) {
  form.ties = form.ties!.filter((x) => x !== key)
}
</script>

<template>
  <form class="deciding" @submit.prevent="save">
    <p class="soft">
      Said now, it cannot be bent later. What is changed after codes were opened is told with the verdict.
    </p>
    <fieldset>
      <legend>What gives the answer</legend>
      <el-radio-group v-model="form.school" class="list" aria-label="What gives the answer">
        <el-radio v-for="(words, key) in SCHOOLS" :key="key" :value="key">{{ words }}</el-radio>
      </el-radio-group>
      <label v-if="form.school === 'flavour_for_effort'" class="field"
        >Effort is<el-select v-model="form.effort" aria-label="Effort is"
          ><el-option v-for="m in efforts" :key="m.key" :value="m.key" :label="m.name" /></el-select
      ></label>
      <label class="field"
        >Or one claim, by the log alone<el-select
          v-model="form.claim"
          aria-label="One claim"
          :empty-values="[null, undefined]"
          ><el-option value="" label="no: the trial’s own question" /><el-option
            v-for="m in measures"
            :key="m.key"
            :value="m.key"
            :label="claimWords(m)" /><el-option
            :value="counts ? form.claim! : TALLY"
            label="how many pieces are …" /></el-select
      ></label>
      <label v-if="counts" class="field"
        >How many pieces are (sealed, burst, tender …); counted at the bench under this word<el-input
          v-model="counted"
          maxlength="50"
          name="counted"
      /></label>
    </fieldset>
    <fieldset>
      <legend>A way must keep to</legend>
      <LimitRows v-model="form.limits!" :measures="limiting" />
    </fieldset>
    <fieldset>
      <legend>Where taste cannot tell, the first of these that can decides</legend>
      <ol>
        <li v-for="(k, n) in form.ties" :key="k" class="row">
          <span class="grow">{{ n + 1 }}. {{ name(k) }}</span
          ><button
            v-if="n"
            type="button"
            class="act quiet"
            :aria-label="`Earlier: ${name(k)}`"
            @click="up(n)"
          >
            Earlier</button
          ><button type="button" class="act quiet" :aria-label="`Leave out ${name(k)}`" @click="leaveOut(k)">
            Leave out
          </button>
        </li>
      </ol>
      <div class="row">
        <button
          v-for="m in unused"
          :key="m.key"
          type="button"
          class="act quiet"
          @click="form.ties = [...form.ties!, m.key]"
        >
          + {{ m.name }}
        </button>
      </div>
    </fieldset>
    <div class="row">
      <button class="act strong" :disabled="busy || !changed">Save</button
      ><span v-if="changed" class="soft">Not saved yet.</span>
    </div>
  </form>
</template>

<style scoped>
.deciding,
.deciding fieldset {
  display: grid;
  gap: var(--gap-3);
  justify-items: start;
}
fieldset {
  border: 1px solid var(--line);
  border-radius: 10px;
  padding: var(--gap-3) var(--gap-4);
  width: 100%;
}
legend {
  font-weight: 700;
  padding: 0 var(--gap-2);
}
.list {
  display: grid;
  justify-items: start;
}
.list .el-radio {
  white-space: normal;
  height: auto;
  min-height: 36px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  min-width: min(420px, 100%);
}
.field {
  min-width: min(360px, 100%);
}
</style>
