<script setup lang="ts">
/** A method's steps: drawn as the bench will show them, and each with what is to be said of it. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Method, type Trial } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'
import type { Edit } from '../useTrial'
import MethodWords from './MethodWords.vue'
import StepFields from './StepFields.vue'
import { asSent, newRow, rowsOf } from './stepRows'
import StepsDrawn from './StepsDrawn.vue'
import Term from '../../guide/Term.vue'

const props = defineProps<{ trial: Trial; method: Method; edit: Edit }>()
const { data: appliances } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const rows = ref(rowsOf(props.method))
const list = ref<HTMLElement>()
function move(i: number, by: number) {
  const [row] = rows.value.splice(i, 1)
  if (row) rows.value.splice(i + by, 0, row)
}
function show(i: number) {
  const step = list.value?.children[i]
  step?.scrollIntoView({ block: 'nearest' })
  step?.querySelector('input')?.focus()
}
const save = () =>
  props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/steps', {
      params: { path: { trial_id: props.trial.id, method_id: props.method.id } },
      headers,
      body: { items: asSent(props.method, rows.value) },
    }),
  )
</script>

<template>
  <div class="editor">
    <MethodWords :trial="trial" :method="method" :edit="edit" />
    <div class="both">
      <StepsDrawn v-model:rows="rows" class="drawn" :colour="method.mark.colour" @pick="show" />
      <ol ref="list">
        <li v-for="(r, i) in rows" :key="i" :class="r.attention">
          <StepFields
            v-model="rows[i]!"
            :number="i + 1"
            :last="i === rows.length - 1"
            :method="method"
            :appliances="appliances"
            @up="move(i, -1)"
            @down="move(i, 1)"
            @add="rows.splice(i + 1, 0, newRow())"
            @remove="rows.splice(i, 1)"
          />
        </li>
      </ol>
    </div>
    <div class="row">
      <button type="button" class="act strong" @click="save">Save steps</button
      ><span class="soft small"
        >Batches already in a shift keep the steps they were made with. <Term of="come-up" />,
        <Term of="core" />, <Term of="cue"
      /></span>
    </div>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-2) 0 var(--gap-4);
}
.both {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  gap: var(--gap-4);
  align-items: start;
}
.drawn {
  position: sticky;
  top: var(--gap-4);
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
li {
  border-left: 6px solid var(--line-strong);
  padding: var(--gap-2) 0 var(--gap-3) var(--gap-3);
  display: grid;
  gap: var(--gap-2);
  border-bottom: 1px solid var(--line);
}
li.hands {
  border-left-color: var(--ink);
}
li.watched {
  border-left-color: var(--warn-line);
}
@media (max-width: 900px) {
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
  .drawn {
    position: static;
  }
}
</style>
