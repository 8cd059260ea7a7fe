<script setup lang="ts">
/**
 * Something takes more than a moment: what it is, how far it usually would be by now, how long it may still
 * take, and a button that stops it. It fetches nothing.
 */
import { useNow } from '@vueuse/core'
import { computed } from 'vue'
import { timeLeft } from './timeLeft'

const props = defineProps<{
  /** What is being done: "A new plan is being made". */
  words: string
  /** When it began [ms since 1970]. */
  since: number
  /** How long the like of it takes [s]; null while that is not known. */
  usual: number | null
  /** What stopping it is called; nothing where it cannot be stopped. */
  stops?: string
}>()
const emit = defineEmits<{ stop: [] }>()
const now = useNow({ interval: 250 })
const left = computed(() => timeLeft(now.value.getTime() - props.since, props.usual))
</script>

<template>
  <div class="left" role="status">
    <span class="grow"
      >{{ words }}<span class="soft" aria-hidden="true">{{ left.words && `: ${left.words}` }}</span></span
    >
    <progress :value="left.share ?? undefined" max="1" :aria-label="words" />
    <button v-if="stops" type="button" class="act quiet" @click="emit('stop')">{{ stops }}</button>
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-2) var(--gap-4);
}
progress {
  flex: 0 1 220px;
  height: 12px;
  accent-color: var(--ink);
}
</style>
