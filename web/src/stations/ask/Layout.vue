<script setup lang="ts">
/**
 * How a kind of trial is laid out: the grid, ladder, branch and varieties editors; a champion is only named.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import GridEditor from './GridEditor.vue'
import LadderEditor from './LadderEditor.vue'
import ListEditor from './ListEditor.vue'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: techniques } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const offered = computed(() => techniques.value?.filter((t) => !t.hidden) ?? [])
const name = (id: string) =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { champion: id },
    }),
  )
</script>

<template>
  <GridEditor v-if="trial.kind === 'grid'" :trial="trial" :edit="edit" :techniques="offered" />
  <LadderEditor v-else-if="trial.kind === 'ladder'" :trial="trial" :edit="edit" :techniques="offered" />
  <ListEditor
    v-else-if="trial.kind === 'branch' || trial.kind === 'varieties'"
    :trial="trial"
    :edit="edit"
    :techniques="offered"
  />
  <section v-else class="stack">
    <h2>Which method stands as champion?</h2>
    <el-radio-group :model-value="String(trial.layout.champion ?? '')" @change="(v) => name(String(v))"
      ><el-radio v-for="m in trial.methods" :key="m.id" :value="m.id"
        >{{ m.tag }} {{ m.name }}</el-radio
      ></el-radio-group
    >
    <p class="soft small">It is cooked again beside its challengers, not remembered. On a tie it stays.</p>
  </section>
</template>
