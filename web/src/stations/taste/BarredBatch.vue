<script setup lang="ts">
/** A batch that may not be tasted: why, what somebody can answer or clear, and the lead's own word. */
import { ref } from 'vue'
import { api, type Schemas } from '../../api/client'
import { temperature } from '../../bench/units'

const props = defineProps<{
  batch: Schemas['Candidate']
  lead: boolean
  run: (act: () => Promise<unknown>) => Promise<boolean>
}>()
const emit = defineEmits<{ own: [] }>()
const why = ref('')
const path = { params: { path: { batch_id: props.batch.batch_id } } }
const state = (question: string, answer: 'yes' | 'no') =>
  props.run(() =>
    api.POST('/api/v1/batches/{batch_id}/statements', { ...path, body: { question, answer, text: '' } }),
  )
const clear = (reading: string) =>
  props.run(() =>
    api.POST('/api/v1/batches/{batch_id}/clearings', { ...path, body: { reading, why: why.value } }),
  )
</script>

<template>
  <li class="small">
    <strong>{{ batch.words }}</strong>: not for tasting yet. {{ batch.why_not }}
    <p v-for="a in batch.asked" :key="a.key" class="row">
      <span>{{ a.text }}</span><button class="act quiet" @click="state(a.key, 'yes')">Yes</button
      ><button class="act quiet" @click="state(a.key, 'no')">No</button>
    </p>
    <form v-for="r in batch.low" :key="r.id" class="row" @submit.prevent="clear(r.id)">
      <span>{{ temperature(r.celsius, 1) }} was read without naming a piece.</span>
      <el-input
        v-model="why"
        class="why"
        placeholder="Why it no longer counts"
        aria-label="Why this reading no longer counts"
      /><button class="act quiet" :disabled="why.trim().length < 10">Clear this reading</button>
    </form>
    <button v-if="batch.may_be_owned && lead" class="act quiet" @click="emit('own')">
      Own it in writing…
    </button>
  </li>
</template>

<style scoped>
li {
  margin-bottom: var(--gap-2);
}
p,
form {
  margin: var(--gap-1) 0;
}
.why {
  max-width: 320px;
}
</style>
