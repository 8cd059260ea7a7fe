<script setup lang="ts">
/** Work that somebody waits for: how long it will still take by what the like of it took; stopping it. */
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import { words as problemWords } from '../api/client'
import { stopWork, useHowLong } from '../api/queries/slowWork'
import TimeLeft from '../ui/TimeLeft.vue'

const props = defineProps<{
  kind: Schemas['WorkKind']
  words: string
  /** What it is about; a request that is waited for is about nothing. */
  subject?: string
  /** When that request began [ms]. */
  since?: number
  stops?: string
}>()
const emit = defineEmits<{ stopped: []; stop: [] }>()
const problem = ref('')
const long = useHowLong(props.kind, () => props.subject)
async function stop() {
  emit('stop')
  if (!props.subject) return
  try {
    await stopWork(props.kind, props.subject)
    emit('stopped')
  } catch (error) {
    problem.value = problemWords(error)
  }
}
</script>

<template>
  <TimeLeft
    :words="words"
    :since="since ?? long.since.value"
    :usual="long.usual.value"
    :stops="stops"
    @stop="stop"
  />
  <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
</template>
