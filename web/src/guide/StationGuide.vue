<script setup lang="ts">
/** What a station is for: one sentence, one example from the demo, away with one touch. */
import { computed } from 'vue'
import { useGuide } from './useGuide'

const props = defineProps<{ station: string }>()
const emit = defineEmits<{ away: [] }>()
const { data } = useGuide()
const page = computed(() => data.value?.find((p) => p.name === props.station))
</script>

<template>
  <aside v-if="page" class="guide" :aria-label="`What ${page.title} is for`">
    <p>
      <strong>{{ page.title }}.</strong> {{ page.sentence }}
      <span class="soft">Example: {{ page.example }}</span>
    </p>
    <router-link :to="`/guide/${page.name}`">The guide</router-link>
    <button class="act quiet" @click="emit('away')">Got it</button>
  </aside>
</template>

<style scoped>
.guide {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-4);
  align-items: center;
  padding: var(--gap-2) var(--gap-6);
  border-bottom: 1px solid var(--line);
  background: var(--paper);
  font-size: var(--type-2);
}
.guide p {
  flex: 1 1 320px;
  margin: 0;
}
.guide a {
  color: inherit;
  padding: var(--gap-3) 0;
}
.act {
  min-height: 44px;
  padding: 0 var(--gap-3);
  font-size: var(--type-2);
}
</style>
