<script setup lang="ts">
/** The user's guide, by station. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useGuide } from '../guide/useGuide'
import { useSession } from '../session'
import { useBegin } from '../stations/practice/usePractice'

const route = useRoute()
const session = useSession()
const { begin, problem } = useBegin()
const { data } = useGuide()
const here = computed(() => String(route.params.page || 'start'))
const page = computed(() => data.value?.find((p) => p.name === here.value))
</script>

<template>
  <main class="page guide">
    <nav aria-label="Guide">
      <router-link
        v-for="p in data"
        :key="p.name"
        :to="`/guide/${p.name}`"
        :aria-current="p.name === here ? 'page' : undefined"
        >{{ p.title }}</router-link
      >
    </nav>
    <article v-if="page">
      <h1>{{ page.title }}</h1>
      <p class="sentence">{{ page.sentence }}</p>
      <p class="soft">Example: {{ page.example }}</p>
      <template v-if="session.me && here === 'start'">
        <button class="act" @click="begin">Practise with stand-ins: ten minutes</button>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      </template>
      <!-- Our own text, rendered by the server from Markdown that may hold no HTML. -->
      <!-- eslint-disable-next-line vue/no-v-html -->
      <div class="text" v-html="page.html" />
    </article>
    <p v-else-if="data" role="alert">There is no such page of the guide.</p>
  </main>
</template>

<style scoped>
nav {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
  border-bottom: 2px solid var(--ink);
  margin-bottom: var(--gap-4);
}
nav a {
  padding: var(--gap-3) 0;
  color: inherit;
}
nav a[aria-current] {
  font-weight: 700;
  text-decoration: none;
}
article {
  max-width: 46rem;
}
.sentence {
  font-size: var(--type-4);
}
.text :deep(img) {
  max-width: 100%;
  height: auto;
  border: 1px solid var(--line);
}
.text :deep(li) {
  margin-bottom: var(--gap-2);
}
</style>
