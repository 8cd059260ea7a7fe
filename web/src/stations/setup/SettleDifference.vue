<script setup lang="ts">
/** A difference that slipped in: accepted in writing, or mended in all methods. */
import { ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import { groupsOf } from './groups'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{
  trial: Trial
  difference: Schemas['DifferenceView']
  how: 'accept' | 'mend'
  edit: Edit
  busy: boolean
  problem: string
}>()
const emit = defineEmits<{ close: [] }>()
const path = { params: { path: { trial_id: props.trial.id } } }
const groups = groupsOf(props.difference.values)
const reason = ref('')
/** The method that all others become like. */
const like = ref('')
const accept = () =>
  props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/accepted-differences', {
      ...path,
      headers,
      body: { field: props.difference.field, signature: props.difference.signature, reason: reason.value },
    }),
  )
const mend = () =>
  props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/mended-differences', {
      ...path,
      headers,
      body: { field: props.difference.field, like: like.value },
    }),
  )
async function settle() {
  if (await (props.how === 'accept' ? accept() : mend())) emit('close')
}
const methodOf = (tag: string | undefined) => props.trial.methods.find((m) => m.tag === tag)?.id ?? ''
</script>

<template>
  <el-dialog
    :model-value="true"
    :title="`${how === 'accept' ? 'Accept' : 'Mend'}: ${difference.field}`"
    width="560"
    @close="emit('close')"
  >
    <form class="stack" @submit.prevent="settle">
      <template v-if="how === 'accept'">
        <p v-for="g in groups" :key="g.value">
          <strong>{{ g.tags.join(', ') }}</strong> {{ g.value }}
        </p>
        <label class="field"
          >Why it may differ<el-input
            v-model="reason"
            name="reason"
            type="textarea"
            :rows="2"
            placeholder="It comes with the method: …"
        /></label>
      </template>
      <template v-else>
        <p>Make it the same in all methods, as it is in</p>
        <el-radio-group v-model="like" class="stack"
          ><el-radio v-for="g in groups" :key="g.value" :value="methodOf(g.tags[0])"
            >{{ g.value }}
            <span class="soft"
              >({{ g.tags.slice(0, 6).join(', ') }}{{ g.tags.length > 6 ? ', …' : '' }})</span
            ></el-radio
          ></el-radio-group
        >
      </template>
      <FormFoot :problem="problem" :disabled="busy || (how === 'mend' && !like)" @close="emit('close')">{{
        how === 'accept' ? 'Accept' : 'Make it the same'
      }}</FormFoot>
    </form>
  </el-dialog>
</template>
