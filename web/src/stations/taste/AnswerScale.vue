<script setup lang="ts">
/** What a taster gives to one question: a slider, words, or a place; the scale says which. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{
  question: Schemas['AttributeView']
  scale: Schemas['AnswerScaleView']
  value: number | null
  samples: number
}>()
const emit = defineEmits<{ give: [value: number] }>()
const highest = computed(() => props.scale.high ?? props.samples)
const steps = computed(() =>
  Array.from({ length: Math.round(highest.value - props.scale.low) + 1 }, (_, i) => props.scale.low + i),
)
const give = (event: Event) => emit('give', Number((event.target as HTMLInputElement).value))
</script>

<template>
  <template v-if="scale.drawn === 'slider'">
    <div class="ends small">
      <span>{{ scale.low }} {{ question.low_words }}</span
      ><span>{{ question.high_words }} {{ highest }}</span>
    </div>
    <input
      type="range"
      :min="scale.low"
      :max="highest"
      :step="scale.step"
      :value="value ?? (scale.low + highest) / 2"
      :class="{ unset: value === null }"
      :aria-label="question.name"
      @change="give"
      @pointerup="value === null && give($event)"
    />
  </template>
  <div v-else class="choices" :class="{ row: scale.drawn === 'places' }">
    <button
      v-for="(n, i) in steps"
      :key="n"
      type="button"
      class="act"
      :class="value === n ? 'strong' : 'quiet'"
      :aria-pressed="value === n"
      @click="emit('give', n)"
    >
      <template v-if="scale.drawn === 'places'">{{ n }}{{ i === 0 ? ' best' : '' }}</template>
      <template v-else
        ><b class="mono">{{ n }}</b> {{ scale.words[i] }}</template
      >
    </button>
  </div>
</template>

<style scoped>
.ends {
  display: flex;
  justify-content: space-between;
  gap: 20px;
}
input[type='range'] {
  width: 100%;
  height: 48px;
  accent-color: var(--ink);
}
input.unset {
  opacity: 0.45;
}
.choices {
  display: grid;
  gap: 4px;
}
.choices.row {
  display: flex;
}
.choices .act {
  justify-content: flex-start;
  min-height: 44px;
  padding: 6px 14px;
}
</style>
