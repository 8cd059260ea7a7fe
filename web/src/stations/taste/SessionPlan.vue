<script setup lang="ts">
/** What a tasting would need and could find, while it is still being planned. */
import { watchDebounced } from '@vueuse/core'
import { ref } from 'vue'
import { api, words, type Schemas } from '../../api/client'

const props = defineProps<{ trial: string; body: Schemas['NewTasting'] }>()
const plan = ref<Schemas['TastingPlan'] | null>(null)
const wrong = ref('')
const SETTLE_MS = 500
let asked = 0
async function ask() {
  // Only the answer to what was asked last counts.
  const mine = ++asked
  const path = { params: { path: { trial_id: props.trial } } }
  try {
    const { data } = await api.POST('/api/v1/trials/{trial_id}/tasting-plans', { ...path, body: props.body })
    if (mine !== asked) return
    plan.value = data ?? null
    wrong.value = ''
  } catch (error) {
    if (mine !== asked) return
    wrong.value = words(error)
  }
}
watchDebounced(() => JSON.stringify(props.body), ask, { debounce: SETTLE_MS, immediate: true })
</script>

<template>
  <section v-if="plan" class="plan small" aria-live="polite">
    <h3>What this can find, and what it needs</h3>
    <template v-for="(said, i) in plan.can_find" :key="i">
      <p v-for="s in said" :key="s">
        <strong v-if="plan.can_find.length > 1">Round {{ i + 1 }}: </strong>{{ s }}
      </p>
    </template>
    <p v-if="plan.reference">{{ plan.reference }}</p>
    <p v-for="w in plan.warnings" :key="w" class="warn">{{ w }}</p>
    <p>About {{ plan.minutes }} min a person.</p>
    <ul>
      <li v-for="(c, i) in plan.cuts" :key="i">{{ c }}</li>
    </ul>
    <details>
      <summary>Lay ready before the heat</summary>
      <ul>
        <li v-for="r in plan.ready" :key="r">{{ r }}</li>
      </ul>
    </details>
  </section>
  <p v-else-if="wrong" class="soft small">{{ wrong }}</p>
</template>

<style scoped>
.plan {
  border-left: 4px solid var(--line-strong);
  padding-left: var(--gap-4);
  display: grid;
  gap: var(--gap-2);
}
ul {
  margin: 0;
  padding-left: var(--gap-5);
}
</style>
