<script setup lang="ts">
/** Many ways at once: a line each, typed or pasted from a table. */
import { ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import { sideWord } from '../../bench/dates'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit; techniques: Schemas['TechniqueView'][] }>()
const emit = defineEmits<{ added: [] }>()
const table = ref('')
const base = ref('oven')
async function add() {
  const done = await props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/ways', {
      params: { path: { trial_id: props.trial.id } },
      headers,
      body: { table: table.value, base_technique: base.value },
    }),
  )
  if (!done) return
  table.value = ''
  emit('added')
}
</script>

<template>
  <form class="stack" @submit.prevent="add">
    <label class="field"
      >One way a line: name, technique, note — parted by tabs (as pasted from a table) or semicolons<el-input
        v-model="table"
        name="ways"
        type="textarea"
        :rows="7"
        :placeholder="`Milk from the start; ${sideWord('Hob', 'Stovetop')}, boil; stirred often`"
    /></label>
    <div class="row">
      <label class="field"
        >Lines without a technique are<el-select v-model="base" aria-label="Technique for lines without one"
          ><el-option
            v-for="t in techniques"
            :key="t.key"
            :value="t.key"
            :label="t.name" /></el-select></label
      ><button class="act strong end" :disabled="!table.trim()">Add them</button>
    </div>
  </form>
</template>

<style scoped>
.end {
  align-self: end;
}
</style>
