<script setup lang="ts">
/** The kitchen's own line on what sways what. */
import { reactive, ref } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{ trial: Trial; difference: Schemas['DifferenceView']; edit: Edit }>()
const emit = defineEmits<{ close: [] }>()
const STRENGTH = ['does not matter here', 'a little', 'clearly', 'strongly']
const sways = props.difference.sways
const line = reactive({
  field: props.difference.field,
  attributes:
    sways.map((s) => s.attribute).join(', ') || props.trial.attributes.map((a) => a.name).join(', '),
  strength: sways[0]?.strength ?? 2,
  reason: '',
})
const wrong = ref('')
async function saveLine() {
  try {
    await api.POST('/api/v1/sways', {
      body: {
        field: line.field,
        attributes: line.attributes
          .split(',')
          .map((a) => a.trim())
          .filter(Boolean),
        strength: line.strength,
        reason: line.reason,
      },
    })
    emit('close')
    await props.edit((t, headers) =>
      api.PATCH('/api/v1/trials/{trial_id}', {
        params: { path: { trial_id: t.id } },
        headers,
        body: { varied: t.varied },
      }),
    )
  } catch (error) {
    wrong.value = words(error)
  }
}
</script>

<template>
  <el-dialog
    :model-value="true"
    :title="`What ${line.field} sways, as this kitchen sees it`"
    width="560"
    @close="emit('close')"
  >
    <form class="stack" @submit.prevent="saveLine">
      <label class="field">Attributes<el-input v-model="line.attributes" /></label>
      <label class="field"
        >How hard<el-select v-model="line.strength" aria-label="How hard"
          ><el-option v-for="(s, i) in STRENGTH" :key="s" :value="i" :label="s" /></el-select
      ></label>
      <label class="field">Why<el-input v-model="line.reason" name="sway-reason" /></label>
      <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
      <p class="soft small">It only changes the order here. No difference is ever hidden.</p>
      <FormFoot @close="emit('close')">Keep this line</FormFoot>
    </form>
  </el-dialog>
</template>
