<script setup lang="ts">
/**
 * What changes a shift while it goes on: one more batch, an appliance that failed. The plan moves by itself.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, words } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { BenchBatch } from './useBench'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ shift: string; trial: string; batches: BenchBatch[] }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const path = { params: { path: { shift_id: props.shift } } }
const { data: trialData } = useQuery({
  queryKey: queryKeys.trial(props.trial),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: props.trial } } })).data!,
})
const { data: appliances } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const used = computed(() =>
  (appliances.value ?? []).filter((a) =>
    props.batches.some((b) => b.steps.some((s) => s.appliance === a.id)),
  ),
)
const failed = ref('')
const instead = ref<string | null>(null)
const told = ref('')
const problem = ref('')
async function more(method: string) {
  try {
    await api.POST('/api/v1/shifts/{shift_id}/batches', { ...path, body: { method_id: method } })
    emit('changed')
  } catch (error) {
    problem.value = words(error)
  }
}
async function gone() {
  try {
    const { data } = await api.POST('/api/v1/shifts/{shift_id}/appliance-gone', {
      ...path,
      body: { appliance_id: failed.value, instead_id: instead.value },
    })
    told.value =
      [
        data!.moved.length && `Moved: ${data!.moved.join(', ')}.`,
        data!.given_up.length && `Given up: ${data!.given_up.join(', ')}.`,
        data!.begun.length &&
          `Had begun in it: ${data!.begun.join(', ')}. ` +
            'Finish them elsewhere and note it, or mark them as spoiled.',
      ]
        .filter(Boolean)
        .join(' ') || 'Nothing in this shift needs it any more.'
  } catch (error) {
    problem.value = words(error)
  }
}
const replacements = computed(() => (appliances.value ?? []).filter((a) => a.id !== failed.value))
</script>

<template>
  <el-dialog
    :model-value="true"
    width="620"
    title="Change this shift"
    @close="told ? emit('changed') : emit('close')"
  >
    <div class="stack">
      <h3>One more batch of</h3>
      <div class="row">
        <button v-for="m in trialData?.methods" :key="m.id" class="act" @click="more(m.id)">
          <LoafMark :mark="m.mark" :size="24" />{{ m.tag }}
        </button>
      </div>
      <h3>An appliance failed</h3>
      <div class="row">
        <label class="field"
          >Which<el-select v-model="failed" class="w" aria-label="Which failed"
            ><el-option v-for="a in used" :key="a.id" :value="a.id" :label="a.name" /></el-select></label
        ><label class="field"
          >Instead<el-select
            v-model="instead"
            clearable
            placeholder="none: give them up"
            class="w"
            aria-label="Instead"
            ><el-option
              v-for="a in replacements"
              :key="a.id"
              :value="a.id"
              :label="a.name" /></el-select></label
        ><button class="act end" :disabled="!failed" @click="gone">Plan without it</button>
      </div>
      <p v-if="told" class="warn" role="status">{{ told }}</p>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <p class="soft small">To drop a batch: Spoiled, Void. To serve later or with more hands: What if.</p>
    </div>
  </el-dialog>
</template>

<style scoped>
.w {
  width: 210px;
}
.end {
  align-self: end;
}
</style>
