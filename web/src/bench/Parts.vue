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
  gap: 0 22px;
  margin: 0 0 16px;
  border-bottom: 2px solid var(--ink);
}
button {
  background: none;
  border: 0;
  padding: 10px 2px;
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
  margin-left: 6px;
  font-size: 13px;
  font-weight: 400;
}
@media (max-width: 700px) {
  .parts {
    flex-wrap: nowrap;
    overflow-x: auto;
    gap: 0 16px;
  }
  button {
    white-space: nowrap;
  }
}
</style>
