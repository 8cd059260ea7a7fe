<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { lengthText, temperatureText, type Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: safety } = useQuery({
  queryKey: queryKeys.safety(),
  queryFn: async () => (await api.GET('/api/v1/safety')).data!,
})
const { data: specs } = useQuery({
  queryKey: queryKeys.workbench(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/workbench')).data!.items,
})
const foods = computed(
  () => specs.value?.find((c) => c.key === 'properties')?.fields.find((f) => f.key === 'food')?.choices ?? [],
)
const first = computed(() => props.trial.methods[0])
const form = reactive({
  shape: first.value?.piece_shape ?? '',
  thickness: (first.value?.piece_thickness_m ?? null) as Quantity,
  food: first.value?.piece_food ?? '',
  start: (first.value?.start_c ?? null) as Quantity,
})
const changed = ref(false)
const differ = computed(
  () =>
    new Set(
      props.trial.methods.map((m) => [m.piece_shape, m.piece_thickness_m, m.piece_food, m.start_c].join('|')),
    ).size > 1,
)
const chosen = computed(() => safety.value?.foods.find((f) => f.key === props.trial.food_class))
const choose = (food: string) =>
  props.edit((t, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { food_class: food },
    }),
  )
async function save() {
  for (const m of props.trial.methods) {
    const ok = await props.edit((t, headers) =>
      api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
        params: { path: { trial_id: t.id, method_id: m.id } },
        headers,
        body: {
          piece_shape: form.shape,
          piece_thickness_m: form.thickness,
          piece_food: form.food,
          start_c: form.start,
        },
      }),
    )
    if (!ok) return
  }
}
</script>

<template>
  <section class="stack">
    <h2>Food and piece</h2>
    <div class="row">
      <label class="field"
        >Kind of food, for safety<el-select
          :model-value="trial.food_class || undefined"
          class="wide"
          placeholder="not said: nothing may be tasted yet"
          aria-label="Kind of food, for safety"
          @change="choose"
          ><el-option v-for="f in safety?.foods" :key="f.key" :value="f.key" :label="f.name" /></el-select
      ></label>
      <span v-if="chosen?.note" class="small soft note">{{ chosen.note }}</span>
    </div>
    <div v-if="trial.methods.length" class="row" @input="changed = true">
      <label class="field"
        >Shape of a piece<el-select v-model="form.shape" class="w" @change="changed = true"
          ><el-option value="" label="not said" /><el-option value="sphere" label="ball" /><el-option
            value="cylinder"
            label="long roll" /><el-option value="slab" label="flat" /></el-select
      ></label>
      <label class="field"
        >Thickness<QuantityInput
          v-model="form.thickness"
          kind="length"
          class="w"
          placeholder="4 cm"
          name="thickness"
      /></label>
      <label class="field"
        >Most like<el-select v-model="form.food" class="wide" filterable @change="changed = true"
          ><el-option value="" label="not said" /><el-option
            v-for="f in foods"
            :key="f[0]"
            :value="f[0]!"
            :label="f[1]" /></el-select
      ></label>
      <label class="field"
        >Goes in at<QuantityInput
          v-model="form.start"
          kind="temperature"
          class="w"
          placeholder="5 °C"
          name="start"
      /></label>
      <button class="act strong end" :disabled="!changed" @click="save">Save for all methods</button>
    </div>
    <p class="small soft">
      With these Cook foretells each core before the probe does.<template v-if="differ">
        The methods differ here; saving makes them the same.</template
      >
    </p>
    <div v-if="differ" class="row">
      <span v-for="m in trial.methods" :key="m.id" class="row small"
        ><LoafMark :mark="m.mark" :size="22" />{{ m.tag }} {{ lengthText(m.piece_thickness_m) || '—' }},
        {{ temperatureText(m.start_c) || '—' }}</span
      >
    </div>
  </section>
</template>

<style scoped>
.w {
  width: 150px;
}
.wide {
  width: 320px;
  max-width: 100%;
}
.end {
  align-self: end;
}
.note {
  max-width: 420px;
  align-self: end;
}
section {
  margin-bottom: var(--gap-5);
}
</style>
