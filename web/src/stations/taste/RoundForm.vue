<script setup lang="ts">
/** One round of a tasting that is being planned: what is asked, of what. */
import { computed, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { RoundDraft } from './draft'
import SampleDetails from './SampleDetails.vue'

const props = defineProps<{
  candidates: Schemas['Candidate'][]
  tests: Schemas['TestView'][]
  attributes: Schemas['AttributeView'][]
  number: number
  several: boolean
}>()
const emit = defineEmits<{ remove: [] }>()
const round = defineModel<RoundDraft>({ required: true })
const test = computed(() => props.tests.find((t) => t.key === round.value.test)!)
const front = computed(() => props.tests.filter((t) => t.front))
const others = computed(() => props.tests.filter((t) => !t.front))
const may = computed(() => props.candidates.filter((c) => c.may || c.later))
const served = computed(() => may.value.filter((c) => round.value.batches.includes(c.batch_id)))
const tooMany = computed(() => round.value.batches.length > test.value.most)
watch(
  () => round.value.batches,
  (chosen) => {
    for (const b of chosen) round.value.how[b] ??= { state: 'fresh', piece: '', shows: '' }
  },
)
watch(
  () => round.value.test,
  () => {
    if (round.value.batches.length > test.value.most)
      round.value.batches = round.value.batches.slice(0, test.value.most)
  },
)
</script>

<template>
  <fieldset class="round">
    <legend>
      <strong>{{ several ? `Round ${number}` : 'What is asked' }}</strong>
    </legend>
    <label class="field"
      >Question<el-select v-model="round.test" :aria-label="`Question of round ${number}`">
        <el-option v-for="t in front" :key="t.key" :value="t.key" :label="t.name" />
        <el-option-group label="Other questions">
          <el-option v-for="t in others" :key="t.key" :value="t.key" :label="t.name" />
        </el-option-group> </el-select
    ></label>
    <p class="small soft">{{ test.tells }}</p>
    <div class="row">
      <label class="field grow"
        >Part<el-input v-model="round.part" placeholder="whole, crust, crumb, underside"
      /></label>
      <label class="field grow"
        >Condition<el-input v-model="round.condition" placeholder="plain; with its sauce"
      /></label>
      <label class="field grow"
        >Age when tasted<el-input v-model="round.age" placeholder="10 min after plating"
      /></label>
    </div>
    <el-checkbox-group v-model="round.batches"
      ><el-checkbox
        v-for="c in candidates"
        :key="c.batch_id"
        :value="c.batch_id"
        :disabled="!c.may && !c.later"
        >{{ c.words }}<span v-if="c.later" class="soft"> (not cooked yet)</span></el-checkbox
      ></el-checkbox-group
    >
    <SampleDetails v-if="test.cups === 1" v-model="round.how" :served="served" />
    <p v-if="tooMany" class="warn small">
      “{{ test.name }}” takes {{ test.most }} {{ test.cups > 1 ? 'batches' : 'samples' }}.
    </p>
    <p v-if="test.cups > 1" class="small soft">Each of the two is served under two codes.</p>
    <div class="row">
      <label class="field grow"
        >Also, not cooked here<el-input v-model="round.outside" placeholder="the one from the packet"
      /></label>
      <label v-if="test.drawn === 'samples'" class="field grow"
        >Served twice, unknown to the panel<el-select v-model="round.twice" clearable placeholder="none"
          ><el-option v-for="c in served" :key="c.batch_id" :value="c.batch_id" :label="c.words" /></el-select
      ></label>
    </div>
    <label v-if="test.wants === 'attribute'" class="field"
      >More of what<el-select v-model="round.attribute"
        ><el-option v-for="a in attributes" :key="a.id" :value="a.id" :label="a.name" /></el-select
    ></label>
    <label v-if="test.wants === 'label' || test.wants === 'attribute'" class="field"
      >{{
        test.wants === 'label'
          ? 'Which is to be picked out'
          : 'Which is expected to have more (set it now, or leave it)'
      }}<el-select v-model="round.label" clearable placeholder="none"
        ><el-option v-for="c in served" :key="c.method_id" :value="c.method_id" :label="c.words" /></el-select
    ></label>
    <el-checkbox v-if="test.drawn === 'order' || test.key === 'preference'" v-model="round.ties">{{
      test.drawn === 'order' ? 'Places may be shared' : '“No preference” may be said'
    }}</el-checkbox>
    <label v-if="test.drawn === 'samples' && attributes.length > 1" class="field"
      >Asked of each sample (all where none is chosen)<el-select
        v-model="round.attributes"
        multiple
        placeholder="all"
        ><el-option v-for="a in attributes" :key="a.id" :value="a.id" :label="a.name" /></el-select
    ></label>
    <label v-if="test.key === 'scored' && served.length > 4" class="field break"
      >Samples a person (0: all)<el-input-number
        v-model="round.most_each"
        :min="0"
        :max="48"
        :controls="false"
    /></label>
    <label v-if="number > 1" class="field break"
      >Break before it, minutes<el-input-number
        v-model="round.break_min"
        :min="0"
        :max="600"
        :controls="false"
    /></label>
    <div v-if="several">
      <button type="button" class="act quiet" @click="emit('remove')">Leave this round out</button>
    </div>
  </fieldset>
</template>

<style scoped>
.round {
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  padding: var(--gap-3) var(--gap-4) var(--gap-4);
  display: grid;
  gap: var(--gap-3);
}
.break {
  width: 200px;
}
</style>
