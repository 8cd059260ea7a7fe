<script setup lang="ts">
/** One of the samples, as the odd one, the preferred, the one that is the same. */
import { computed } from 'vue'
import type { Round, Said } from './useTaster'

const props = defineProps<{ round: Round }>()
const emit = defineEmits<{ give: [said: Said] }>()
const offered = computed(() =>
  props.round.samples.map((s) => s.code).filter((c) => c !== props.round.reference),
)
const chosen = computed(() => (props.round.said?.kind === 'choice' ? props.round.said.code : null))
</script>

<template>
  <p v-if="round.reference" class="say">
    Taste <strong class="mono">{{ round.reference }}</strong> first: it is what the others are held against.
  </p>
  <div class="cups">
    <button
      v-for="code in offered"
      :key="code"
      type="button"
      class="act cup mono"
      :class="chosen === code ? 'strong' : 'quiet'"
      :aria-pressed="chosen === code"
      @click="emit('give', { kind: 'choice', code })"
    >
      {{ code }}
    </button>
  </div>
  <button
    v-if="round.ties"
    type="button"
    class="act"
    :class="chosen === '' ? 'strong' : 'quiet'"
    :aria-pressed="chosen === ''"
    @click="emit('give', { kind: 'choice', code: '' })"
  >
    No preference
  </button>
</template>

<style scoped>
.cups {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(110px, 1fr));
  gap: var(--gap-3);
}
.cup {
  font-size: var(--type-6);
  min-height: 76px;
  justify-content: center;
}
</style>
