<script setup lang="ts">
/** One sentence, and what it is made of. */
import type { Schemas } from '../api/client'

defineProps<{ home: Schemas['HomeView'] }>()
</script>

<template>
  <section class="say" aria-label="What waits for whom">
    <h1>{{ home.sentence }}</h1>
    <ul v-if="home.items.length">
      <li v-for="w in home.items" :key="w.path + w.words">
        <router-link :to="w.path"
          ><strong v-if="w.trial">{{ w.trial }}: </strong>{{ w.words }}</router-link
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-6);
  list-style: none;
  padding: 0;
  margin: var(--gap-2) 0 0;
}
@media (max-width: 700px) {
  h1 {
    font-size: var(--type-4);
  }
}
a {
  display: inline-block;
  color: inherit;
  padding: var(--gap-2) 0;
  min-height: 44px;
}
</style>
