<script setup lang="ts">
/** Another lot was bought: what it does is worked out before it is put in. */
import { reactive, ref } from 'vue'
import { api, ifMatch, words, type Schemas, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import { shares, type LotRow } from './lotRows'

const props = defineProps<{ trial: Trial; row: LotRow; allergens: string[]; edit: Edit }>()
const emit = defineEmits<{ close: [] }>()
const bought = reactive({
  name: props.row.name,
  grade: props.row.grade,
  source: props.row.source,
  age: props.row.age,
  price: props.row.price,
  composition: props.row.composition,
  allergens: [...props.row.allergens],
  methods: props.trial.methods.map((m) => m.id),
})
const found = ref<Schemas['SubstitutionView'] | null>(null)
const problem = ref('')
async function substitute(take: boolean) {
  if (!props.row.id) return
  const all = bought.methods.length === props.trial.methods.length
  const body = {
    name: bought.name,
    lot: props.row.lot,
    source: bought.source,
    grade: bought.grade,
    age_days: bought.age || null,
    price_per_kg: bought.price || null,
    pack_kg: props.row.pack,
    composition: shares(bought.composition),
    allergens: bought.allergens,
    method_ids: all ? null : bought.methods,
    take,
  } as unknown as Schemas['SubstitutionIn']
  const path = { trial_id: props.trial.id, ingredient_id: props.row.id }
  try {
    found.value =
      (
        await api.POST('/api/v1/trials/{trial_id}/ingredients/{ingredient_id}/substitutions', {
          params: { path },
          headers: ifMatch(props.trial.version),
          body,
        })
      ).data ?? null
    problem.value = ''
    if (take) {
      emit('close')
      await props.edit((t) => api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: t.id } } }))
    }
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <el-dialog :model-value="true" :title="`Another lot of ${row.name}`" width="680" @close="emit('close')">
    <form class="stack" @submit.prevent="substitute(false)">
      <div class="row">
        <label class="field">What was bought<el-input v-model="bought.name" name="bought-name" /></label
        ><label class="field">Grade<el-input v-model="bought.grade" name="bought-grade" /></label
        ><label class="field">Days old<el-input v-model="bought.age" class="w80" /></label
        ><label class="field">Price a kg<el-input v-model="bought.price" class="w80" /></label>
      </div>
      <label class="field"
        >On its label<el-input
          v-model="bought.composition"
          name="bought-label"
          placeholder="fat 60 %, salt 1.5 %"
      /></label>
      <label class="field"
        >Allergens<el-select
          v-model="bought.allergens"
          multiple
          filterable
          allow-create
          aria-label="Allergens of the bought lot"
          ><el-option v-for="a in allergens" :key="a" :value="a" :label="a" /></el-select
      ></label>
      <label class="field"
        >Goes into<el-select
          v-model="bought.methods"
          multiple
          collapse-tags
          :max-collapse-tags="8"
          aria-label="Methods that take it"
          ><el-option v-for="m in trial.methods" :key="m.id" :value="m.id" :label="m.tag" /></el-select
      ></label>
      <div class="row"><button class="act strong">Work out what it does</button></div>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <template v-if="found"
        ><p
          v-for="e in found.effects"
          :key="e.text"
          :class="{ warn: e.weight !== 'note', bad: e.weight === 'redo' }"
        >
          {{ e.text }}
        </p>
        <p v-if="!found.effects.length">As far as it is written it does nothing to the design.</p>
        <div class="row">
          <button type="button" class="act" @click="substitute(true)">Put it in</button
          ><button type="button" class="act quiet" @click="emit('close')">Leave it</button>
        </div></template
      >
    </form>
  </el-dialog>
</template>

<style scoped>
.w80 {
  width: 84px;
}
</style>
