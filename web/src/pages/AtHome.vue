<script setup lang="ts">
/** What goes on now and what waits for whom: one sentence, and what it is made of. */
import { useQuery } from '@tanstack/vue-query'
import { api } from '../api/client'
import { queryKeys } from '../api/queries/keys'

const { data } = useQuery({
  queryKey: queryKeys.home(),
  // A minute is the finest that the sentence says.
  refetchInterval: 20_000,
  queryFn: async () => (await api.GET('/api/v1/home')).data!,
})
</script>

<template>
  <section v-if="data" class="say" aria-label="What waits for whom">
    <h1>{{ data.sentence }}</h1>
    <ul v-if="data.items.length">
      <li v-for="w in data.items" :key="w.path + w.words">
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
