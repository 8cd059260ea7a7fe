<script setup lang="ts">
/** Any of a few words, each by a tap; a second tap takes it off. */
defineProps<{
  label: string
  /** Values, each with the words it is shown by. */
  of: readonly (readonly [string, string])[]
  on: readonly string[]
}>()
const emit = defineEmits<{ toggle: [value: string] }>()
</script>

<template>
  <div class="toggles" role="group" :aria-label="label">
    <button
      v-for="[value, words] in of"
      :key="value"
      type="button"
      class="act quiet"
      :aria-pressed="on.includes(value)"
      @click="emit('toggle', value)"
    >
      {{ words }}
    </button>
  </div>
</template>

<style scoped>
.toggles {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.act {
  padding: var(--gap-1) var(--gap-3);
  min-height: 44px;
}
.act[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
</style>
