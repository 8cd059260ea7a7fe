<script setup lang="ts">
/** What else can be opened and done at the bench. */
import { computed } from 'vue'
import { useThisBench } from './useBench'
import { useKeys } from './useKeys'

defineProps<{ big: boolean }>()
const emit = defineEmits<{ open: [what: string]; replan: []; large: []; dark: [] }>()
const { bench, standing, shift } = useThisBench()
const planned = computed(() => !!bench.value?.plan)
const ended = computed(() => bench.value?.shift.ended ?? false)
const keys = useKeys()
</script>

<template>
  <div class="row tools">
    <button class="act quiet" @click="emit('replan')">Plan from now</button>
    <button class="act quiet" @click="emit('open', 'log')">Log ({{ standing.length }})</button>
    <button v-if="planned" class="act quiet" @click="emit('open', 'paper')">Write up times</button>
    <button class="act quiet" @click="emit('open', 'probes')">Probes</button>
    <button class="act quiet" @click="emit('open', 'photos')">Photos</button>
    <button class="act quiet" @click="emit('open', 'places')">Places</button>
    <button v-if="planned && !ended" class="act quiet" @click="emit('open', 'whatif')">What if</button>
    <button v-if="!ended" class="act quiet" @click="emit('open', 'change')">Change</button>
    <a
      v-if="planned"
      class="act quiet"
      :href="`/api/v1/shifts/${shift}/run-sheet.pdf`"
      target="_blank"
      rel="noopener"
      >Run sheet</a
    >
    <a v-if="planned" class="act quiet" :href="`/api/v1/shifts/${shift}/calendar.ics`">Calendar</a>
    <button class="act quiet" @click="emit('large')">{{ big ? 'Columns' : 'Large' }}</button>
    <button class="act quiet" @click="emit('dark')">Dark</button>
    <button class="act quiet" @click="emit('open', 'keys')">
      Keys<kbd>{{ keys.label('keys') }}</kbd>
    </button>
    <button v-if="!ended" class="act quiet" @click="emit('open', 'end')">End shift</button>
  </div>
</template>

<style scoped>
.tools {
  margin-top: auto;
  gap: var(--gap-2);
  padding-bottom: var(--gap-2);
}
.tools .act {
  padding: var(--gap-2) var(--gap-2);
  font-size: var(--type-2);
}
</style>
