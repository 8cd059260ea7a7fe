<script setup lang="ts">
/** A technique of the library, changed, or a new one made from it. */
import { reactive } from 'vue'
import type { Schemas } from '../api/client'
import QuantityInput from '../ui/QuantityInput.vue'
import { PHASES } from '../stations/ask/stepRows'
import { newTechniqueStep, techniqueForm, type TechniqueForm } from './techniqueForm'
import FormFoot from '../ui/FormFoot.vue'

const props = defineProps<{
  technique: Schemas['TechniqueView']
  own: boolean
  known: Schemas['TechniqueList']
  problem: string
}>()
const emit = defineEmits<{ keep: [form: TechniqueForm]; close: [] }>()
const form = reactive(techniqueForm(props.technique, props.own))
</script>

<template>
  <el-dialog
    :model-value="true"
    :title="own ? 'A technique of our own' : form.name"
    width="900"
    @close="emit('close')"
  >
    <form class="stack" @submit.prevent="emit('keep', form)">
      <div class="row">
        <label class="field">Name<el-input v-model="form.name" name="technique-name" /></label
        ><label class="field"
          >Needs<el-select v-model="form.appliance_kind" filterable aria-label="Appliance"
            ><el-option
              v-for="k in known.appliance_kinds"
              :key="k"
              :value="k"
              :label="k.replace(/_/g, ' ')" /></el-select></label
        ><label class="field grow">Gear<el-input v-model="form.gear" /></label>
      </div>
      <label class="field"
        >Hazards<el-select v-model="form.hazards" multiple filterable aria-label="Hazards"
          ><el-option
            v-for="h in known.hazards"
            :key="h"
            :value="h"
            :label="h.replace(/_/g, ' ')" /></el-select
      ></label>
      <div class="row">
        <label class="field">Set from<QuantityInput v-model="form.low" kind="temperature" class="s" /></label
        ><label class="field">to<QuantityInput v-model="form.high" kind="temperature" class="s" /></label
        ><label class="field"
          >Cooked from<QuantityInput v-model="form.shortest" kind="duration" class="s" /></label
        ><label class="field">to<QuantityInput v-model="form.longest" kind="duration" class="s" /></label>
      </div>
      <div v-for="(s, i) in form.steps" :key="i" class="row step">
        <el-input v-model="s.what" class="grow" :aria-label="`Step ${i + 1}`" /><el-select
          v-model="s.phase"
          class="s"
          aria-label="Part of the job"
          ><el-option v-for="[k, w] in PHASES" :key="k" :value="k" :label="w" /></el-select
        ><el-select v-model="s.attention" class="s" aria-label="Needs"
          ><el-option value="hands" label="hands" /><el-option value="watched" label="someone" /><el-option
            value="free"
            label="nobody" /></el-select
        ><QuantityInput v-model="s.duration" kind="duration" class="s" aria-label="Lasts" /><QuantityInput
          v-model="s.offset"
          kind="duration"
          class="s"
          placeholder="in order"
          aria-label="During, after"
        /><QuantityInput
          v-model="s.set"
          kind="temperature"
          class="s"
          placeholder="not set"
          aria-label="Set to"
        /><button
          type="button"
          class="act quiet"
          :aria-label="`Remove step ${i + 1}`"
          @click="form.steps.splice(i, 1)"
        >
          ×
        </button>
      </div>
      <div>
        <button type="button" class="act quiet" @click="form.steps.push(newTechniqueStep())">
          Add a step
        </button>
      </div>
      <FormFoot :problem="problem" @close="emit('close')">Keep it</FormFoot>
    </form>
  </el-dialog>
</template>

<style scoped>
.s {
  width: 108px;
}
.step {
  flex-wrap: nowrap;
  gap: var(--gap-2);
}
@media (max-width: 800px) {
  .step {
    flex-wrap: wrap;
  }
}
</style>
