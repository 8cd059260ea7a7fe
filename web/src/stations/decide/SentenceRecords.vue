<script setup lang="ts">
/** A sentence that opens to what it stands on: what each person gave each way, what each cooking came to. */
import { computed } from 'vue'
import type { Method, Schemas } from '../../api/client'
import { figure } from './figure'

const props = defineProps<{
  sentence: Schemas['Sentence']
  outcome: Schemas['Outcome']
  methods: Method[]
}>()
/** Ways that it names; where it names none it stands on all. */
const about = computed(() => {
  const named = props.methods.filter((m) => props.sentence.text.includes(m.name))
  return named.length ? named : props.methods
})
const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length
const people = computed(() => [...new Set(props.outcome.dots.map((d) => d.taster))].sort())
const judged = computed(() =>
  people.value.map((who, n) => {
    const said = about.value.flatMap((m) => {
      const mine = props.outcome.dots.filter((d) => d.taster === who && d.method === m.id)
      return mine.length ? [`${m.tag} ${figure(mean(mine.map((d) => d.value)))}`] : []
    })
    return `person ${n + 1}: ${said.join(', ') || 'nothing of these'}`
  }),
)
const measured = computed(() =>
  props.outcome.measures
    .filter((m) => props.sentence.text.toLowerCase().includes(m.name.toLowerCase()))
    .flatMap((m) =>
      about.value.flatMap((w) => (m.words[w.id] ? [`${w.name}: ${m.name} ${m.words[w.id]}`] : [])),
    ),
)
const seen = computed(() =>
  about.value.flatMap((m) =>
    (props.outcome.methods.find((x) => x.method === m.id)?.notes ?? []).map((n) => `${m.name}: “${n}”`),
  ),
)
const lines = computed(() => {
  switch (props.sentence.standing) {
    case 'judged by the panel':
      return judged.value
    case 'measured':
      return measured.value
    case 'seen by the cook':
      return seen.value
    default:
      return []
  }
})
</script>

<template>
  <details v-if="lines.length" class="small">
    <summary>{{ sentence.standing }}: {{ sentence.stands_on }}</summary>
    <ul>
      <li v-for="l in lines" :key="l">{{ l }}</li>
    </ul>
  </details>
  <span v-else class="soft small">{{ sentence.standing }}: {{ sentence.stands_on }}</span>
</template>

<style scoped>
summary {
  color: var(--ink-soft);
  min-height: 28px;
}
ul {
  columns: 2 260px;
  padding-left: var(--gap-4);
}
</style>
