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

<style scoped src="./strip.css"></style>

<style scoped>
.guide a {
  color: inherit;
  padding: var(--gap-3) 0;
}
</style>
