<script setup lang="ts">
/** Every label to a sample, each once: a label is tapped, then the sample that it belongs to. */
import { computed, ref, watch } from 'vue'
import type { Round, Said } from './useTaster'

const props = defineProps<{ round: Round }>()
const emit = defineEmits<{ give: [said: Said] }>()
const stored = () => (props.round.said?.kind === 'labels' ? { ...props.round.said.labels } : {})
const given = ref<Record<string, string>>(stored())
watch(
  () => props.round.position,
  () => {
    given.value = stored()
  },
)
const words = computed(() => Object.fromEntries(props.round.labels.map((l) => [l.key, l.words])))
function give(code: string, key: string) {
  const next = Object.fromEntries(Object.entries(given.value).filter(([c, k]) => c !== code && k !== key))
  if (key) next[code] = key
  given.value = next
  if (Object.keys(next).length === props.round.samples.length)
    emit('give', { kind: 'labels', labels: { ...next } })
}
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <p>Each label belongs to one sample. A label that you give again moves.</p>
  <label v-for="s in round.samples" :key="s.code" class="line">
    <strong class="mono">{{ s.code }}</strong>
    <select :value="given[s.code] ?? ''" @change="give(s.code, value($event))">
      <option value="">is which?</option>
      <option v-for="(w, key) in words" :key="key" :value="key">{{ w }}</option>
    </select>
  </label>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 90px 1fr;
  align-items: center;
  padding: var(--gap-2) 0;
  border-top: 1px solid var(--line);
}
.line .mono {
  font-size: var(--type-5);
}
select {
  font: inherit;
  min-height: 52px;
  padding: var(--gap-2);
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
}
</style>
