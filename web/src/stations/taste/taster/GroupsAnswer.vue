<script setup lang="ts">
/** Two and two together: the two that are tapped are a pair, the others are the other. */
import { computed, ref, watch } from 'vue'
import type { Round, Said } from './useTaster'

const props = defineProps<{ round: Round }>()
const emit = defineEmits<{ give: [said: Said] }>()
const stored = () => (props.round.said?.kind === 'groups' ? [...(props.round.said.groups[0] ?? [])] : [])
const pair = ref<string[]>(stored())
watch(
  () => props.round.position,
  () => {
    pair.value = stored()
  },
)
const codes = computed(() => props.round.samples.map((s) => s.code))
const others = computed(() => codes.value.filter((c) => !pair.value.includes(c)))
function tap(code: string) {
  if (pair.value.includes(code)) pair.value = pair.value.filter((c) => c !== code)
  else if (pair.value.length < 2) pair.value = [...pair.value, code]
  if (pair.value.length === 2) emit('give', { kind: 'groups', groups: [pair.value, others.value] })
}
</script>

<template>
  <p>Tap two that are alike; the other two are then the second pair.</p>
  <div class="cups">
    <button
      v-for="code in codes"
      :key="code"
      type="button"
      class="act mono"
      :class="pair.includes(code) ? 'strong' : 'quiet'"
      :aria-pressed="pair.includes(code)"
      @click="tap(code)"
    >
      {{ code }}
    </button>
  </div>
  <p v-if="pair.length === 2">
    <strong class="mono">{{ pair.join(' + ') }}</strong> and
    <strong class="mono">{{ others.join(' + ') }}</strong>
  </p>
</template>

<style scoped>
.cups {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-3);
}
.cups .act {
  font-size: var(--type-6);
  min-height: 72px;
  justify-content: center;
}
</style>
