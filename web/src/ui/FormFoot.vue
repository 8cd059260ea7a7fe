<script setup lang="ts">
/** The foot of a form in a dialog: what is wrong, the button that keeps it, and the way out. */
defineProps<{ problem?: string; disabled?: boolean }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <p v-if="problem" class="bad wide" role="alert">{{ problem }}</p>
  <div class="row wide">
    <button class="act strong" :disabled="disabled"><slot /></button
    ><button type="button" class="act quiet" @click="emit('close')">Not now</button>
  </div>
</template>

<style scoped>
/* Where the form is a grid, both stand across it. */
.wide {
  grid-column: 1 / -1;
}
</style>
