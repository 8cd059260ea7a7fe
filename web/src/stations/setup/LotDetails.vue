<script setup lang="ts">
/** All that is said of one lot besides its name and amounts; of many methods, their amounts too. */
import type { Trial } from '../../api/client'
import type { Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { LotRow } from './lotRows'

const r = defineModel<LotRow>({ required: true })
defineProps<{ trial: Trial; many: boolean }>()
const emit = defineEmits<{ bought: [] }>()
</script>

<template>
  <div class="row">
    <label class="field">From<el-input v-model="r.source" class="w160" /></label
    ><label class="field">Grade<el-input v-model="r.grade" class="w110" /></label
    ><label class="field">Days old<el-input v-model="r.age" class="w80" inputmode="decimal" /></label
    ><label class="field"
      >Pack<QuantityInput v-model="r.pack" kind="mass" class="w80" placeholder="500 g" /></label
    ><label class="field grow"
      >On its label<el-input v-model="r.composition" placeholder="fat 82 %, salt 1.2 %, water 16 %" /></label
    ><button v-if="r.id" class="act quiet end" @click="emit('bought')">The shop had another</button>
  </div>
  <p v-if="r.stands.name" class="small soft">
    Stands in for {{ r.stands.name }} {{ r.stands.grade }} as planned.
  </p>
  <div v-if="many" class="grid">
    <label v-for="m in trial.methods" :key="m.id" class="small"
      >{{ m.tag
      }}<QuantityInput
        :model-value="r.amounts[m.id] ?? null"
        kind="mass"
        class="w80"
        placeholder="none"
        :aria-label="`${r.name} in ${m.tag}`"
        @update:model-value="(v: Quantity) => (r.amounts[m.id] = v)"
    /></label>
  </div>
</template>

<style scoped>
.w160 {
  width: 160px;
}
.w110 {
  width: 110px;
}
.w80 {
  width: 84px;
}
.end {
  align-self: end;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(100px, 1fr));
  gap: var(--gap-2);
  margin-top: var(--gap-2);
}
</style>
