<script setup lang="ts">
/** One of a few words, by a tap. A second tap takes the choice back where none is allowed (`toggles`). */
import { computed } from 'vue'

const props = defineProps<{
  modelValue: string
  /** Values; or each with the words it is shown by. */
  of: readonly (string | readonly [string, string])[]
  toggles?: boolean
  /** One below the other, for whole sentences. */
  tall?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const rows = computed(() => props.of.map((o) => (typeof o === 'string' ? ([o, o] as const) : o)))
const take = (value: string) =>
  emit('update:modelValue', props.toggles && value === props.modelValue ? '' : value)
</script>

<template>
  <div class="chips" :class="{ tall }">
    <button
      v-for="[value, words] in rows"
      :key="value"
      type="button"
      class="act quiet"
      :aria-pressed="modelValue === value"
      @click="take(value)"
    >
      {{ words }}
    </button>
  </div>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.chips.tall {
  flex-direction: column;
  align-items: flex-start;
}
.act {
  padding: var(--gap-2) var(--gap-3);
  min-height: 44px;
}
.act[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
</style>
