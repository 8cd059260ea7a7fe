<script setup lang="ts">
/** A tasting that is being laid: rounds, people, what is served with it. */
import { computed, ref } from 'vue'
import { api, type Schemas } from '../../api/client'
import { asSent, names, newRound, servedWith } from './draft'
import RoundForm from './RoundForm.vue'
import SessionPlan from './SessionPlan.vue'

const props = defineProps<{
  trial: string
  list: Schemas['TastingList']
  attributes: Schemas['AttributeView'][]
  run: (act: () => Promise<unknown>) => Promise<boolean>
  problem: string
}>()
const emit = defineEmits<{ close: [] }>()
const may = props.list.candidates.filter((c) => c.may).map((c) => c.batch_id)
const rounds = ref([newRound(may)])
const name = ref('')
const seated = ref<string[]>([])
const fresh = ref('')
const also = ref('')
const oneWay = ref(false)
const known = computed(() => props.list.panelists)
const body = computed<Schemas['NewTasting']>(() => ({
  name: name.value,
  batches: [],
  part: '',
  age: '',
  rounds: rounds.value.map(asSent),
  panelists: seated.value,
  tasters: names(fresh.value),
  served_with: servedWith(also.value),
  one_way: oneWay.value,
}))
async function make() {
  const path = { params: { path: { trial_id: props.trial } } }
  const ok = await props.run(() =>
    api.POST('/api/v1/trials/{trial_id}/tastings', { ...path, body: body.value }),
  )
  if (ok) emit('close')
}
</script>

<template>
  <form class="stack" @submit.prevent="make">
    <label class="field">Name<el-input v-model="name" placeholder="Plain, at the table" /></label>
    <RoundForm
      v-for="(_, i) in rounds"
      :key="i"
      v-model="rounds[i]!"
      :number="i + 1"
      :several="rounds.length > 1"
      :candidates="list.candidates"
      :tests="list.tests"
      :attributes="attributes"
      @remove="rounds.splice(i, 1)"
    />
    <div>
      <button type="button" class="act quiet" @click="rounds.push(newRound(may))">
        Another round (a part, with its sauce, a guess)
      </button>
    </div>
    <label v-if="known.length" class="field"
      >Tasters who have sat here before<el-select
        v-model="seated"
        multiple
        filterable
        placeholder="tap a name"
        ><el-option v-for="p in known" :key="p.id" :value="p.id" :label="p.name" /></el-select
    ></label>
    <label class="field"
      >New tasters, one a line<el-input v-model="fresh" name="tasters" type="textarea" :rows="3"
    /></label>
    <label class="field"
      >Served with, one a line, with its allergens<el-input
        v-model="also"
        name="served-with"
        type="textarea"
        :rows="2"
        placeholder="cracker: gluten&#10;water: none"
    /></label>
    <div>
      <el-checkbox v-model="oneWay">Nobody may go back to a sample</el-checkbox>
    </div>
    <SessionPlan :trial="trial" :body="body" />
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row">
      <button class="act strong">Deal codes and orders</button
      ><button type="button" class="act quiet" @click="emit('close')">Not now</button>
    </div>
  </form>
</template>
