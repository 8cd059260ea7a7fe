<script setup lang="ts">
/** A finish given to a batch that came out pale, wet or underdone: a sample of its own, its parent kept. */
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, words } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { newId } from '../../bench/outbox'
import Chips from '../../ui/Chips.vue'
import type { BenchBatch } from './useBench'
import { queryKeys } from '../../api/queries/keys'
import { sideWord } from '../../bench/dates'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{ shift: string; batch: BenchBatch }>()
const emit = defineEmits<{ close: []; made: [] }>()
const { data: appliances } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const FINISHES: [string, string, string][] = [
  ['sear each side', 'pan', '2 min'],
  ['torch the top', 'torch', '1 min'],
  [`under the ${sideWord('grill', 'broiler')}`, 'grill_element', '4 min'],
  ['back into the heat', '', '5 min'],
  ['drain and dry in hot air', 'fan_oven', '5 min'],
]
const form = reactive({
  finish: '',
  technique: '',
  duration: '4 min',
  appliance: null as string | null,
  set: '',
  cue: '',
  why: '',
})
const problem = ref('')
const busy = ref(false)
function take(finish: string) {
  const f = FINISHES.find(([words]) => words === finish)
  if (f) Object.assign(form, { finish: f[0], technique: f[1], duration: f[2] })
}
async function make() {
  busy.value = true
  try {
    await api.POST('/api/v1/shifts/{shift_id}/rescues', {
      params: { path: { shift_id: props.shift } },
      body: {
        batch: props.batch.id,
        finish: form.finish,
        why: form.why,
        duration_s: form.duration,
        technique: form.technique,
        appliance_id: form.appliance,
        set_point_c: form.set || null,
        cue: form.cue,
        device: newId(),
        counter: 0,
      },
    })
    emit('made')
  } catch (error) {
    problem.value = words(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-dialog :model-value="true" width="620" title="Rescue" @close="emit('close')">
    <form class="stack" @submit.prevent="make">
      <p class="row nowrap">
        <LoafMark :mark="batch.mark" :size="32" /><strong>{{ batch.tag }}</strong> {{ batch.name }}: what it
        is now stays on record; the finish makes a sample of its own.
      </p>
      <Chips :model-value="form.finish" :of="FINISHES.map((f) => f[0])" @update:model-value="take" />
      <label class="field">Finish<el-input v-model="form.finish" name="finish" /></label>
      <label class="field"
        >Because it is<el-input v-model="form.why" name="why" placeholder="pale underneath"
      /></label>
      <div class="row">
        <label class="field">For<el-input v-model="form.duration" name="duration" /></label
        ><label class="field"
          >In<el-select v-model="form.appliance" clearable placeholder="no appliance" class="w"
            ><el-option
              v-for="a in appliances"
              :key="a.id"
              :value="a.id"
              :label="a.name" /></el-select></label
        ><label class="field">Set to<el-input v-model="form.set" placeholder="220 °C" /></label
        ><label class="field">Until<el-input v-model="form.cue" placeholder="golden" /></label>
      </div>
      <FormFoot :problem="problem" :disabled="busy" @close="emit('close')">Begin the rescue</FormFoot>
    </form>
  </el-dialog>
</template>

<style scoped>
.nowrap {
  flex-wrap: nowrap;
}
.w {
  width: 190px;
}
</style>
