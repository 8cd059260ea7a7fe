<script setup lang="ts">
/** A word of the trade where it is used: a touch says what it means, another puts that away. */
import { computed, ref } from 'vue'
import { useGlossary } from './useGuide'

const props = defineProps<{
  /** As it stands in the glossary; shown so too, where nothing else is put inside. */
  of: string
}>()
const words = useGlossary()
const meaning = computed(() => words.value[props.of] ?? '')
const open = ref(false)
</script>

<template>
  <el-popover
    v-model:visible="open"
    trigger="click"
    :width="300"
    :persistent="false"
    placement="bottom-start"
  >
    <template #reference>
      <button type="button" class="term" :aria-expanded="open" @keydown.esc="open = false">
        <slot>{{ of }}</slot> <span class="visually-hidden">(what it means)</span>
      </button>
    </template>
    <p role="note">
      <strong>{{ of.slice(0, 1).toUpperCase() + of.slice(1) }}.</strong> {{ meaning }}
    </p>
  </el-popover>
</template>

<style scoped>
.term {
  min-height: 24px;
  padding: 0;
  background: none;
  border: 0;
  border-bottom: 2px dotted currentcolor;
  font: inherit;
  color: inherit;
  cursor: help;
}
</style>
