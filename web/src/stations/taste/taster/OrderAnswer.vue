<script setup lang="ts">
/** All samples in order: tapped from the first place to the last. */
import { computed, ref, watch } from 'vue'
import type { Round, Said } from './useTaster'

const props = defineProps<{ round: Round }>()
const emit = defineEmits<{ give: [said: Said] }>()
const stored = () => (props.round.said?.kind === 'order' ? props.round.said.places.map((p) => [...p]) : [])
const places = ref<string[][]>(stored())
watch(
  () => props.round.position,
  () => {
    places.value = stored()
  },
)
const left = computed(() => {
  const placed = places.value.flat()
  return props.round.samples.map((s) => s.code).filter((c) => !placed.includes(c))
})
function place(code: string, shared: boolean) {
  if (shared && places.value.length) places.value[places.value.length - 1]!.push(code)
  else places.value.push([code])
  if (left.value.length === 0) emit('give', { kind: 'order', places: places.value })
}
const again = () => {
  places.value = []
}
</script>

<template>
  <ol class="places">
    <li v-for="(p, i) in places" :key="i">
      <strong class="mono">{{ p.join(' = ') }}</strong>
    </li>
  </ol>
  <template v-if="left.length">
    <p>{{ places.length === 0 ? 'Tap the best one first.' : 'Tap the next best.' }}</p>
    <div class="cups">
      <span v-for="code in left" :key="code" class="cup"
        ><button type="button" class="act mono" @click="place(code, false)">{{ code }}</button
        ><button
          v-if="round.ties && places.length"
          type="button"
          class="act quiet small"
          @click="place(code, true)"
        >
          as good as {{ places.at(-1)!.join(', ') }}
        </button></span
      >
    </div>
  </template>
  <button v-if="places.length" type="button" class="act quiet" @click="again">Begin anew</button>
</template>

<style scoped>
.places {
  margin: 0;
  padding-left: var(--gap-6);
  font-size: var(--type-5);
}
.cups {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
}
.cup {
  display: grid;
  gap: var(--gap-2);
}
.cup .mono {
  font-size: var(--type-6);
  min-height: 64px;
  justify-content: center;
}
</style>
