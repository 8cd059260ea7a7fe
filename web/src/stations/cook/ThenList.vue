<script setup lang="ts">
/** What comes after the next thing, with how far away it is. */
import type { NextAction } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { countdown } from '../../bench/units'
import { useThisBench } from './useBench'

defineProps<{ actions: NextAction[]; what: (a: NextAction) => string }>()
const { batches, tick: now } = useThisBench()
</script>

<template>
  <ol class="lines ruled then">
    <li v-for="a in actions" :key="a.batch + a.step" class="row">
      <LoafMark v-if="batches.get(a.batch)" :mark="batches.get(a.batch)!.mark" :size="24" /><span class="grow"
        ><span class="visually-hidden">{{ batches.get(a.batch)?.tag }}: </span>{{ what(a) }}</span
      ><span class="mono">{{ countdown(a.due - now) }}</span>
    </li>
  </ol>
</template>

<style scoped>
.then li {
  flex-wrap: nowrap;
}
.big .then {
  font-size: var(--type-5);
}
</style>
