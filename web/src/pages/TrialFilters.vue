<script setup lang="ts">
/** What the list of trials is narrowed to; it stands in the address, so that going back finds it again. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Schemas } from '../api/client'
import { queryKeys } from '../api/queries/keys'
import { NOTHING, type Filters } from './useTrialFilters'

const filters = defineModel<Filters>({ required: true })
const { data } = useQuery({
  queryKey: queryKeys.trialFilters(),
  staleTime: 60_000,
  queryFn: async () => (await api.GET('/api/v1/trial-filters')).data!,
})
const fields = computed(() => {
  const known: [keyof Filters, string, Schemas['FilterChoice'][]][] = [
    ['state', 'How far', data.value?.states ?? []],
    ['kind', 'Kind of trial', data.value?.kinds ?? []],
    ['technique', 'Technique', data.value?.techniques ?? []],
    ['person', 'Who worked on it', data.value?.people ?? []],
  ]
  return known.map(([key, name, choices]) => ({ key, name, choices }))
})
const choose = (key: keyof Filters, value: string | undefined) =>
  (filters.value = { ...filters.value, [key]: value ?? '' })
const narrowed = computed(() => Object.values(filters.value).some(Boolean))
</script>

<template>
  <div class="row filters" role="group" aria-label="Show only">
    <el-select
      v-for="f in fields"
      :key="f.key"
      :model-value="filters[f.key] || undefined"
      class="filter"
      clearable
      :placeholder="f.name"
      :aria-label="f.name"
      @update:model-value="(v: string | undefined) => choose(f.key, v)"
    >
      <el-option v-for="c in f.choices" :key="c.key" :value="c.key" :label="c.name" />
    </el-select>
    <button v-if="narrowed" class="act quiet small" @click="filters = { ...NOTHING }">Show all</button>
  </div>
</template>

<style scoped>
.filters {
  margin-bottom: var(--gap-3);
}
.filter {
  width: 210px;
  max-width: 100%;
}
@media (max-width: 700px) {
  .filter {
    width: calc(50% - var(--gap-2));
  }
}
</style>
