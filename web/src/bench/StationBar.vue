<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'

type Words = Schemas['StationWords']

const props = defineProps<{ trial: string; here: string; words: Schemas['StationsView'] | null }>()
const NAMES: Record<keyof Words, string> = {
  ask: 'Ask',
  setup: 'Set up',
  cook: 'Cook',
  taste: 'Taste',
  decide: 'Decide',
  publish: 'Publish',
}
const stations = computed(() =>
  (Object.keys(NAMES) as (keyof Words)[]).map((key) => ({
    key,
    name: NAMES[key],
    word: props.words?.words[key],
  })),
)
function to(key: string): string {
  const shift = key === 'cook' && props.words?.shift_id
  return `/trials/${props.trial}/${key}${shift && props.here !== 'cook' ? `/${shift}` : ''}`
}
</script>

<template>
  <nav class="bar" aria-label="Stations">
    <router-link
      v-for="s in stations"
      :key="s.key"
      :to="to(s.key)"
      :class="{ here: s.key === here }"
      :aria-current="s.key === here ? 'page' : undefined"
    >
      <strong>{{ s.name }}</strong><small>{{ s.word }}</small>
    </router-link>
  </nav>
</template>

<style scoped>
.bar {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  background: var(--bar);
  z-index: 20;
  padding-bottom: env(safe-area-inset-bottom);
}
a {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  justify-content: center;
  min-height: 52px;
  color: var(--bar-text);
  text-decoration: none;
  border-right: 1px solid var(--bar-line);
  border-top: 4px solid transparent;
  flex-wrap: wrap;
  text-align: center;
  line-height: 1.15;
}
a small {
  color: var(--bar-soft);
  font-size: var(--type-1);
}
a.here {
  background: var(--flour);
  color: var(--ink);
  border-top-color: var(--crust);
}
a.here small {
  color: var(--ink-soft);
}
/* Where letters are four times as large there is no room for a bar that stays. */
@media (max-height: 420px) {
  .bar {
    position: static;
  }
}
@media (max-width: 700px) {
  a {
    flex-flow: column nowrap;
    gap: 0;
    /* Names stand in line, also where what is said below one takes two lines. */
    justify-content: flex-start;
    padding-block: var(--gap-2) var(--gap-1);
    min-height: 56px;
    font-size: var(--type-2);
  }
  a small {
    font-size: var(--type-1);
  }
}
</style>
