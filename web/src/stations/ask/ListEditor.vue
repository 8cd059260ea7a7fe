<script setup lang="ts">
/** Finishes of one shared cook, or varieties of one ingredient: a list from which methods are made. */
import { ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import { readSets, saySets } from './sets'

const props = defineProps<{ trial: Trial; edit: Edit; techniques: Schemas['TechniqueView'][] }>()
const kept = props.trial.layout as {
  base_technique?: string
  finishes?: { name: string; technique?: string; sets?: Record<string, number> }[]
  ingredient?: string
  varieties?: string[]
}
const base = ref(kept.base_technique ?? '')
const finishes = ref(
  (kept.finishes ?? [{ name: '' }, { name: '' }]).map((f) => ({
    name: f.name,
    technique: f.technique ?? '',
    sets: saySets(f.sets ?? {}),
    kept: f.sets ?? {},
  })),
)
const ingredient = ref(kept.ingredient ?? '')
const varieties = ref((kept.varieties ?? []).join('\n'))
const branch = props.trial.kind === 'branch'
function lay() {
  const body: Schemas['LayoutIn'] = branch
    ? {
        branch: {
          base_technique: base.value,
          finishes: finishes.value.map((f) => ({
            name: f.name,
            technique: f.technique,
            sets: f.sets === saySets(f.kept) ? f.kept : readSets(f.sets),
          })),
        },
      }
    : {
        varieties: {
          base_technique: base.value,
          ingredient: ingredient.value,
          varieties: varieties.value
            .split('\n')
            .map((v) => v.trim())
            .filter(Boolean),
        },
      }
  return props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', { params: { path: { trial_id: t.id } }, headers, body }),
  )
}
</script>

<template>
  <section class="stack">
    <label class="field w"
      >{{ branch ? 'The shared cook' : 'All by the steps of'
      }}<el-select
        v-model="base"
        clearable
        filterable
        placeholder="the first method"
        aria-label="Steps come from"
        ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
    ></label>
    <template v-if="branch">
      <h3>Finishes</h3>
      <div v-for="(f, i) in finishes" :key="i" class="row">
        <el-input
          v-model="f.name"
          class="w"
          :name="`finish-${i}`"
          placeholder="torch"
          :aria-label="`Finish ${i + 1}`"
        /><el-select
          v-model="f.technique"
          class="w"
          clearable
          filterable
          placeholder="none: as it comes"
          :aria-label="`Steps of finish ${i + 1}`"
          ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
        ><el-input
          v-model="f.sets"
          class="w"
          placeholder="cooks 2 min"
          :aria-label="`What finish ${i + 1} sets`"
        /><button type="button" class="act quiet" @click="finishes.splice(i, 1)">×</button>
      </div>
      <div>
        <button
          type="button"
          class="act quiet"
          @click="finishes.push({ name: '', technique: '', sets: '', kept: {} })"
        >
          Add a finish
        </button>
      </div>
    </template>
    <template v-else>
      <label class="field w"
        >Ingredient that is exchanged<el-input
          v-model="ingredient"
          name="exchanged"
          placeholder="pudding rice"
      /></label>
      <label class="field"
        >Varieties, one a line<el-input v-model="varieties" name="varieties" type="textarea" :rows="5"
      /></label>
    </template>
    <div class="row"><button type="button" class="act strong" @click="lay">Lay out</button></div>
  </section>
</template>

<style scoped>
.w {
  width: 300px;
  max-width: 100%;
}
</style>
