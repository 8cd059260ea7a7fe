<script setup lang="ts">
import { computed } from 'vue'
import type { Mark } from '../api/client'

const props = withDefaults(defineProps<{ mark: Mark; size?: number }>(), { size: 40 })
const points = computed(() => props.mark.strokes.map((s) => s.map((p) => p.join(',')).join(' ')))
</script>

<template>
  <svg
    class="mark"
    :width="size * 1.16"
    :height="size"
    viewBox="-22 -8 144 124"
    role="img"
    :aria-label="mark.name"
    :style="{ '--m': mark.colour }"
  >
    <ellipse cx="50" cy="54" rx="69" ry="58" class="loaf" />
    <polyline v-for="(p, i) in points" :key="i" :points="p" class="stroke" />
    <circle v-for="(d, i) in mark.dots" :key="'d' + i" :cx="d[0]" :cy="d[1]" r="8" class="dot" />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
}
.loaf {
  fill: color-mix(in srgb, var(--m) 18%, var(--paper));
  stroke: var(--m);
  stroke-width: 5;
}
.stroke {
  fill: none;
  stroke: var(--m);
  stroke-width: 8;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.dot {
  fill: var(--m);
}
</style>
<style>
html.dark .mark .loaf,
html.dark .mark .stroke {
  stroke: color-mix(in srgb, var(--m) 45%, var(--white));
}
html.dark .mark .dot {
  fill: color-mix(in srgb, var(--m) 45%, var(--white));
}
</style>
