<script setup lang="ts">
/** How a rehearsal is gone through: who cooks, and what goes wrong. */
import { reactive, watch } from 'vue'
import type { Schemas } from '../../api/client'
import type { Wish } from './useRehearsal'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{ possible: Schemas['MishapView'][]; problem: string; first: Wish }>()
const emit = defineEmits<{ go: [wish: Wish]; close: [] }>()
const wish = reactive<Wish>({ hands: props.first.hands, mishaps: [...props.first.mishaps] })
// Whether you forget a turn is yours.
const offered = (m: Schemas['MishapView']) =>
  m.why_not ||
  (m.mishap === 'forgotten_turn' && !wish.hands ? 'you cook: whether you forget it is yours' : '')
watch(
  () => wish.hands,
  () => {
    wish.mishaps = wish.mishaps.filter((k) => !offered(props.possible.find((p) => p.mishap === k)!))
  },
)
</script>

<template>
  <form class="stack" @submit.prevent="emit('go', wish)">
    <p class="soft">
      Stand-ins for food, thermometers, scale and meters go through the plan on simulated time. Nothing of it
      counts anywhere.
    </p>
    <fieldset class="plain-set">
      <legend>Who cooks</legend>
      <el-radio-group v-model="wish.hands" aria-label="Who cooks">
        <el-radio :value="true">A stand-in taps what is due: watch</el-radio>
        <el-radio :value="false">You tap, as on the day</el-radio>
      </el-radio-group>
    </fieldset>
    <fieldset class="plain-set">
      <legend>What goes wrong</legend>
      <el-checkbox-group v-model="wish.mishaps" class="mishaps" aria-label="What goes wrong">
        <el-checkbox
          v-for="m in possible"
          :key="m.mishap"
          :value="m.mishap"
          :label="m.mishap"
          :disabled="!!offered(m)"
          >{{ m.name }} <span v-if="offered(m)" class="soft small">{{ offered(m) }}</span></el-checkbox
        >
      </el-checkbox-group>
      <p v-if="!possible.length" class="soft small">Known once the plan is there.</p>
    </fieldset>
    <FormFoot :problem="problem" @close="emit('close')">Begin the rehearsal</FormFoot>
  </form>
</template>

<style scoped>
.plain-set {
  border: 0;
  padding: 0;
  margin: 0;
}
.plain-set legend {
  font-weight: 700;
}
.mishaps {
  display: grid;
}
.mishaps :deep(.el-checkbox) {
  height: auto;
  min-height: 44px;
  white-space: normal;
}
</style>
