<script setup lang="ts">
/** An appliance, new or changed: its three powers kept apart, what its dial says, what it holds. */
import { useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, ifMatch, words, type Schemas } from '../api/client'
import { queryKeys } from '../api/queries/keys'
import QuantityInput from '../ui/QuantityInput.vue'
import { applianceForm, applianceSent } from './applianceForm'
import FormFoot from '../ui/FormFoot.vue'

const props = defineProps<{ appliance: Schemas['ApplianceView'] | null; kinds: string[] }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const form = reactive(applianceForm(props.appliance))
const problem = ref('')
const kindWords = (k: string) => k.replace(/_/g, ' ')
async function save() {
  const body = applianceSent(form)
  try {
    if (props.appliance)
      await api.PUT('/api/v1/appliances/{appliance_id}', {
        params: { path: { appliance_id: props.appliance.id } },
        headers: ifMatch(props.appliance.version),
        body,
      })
    else await api.POST('/api/v1/appliances', { body })
    emit('close')
    await client.invalidateQueries({ queryKey: queryKeys.appliances() })
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <el-dialog
    :model-value="true"
    :title="appliance ? form.name : 'An appliance'"
    width="680"
    @close="emit('close')"
  >
    <form class="grid" @submit.prevent="save">
      <label class="field">Name<el-input v-model="form.name" name="appliance-name" /></label>
      <label class="field"
        >Kind<el-select v-model="form.kind"
          ><el-option v-for="k in kinds" :key="k" :value="k" :label="kindWords(k)" /></el-select
      ></label>
      <label class="field"
        >Input from the mains<QuantityInput v-model="form.input_w" kind="power" placeholder="1250 W"
      /></label>
      <label class="field"
        >Output by its label<QuantityInput v-model="form.rated_w" kind="power" placeholder="800 W"
      /></label>
      <label class="field"
        >Output you measured<QuantityInput v-model="form.measured_w" kind="power" placeholder="700 W"
      /></label>
      <label class="field"
        >Measured minus set, K<el-input v-model="form.offset_k" inputmode="numeric" placeholder="-12"
      /></label>
      <label class="field"
        >Holds, pieces<el-input v-model="form.capacity_pieces" inputmode="numeric"
      /></label>
      <label class="field">Circuit<el-input v-model="form.circuit" /></label>
      <label class="field"
        >Stands where (appliances at one spot can be watched together)<el-input v-model="form.spot"
      /></label>
      <label class="field"
        >Words on its dial, one a line<el-input
          v-model="form.dial"
          type="textarea"
          :rows="3"
          placeholder="low: 88 °C, measured"
      /></label>
      <label class="field"
        >Holds by size, one a line<el-input
          v-model="form.capacities"
          type="textarea"
          :rows="3"
          placeholder="6 of 5 cm"
      /></label>
      <label class="field wide">Quirks<el-input v-model="form.notes" type="textarea" :rows="2" /></label>
      <FormFoot :problem="problem" @close="emit('close')">Save</FormFoot>
    </form>
  </el-dialog>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-3);
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 700px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
