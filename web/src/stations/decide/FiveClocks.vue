<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ servings: Schemas['ServingsTold']; longest: number; colour: string }>()
const parts = computed(() => {
  const c = props.servings.clocks
  return [
    ['hands', c.hands_s],
    ['up', c.come_up_s],
    ['cook', c.cooking_s],
    ['wait', c.waiting_s],
    ['wash', c.wash_up_s],
  ] as const
})
const min = (s: number) => Math.round(s / 60)
</script>

<template>
  <div
    class="bar"
    :style="{ '--m': colour, width: `${(56 * servings.total_s) / longest}%` }"
    role="img"
    :aria-label="`${min(servings.total_s)} minutes in all`"
  >
    <i v-for="[k, s] in parts" :key="k" :class="k" :style="{ flexGrow: s }" />
  </div>
  <span class="mono total">{{ min(servings.total_s) }} min</span>
  <p class="mono five">{{ parts.map(([, s]) => min(s)).join(' · ') }}</p>
  <p class="soft small">{{ servings.how }}</p>
</template>

<style scoped>
.bar {
  display: inline-flex;
  height: 20px;
  border: 1px solid var(--line-strong);
  vertical-align: middle;
}
.bar i {
  flex-basis: 0;
}
.hands {
  background: var(--ink);
}
.up {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 5px, var(--hatch-dark-b) 5px 10px);
}
.cook {
  background: var(--m);
}
.wait {
  background: var(--paper);
}
.wash {
  background: repeating-linear-gradient(45deg, var(--alone-a) 0 4px, var(--alone-b) 4px 8px);
}
.five {
  font-size: var(--type-2);
  white-space: nowrap;
  letter-spacing: -0.6px;
}
.total {
  margin-left: var(--gap-2);
  white-space: nowrap;
}
</style>
