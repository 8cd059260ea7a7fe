<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import type { Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean; kinds: Schemas['KindView'][] }>()
const KEPT = [
  'title',
  'question',
  'dish',
  'aliases',
  'answer_rule',
  'hunch',
  'matters',
  'pieces',
  'kind',
  'fairness',
  'done_rule',
  'matches',
  'batches_each',
  'eaters',
  'leftover_use',
] as const
type Form = Pick<Trial, (typeof KEPT)[number]> & { serving: Quantity; credited: string }
const of = (t: Trial): Form => ({
  ...(Object.fromEntries(KEPT.map((k) => [k, t[k]])) as Pick<Trial, (typeof KEPT)[number]>),
  serving: t.serving_kg,
  credited: String(t.layout.credited ?? ''),
})
const form = reactive<Form>(of(props.trial))
watch(
  () => props.trial,
  (t) => Object.assign(form, of(t)),
)
const changed = computed(() => JSON.stringify({ ...form }) !== JSON.stringify(of(props.trial)))
const single = computed(() => ['one_change', 'champion', 'chain'].includes(form.kind))
function save() {
  const { serving, ...rest } = form
  return props.edit((t, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { ...rest, serving_kg: serving },
    }),
  )
}
</script>

<template>
  <form class="two" @submit.prevent="save">
    <label class="field wide">Question<el-input v-model="form.question" type="textarea" :rows="2" /></label>
    <label class="field">Title<el-input v-model="form.title" /></label>
    <label class="field">Dish<el-input v-model="form.dish" /></label>
    <label class="field">Other names of the dish, for search<el-input v-model="form.aliases" /></label>
    <label class="field wide"
      >What counts as an answer<el-input
        v-model="form.answer_rule"
        type="textarea"
        :rows="2"
        placeholder="Best weighted score, among those on the table within 60 min"
    /></label>
    <label class="field wide"
      >Your hunch before the test<el-input
        v-model="form.hunch"
        placeholder="Written down first, because it biases"
    /></label>
    <label class="field"
      >Kind of trial<el-select v-model="form.kind" aria-label="Kind of trial"
        ><el-option
          v-for="k in kinds"
          :key="k.kind"
          :value="k.kind"
          :label="`${k.name}: ${k.what}`" /></el-select
    ></label>
    <label class="field"
      >Fair how<el-select v-model="form.fairness" aria-label="Fair how"
        ><el-option value="same_recipe" label="Same recipe in each" /><el-option
          value="each_at_its_best"
          label="Each at its best" /></el-select
    ></label>
    <label class="field"
      >Done how<el-select v-model="form.done_rule" aria-label="Done how"
        ><el-option value="by_clock" label="Stopped by the clock" /><el-option
          value="by_state"
          label="Stopped by the state (time is a result)" /><el-option
          value="until_match"
          label="Until it matches a sample (time is a result)" /></el-select
    ></label>
    <label v-if="form.done_rule === 'until_match'" class="field wide"
      >Sample on the table that it is to match<el-input
        v-model="form.matches"
        placeholder="the oven’s first tray, kept covered"
    /></label>
    <label v-if="single" class="field wide"
      >The one thing you mean to credit<el-input
        v-model="form.credited"
        placeholder="preparation, rest, amount of oil, …: as the list of differences calls it"
    /></label>
    <label class="field"
      >Smallest difference that matters, in points<el-input-number
        v-model="form.matters"
        :min="0"
        :max="10"
        :step="0.1"
        controls-position="right"
    /></label>
    <label class="field"
      >Compare at this many pieces<el-input-number
        v-model="form.pieces"
        :min="1"
        :max="10000"
        controls-position="right"
    /></label>
    <label class="field"
      >Batches of each method<el-input-number
        v-model="form.batches_each"
        :min="1"
        :max="12"
        controls-position="right"
    /></label>
    <label class="field"
      >One serving weighs<QuantityInput v-model="form.serving" kind="mass" placeholder="120 g"
    /></label>
    <label class="field"
      >Servings eaten at the table<el-input-number
        v-model="form.eaters"
        :min="0"
        :max="1000"
        controls-position="right"
    /></label>
    <label class="field"
      >Leftovers go to<el-input v-model="form.leftover_use" placeholder="soup, freezer, a second trial"
    /></label>
    <div class="wide row">
      <button class="act strong" :disabled="busy || !changed">Save</button
      ><span v-if="changed" class="soft">Not saved yet.</span>
    </div>
  </form>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-3) var(--gap-4);
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 800px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
