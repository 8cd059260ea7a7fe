<script setup lang="ts">
/** A method from a technique of the library. */
import { computed, reactive } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import { minutes, temperature } from '../../bench/units'
import type { Edit } from '../useTrial'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{
  trial: Trial
  edit: Edit
  busy: boolean
  problem: string
  techniques: Schemas['TechniqueView'][]
}>()
const emit = defineEmits<{ close: [] }>()
const fresh = reactive({ technique: 'oven', name: '' })
const picked = computed(() => props.techniques.find((t) => t.key === fresh.technique))
function range(key: string, r: number[]): string {
  const [low, high] = r as [number, number]
  if (key === 'set_point_c') return `set to ${temperature(low)} to ${temperature(high)}`
  return key === 'power_w'
    ? `${low} to ${high} W into the food`
    : `cooked ${minutes(low)} to ${minutes(high)}`
}
const usual = computed(() =>
  Object.entries(picked.value?.ranges ?? {})
    .map(([k, r]) => range(k, r))
    .join(', '),
)
async function add() {
  const done = await props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/methods', {
      params: { path: { trial_id: props.trial.id } },
      headers,
      body: { ...fresh },
    }),
  )
  if (done) emit('close')
}
</script>

<template>
  <el-dialog :model-value="true" title="Add a method" width="560" @close="emit('close')">
    <form class="stack" @submit.prevent="add">
      <label class="field"
        >Technique<el-select v-model="fresh.technique" filterable
          ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
      ></label>
      <p v-if="picked" class="soft small">
        Usual:
        {{ usual || 'no range noted' }}. Gear: {{ picked.gear.join(', ') || 'none noted' }}.
        <router-link to="/techniques">The library</router-link>
      </p>
      <label class="field"
        >Name (if other than the technique’s)<el-input v-model="fresh.name" name="method-name"
      /></label>
      <p class="soft small">Its steps are a start and can be edited.</p>
      <FormFoot :problem="problem" :disabled="busy" @close="emit('close')">Add</FormFoot>
    </form>
  </el-dialog>
</template>
