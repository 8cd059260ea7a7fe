<script setup lang="ts">
/** What each way is for, in the cook's words: a way that does not lead may be right for something else. */
import { reactive, ref, watch } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; choose: Schemas['OtherChoice'][]; edit: Edit; busy: boolean }>()
const form = reactive<Record<string, string>>({})
watch(
  () => props.trial.version,
  () => {
    for (const m of props.trial.methods) form[m.id] = m.purpose
  },
  { immediate: true },
)
const saved = ref('')
const measured = (id: string) => props.choose.find((c) => c.method === id)?.when
async function save(id: string) {
  const done = await props.edit((t, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
      params: { path: { trial_id: t.id, method_id: id } },
      headers,
      body: { purpose: form[id] },
    }),
  )
  saved.value = done ? id : ''
}
</script>

<template>
  <section class="purposes" aria-label="What each is for">
    <h2>What each is for</h2>
    <p class="soft small">
      In your words (“for soup”, “for a crowd”, “no oven free”): told on the page as the kitchen’s opinion,
      beside what was measured.
    </p>
    <form v-for="m in trial.methods" :key="m.id" class="way" @submit.prevent="save(m.id)">
      <LoafMark :mark="m.mark" :size="26" /><label class="grow"
        >{{ m.name }}<el-input v-model="form[m.id]" maxlength="300" :aria-label="`What ${m.name} is for`"
      /></label>
      <button class="act" :disabled="busy || form[m.id] === m.purpose" :aria-label="`Save for ${m.name}`">
        Save</button
      ><span v-if="saved === m.id && form[m.id] === m.purpose" class="soft small" role="status">kept</span>
      <span v-if="measured(m.id)" class="small measured">Measured: {{ measured(m.id) }}</span>
    </form>
  </section>
</template>

<style scoped>
.purposes {
  margin-top: var(--gap-5);
}
.way {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: end;
  padding: var(--gap-2) 0;
}
.way label {
  min-width: min(360px, 100%);
}
.measured {
  width: 100%;
}
</style>
