<script setup lang="ts">
/** What one way was measured on and another not: measured now, or said not to apply. */
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useThisBench } from './useBench'

type Missing = Schemas['Unmeasured']
const props = defineProps<{ missing: Missing[] }>()
const emit = defineEmits<{ measure: [missing: Missing] }>()
const { standing, log } = useThisBench()
// What was said on this device a moment ago is asked no more, whatever the server knows of it.
const said = computed(
  () =>
    new Set(
      standing.value
        .filter((e) => e.kind === 'stated' && e.payload.question === 'applies')
        .map((e) => `${e.batch}|${String(e.payload.measure)}`),
    ),
)
const left = computed(() => props.missing.filter((m) => !said.value.has(`${m.batch}|${m.measure}`)))
// Forty ways in one shift would hide the card behind what they lack.
const SHOWN = 3
const all = ref(false)
const shown = computed(() => (all.value ? left.value : left.value.slice(0, SHOWN)))
const waive = (m: Missing) =>
  log(m.batch, 'stated', { question: 'applies', answer: 'no', measure: m.measure })
</script>

<template>
  <div v-for="m in shown" :key="m.batch + m.measure" class="warn missing">
    <span class="grow">{{ m.sentence }}</span>
    <span class="row">
      <button v-if="!m.too_late" class="act quiet" @click="emit('measure', m)">Measure it</button>
      <button class="act quiet" @click="waive(m)">
        {{ m.too_late ? 'Leave it out' : 'Does not apply' }}
      </button>
    </span>
  </div>
  <button v-if="left.length > shown.length" class="act quiet" @click="all = true">
    {{ left.length - shown.length }} more that were not measured
  </button>
</template>

<style scoped>
.missing {
  display: grid;
  gap: var(--gap-2);
}
.act {
  min-height: 44px;
  padding: 0 var(--gap-3);
  font-size: var(--type-2);
}
</style>
