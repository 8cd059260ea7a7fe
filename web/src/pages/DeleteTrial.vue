<script setup lang="ts">
/** Deleting a trial that was put away, for good: its dish is typed once more, and why. */
import { reactive, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'

const props = defineProps<{ trial: Schemas['TrialCard'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ deleted: [] }>()
const form = reactive({ dish: '', reason: '' })
const problem = ref('')
async function remove() {
  try {
    await api.POST('/api/v1/trials/{trial_id}/deletion', {
      params: { path: { trial_id: props.trial.id } },
      body: form,
    })
    open.value = false
    emit('deleted')
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <el-dialog v-model="open" :title="`Delete “${trial.title}” for good`" width="560">
    <form class="stack" @submit.prevent="remove">
      <p>
        Its design, every tap, photo and answer, and its pages go. Tasters who sat at no other tasting go with
        it. It cannot be brought back, except from a backup or an
        <a :href="`/api/v1/trials/${trial.id}/archive`">archive</a> that you take out first. That it was
        deleted, by whom and why stays known.
      </p>
      <label class="field"
        >Type its dish, “{{ trial.dish }}”<el-input v-model="form.dish" name="dish" autocomplete="off"
      /></label>
      <label class="field">Why<el-input v-model="form.reason" name="reason" maxlength="500" /></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div class="row">
        <button class="act strong" :disabled="!form.dish || form.reason.trim().length < 3">
          Delete for good
        </button>
        <button type="button" class="act quiet" @click="open = false">Keep it</button>
      </div>
    </form>
  </el-dialog>
</template>
