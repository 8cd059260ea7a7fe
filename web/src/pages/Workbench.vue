<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, words } from '../api/client'
import Calculator from '../bench/Calculator.vue'
import { queryKeys } from '../api/queries/keys'

const route = useRoute()
const router = useRouter()
const narrow = useMediaQuery('(max-width: 900px)')
const { data, error } = useQuery({
  queryKey: queryKeys.workbench(),
  staleTime: Infinity,
  retry: 2,
  queryFn: async () => (await api.GET('/api/v1/workbench')).data!.items,
})
const chosen = computed(() => data.value?.find((c) => c.key === route.params.key) ?? data.value?.[0])
const groups = computed(() =>
  [...new Set(data.value?.map((c) => c.group) ?? [])].map((g) => ({
    name: g,
    items: data.value!.filter((c) => c.group === g),
  })),
)
/** The link keeps the inputs: what differs from the example, tables as JSON. */
const given = computed(() =>
  Object.fromEntries(
    Object.entries(route.query).map(([k, v]) => {
      const text = String(v)
      if (!text.startsWith('[[')) return [k, text]
      try {
        return [k, JSON.parse(text) as string[][]]
      } catch {
        return [k, text]
      }
    }),
  ),
)
function remember(form: Record<string, string | string[][]>) {
  const query = Object.fromEntries(
    (chosen.value?.fields ?? []).flatMap((f) => {
      const v = form[f.key]
      const same =
        JSON.stringify(v) === JSON.stringify(f.kind === 'table' ? f.default : String(f.default ?? ''))
      return v === undefined || same ? [] : [[f.key, Array.isArray(v) ? JSON.stringify(v) : v]]
    }),
  )
  void router.replace({ params: { key: chosen.value?.key }, query })
}
</script>

<template>
  <main class="page bench">
    <div v-if="narrow">
      <h1>Workbench</h1>
      <el-select
        :model-value="chosen?.key"
        filterable
        aria-label="Calculator"
        @change="(k: string) => router.push(`/workbench/${k}`)"
        ><el-option-group v-for="g in groups" :key="g.name" :label="g.name"
          ><el-option v-for="c in g.items" :key="c.key" :value="c.key" :label="c.name" /></el-option-group
      ></el-select>
    </div>
    <nav v-else aria-label="Calculators">
      <h1>Workbench</h1>
      <template v-for="g in groups" :key="g.name"
        ><h2>{{ g.name }}</h2>
        <router-link
          v-for="c in g.items"
          :key="c.key"
          :to="`/workbench/${c.key}`"
          :class="{ here: c.key === chosen?.key }"
          :aria-current="c.key === chosen?.key ? 'page' : undefined"
          >{{ c.name }}</router-link
        ></template
      >
    </nav>
    <section v-if="chosen" class="stack">
      <h2>{{ chosen.name }}</h2>
      <p class="soft">{{ chosen.what }}</p>
      <Calculator :key="chosen.key" :calculator="chosen" :given="given" records @change="remember" />
    </section>
    <p v-else-if="error" class="bad" role="alert">{{ words(error) }}</p>
  </main>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 230px 1fr;
  gap: var(--gap-6);
  max-width: 1320px;
}
nav {
  display: grid;
  align-content: start;
  gap: var(--gap-0);
  position: sticky;
  top: 14px;
}
nav h2 {
  margin: var(--gap-4) 0 var(--gap-0);
  font-size: var(--type-2);
  color: var(--ink-soft);
  font-weight: 400;
}
nav a {
  padding: var(--gap-2) var(--gap-3);
  min-height: 38px;
  text-decoration: none;
  border-left: 4px solid transparent;
}
nav a.here {
  border-left-color: var(--ink);
  background: var(--paper);
  font-weight: 700;
}
@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-4);
  }
}
</style>
