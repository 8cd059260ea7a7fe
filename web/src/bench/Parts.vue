<script setup lang="ts">
/** The parts of a station, chosen by a row of words under its sentence; the choice stands in the address. */
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

const props = defineProps<{ parts: { key: string; name: string; note?: string }[] }>()
const route = useRoute()
const router = useRouter()
const here = computed(
  () => props.parts.find((p) => p.key === route.query.part)?.key ?? props.parts[0]?.key ?? '',
)
const go = (key: string) => router.replace({ query: { ...route.query, part: key } })
defineExpose({ here })
</script>

<template>
  <nav class="parts" aria-label="Parts of this station">
    <button
      v-for="p in parts"
      :key="p.key"
      type="button"
      :class="{ here: p.key === here }"
      :aria-current="p.key === here ? 'true' : undefined"
      @click="go(p.key)"
    >
      {{ p.name }}<small v-if="p.note">{{ p.note }}</small>
    </button>
  </nav>
  <slot :here="here" />
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-5);
  margin: 0 0 var(--gap-4);
  border-bottom: 2px solid var(--ink);
}
button {
  background: none;
  border: 0;
  padding: var(--gap-3) var(--gap-0);
  min-height: 48px;
  font: inherit;
  color: var(--ink-soft);
  cursor: pointer;
  border-bottom: 5px solid transparent;
  margin-bottom: -2px;
}
button.here {
  color: var(--ink);
  font-weight: 700;
  border-bottom-color: var(--ink);
}
small {
  margin-left: var(--gap-2);
  font-size: var(--type-1);
  font-weight: 400;
}
@media (max-width: 700px) {
  .parts {
    flex-wrap: nowrap;
    overflow-x: auto;
    gap: 0 var(--gap-4);
  }
  button {
    white-space: nowrap;
  }
}
</style>
