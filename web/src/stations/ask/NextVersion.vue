<script setup lang="ts">
/** Next version, challenge, failed try: everything is copied, only the change and the defect are asked. */
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words, type Method, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{
  trial: Trial
  edit: Edit
  busy: boolean
  problem: string
  what: 'version' | 'challenge' | 'failed'
  /** Of which method; null where the leader is challenged. */
  of: Method | null
}>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const answer = reactive({ change: '', aimed_defect: '', name: '', note: '' })
const wrong = ref('')
const title = computed(() => {
  if (props.what === 'failed') return `A failed try at ${props.of?.name}`
  return props.what === 'challenge' ? 'Challenge what leads' : `Next version of ${props.of?.name}`
})
const at = () => ({ trial_id: props.trial.id, method_id: props.of?.id ?? '' })
async function challenge() {
  try {
    const { data } = await api.POST('/api/v1/trials/{trial_id}/challenges', {
      params: { path: { trial_id: props.trial.id } },
      body: {
        champion_id: props.of?.id ?? null,
        change: answer.change,
        aimed_defect: answer.aimed_defect,
        question: '',
      },
    })
    if (data) await router.push(`/trials/${data.id}/ask`)
  } catch (error) {
    wrong.value = words(error)
  }
}
const version = () =>
  props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/methods/{method_id}/versions', {
      params: { path: at() },
      headers,
      body: { name: answer.name, change: answer.change, aimed_defect: answer.aimed_defect },
    }),
  )
const failed = () =>
  props.edit((_, headers) =>
    api.POST('/api/v1/trials/{trial_id}/methods/{method_id}/failed-tries', {
      params: { path: at() },
      headers,
      body: { note: answer.note },
    }),
  )
async function go() {
  if (props.what === 'challenge') await challenge()
  else if (await (props.what === 'version' ? version() : failed())) emit('close')
}
</script>

<template>
  <el-dialog :model-value="true" :title="title" width="560" @close="emit('close')">
    <form class="stack" @submit.prevent="go">
      <template v-if="what === 'failed'"
        ><label class="field">What went wrong<el-input v-model="answer.note" name="note" /></label
      ></template>
      <template v-else>
        <p class="soft small">
          Everything is copied: lots, amounts, steps, attributes. Only two things are asked.
        </p>
        <label class="field"
          >What is changed<el-input v-model="answer.change" name="change" placeholder="coated in rice flour"
        /></label>
        <label class="field"
          >Which defect it is meant to cure<el-input
            v-model="answer.aimed_defect"
            name="defect"
            placeholder="stalks a little dry"
        /></label>
        <label v-if="what === 'version'" class="field"
          >Name<el-input v-model="answer.name" placeholder="made from the change where left out"
        /></label>
      </template>
      <FormFoot :problem="wrong || problem" :disabled="busy" @close="emit('close')">{{
        what === 'failed' ? 'Count it' : 'Make it'
      }}</FormFoot>
    </form>
  </el-dialog>
</template>
