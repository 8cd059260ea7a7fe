<script setup lang="ts">
/** Words that were written down, offered to be picked: none is public by itself. */
import { computed } from 'vue'

const props = defineProps<{ label: string; offer: string; words: string[] }>()
const text = defineModel<string>({ required: true })
const lines = computed(() =>
  text.value
    .split('\n')
    .map((x) => x.trim())
    .filter(Boolean),
)
const left = computed(() => props.words.filter((w) => !lines.value.includes(w)))
const pick = (w: string) => {
  text.value = [...lines.value, w].join('\n')
}
</script>

<template>
  <div class="stack">
    <label class="field">{{ label }}<el-input v-model="text" type="textarea" :rows="2" /></label>
    <div v-if="left.length" class="offer">
      <p class="small soft">{{ offer }}:</p>
      <button v-for="w in left" :key="w" type="button" class="act quiet" @click="pick(w)">+ {{ w }}</button>
    </div>
  </div>
</template>

<style scoped>
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.offer p {
  width: 100%;
  margin: 0;
}
.offer .act {
  text-align: left;
}
</style>
