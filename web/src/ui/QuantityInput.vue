<script setup lang="ts">
/**
 * A quantity in a form. The form holds SI as a number for what is stored, and the words themselves for what
 * somebody typed, which the server reads. So a number that nobody touched goes back as the number it was, in
 * any units.
 */
import { computed, ref, watch } from 'vue'
import { quantityText, type Quantity, type QuantityKind } from '../bench/units'

const props = defineProps<{ modelValue: Quantity; kind: QuantityKind }>()
const emit = defineEmits<{ 'update:modelValue': [value: Quantity] }>()
/** The number last shown: typing away from it and back again gives it back. */
const stored = ref<number | null>(typeof props.modelValue === 'number' ? props.modelValue : null)
watch(
  () => props.modelValue,
  (v) => {
    if (typeof v === 'number') stored.value = v
  },
)
const text = computed(() =>
  typeof props.modelValue === 'string' ? props.modelValue : quantityText(props.kind, props.modelValue),
)
function typed(words: string) {
  if (stored.value !== null && words === quantityText(props.kind, stored.value))
    emit('update:modelValue', stored.value)
  else emit('update:modelValue', words.trim() ? words : null)
}
</script>

<template>
  <el-input :model-value="text" @update:model-value="typed" />
</template>
