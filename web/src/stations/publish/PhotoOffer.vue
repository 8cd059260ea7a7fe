<script setup lang="ts">
/** Photos to choose one from, each with what was said of it. */
import KeptPhoto from '../cook/KeptPhoto.vue'

defineProps<{ trial: string; photos: readonly { photo: string; said: string }[] }>()
const emit = defineEmits<{ take: [photo: string] }>()
</script>

<template>
  <div class="offer">
    <button
      v-for="p in photos"
      :key="p.photo"
      type="button"
      :aria-label="`Take ${p.said || 'this photo'}`"
      @click="emit('take', p.photo)"
    >
      <KeptPhoto :trial="trial" :photo="p.photo" :alt="p.said" thumb /><span class="small row nowrap"
        ><slot :photo="p.photo">{{ p.said }}</slot></span
      >
    </button>
  </div>
</template>

<style scoped>
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
}
.offer button {
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: none;
  color: inherit;
  font: inherit;
  padding: var(--gap-1);
  cursor: pointer;
}
.offer :deep(img) {
  display: block;
  width: 120px;
  height: 90px;
  object-fit: cover;
  border-radius: 6px;
}
</style>
