<script setup lang="ts">
/** What all methods have in common before they part: written once, planned and tapped once for all. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import type { Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: safety } = useQuery({
  queryKey: queryKeys.safety(),
  queryFn: async () => (await api.GET('/api/v1/safety')).data!,
})
interface Row {
  key: string
  what: string
  needs: Schemas['Attention']
  lasts: Quantity
  longest: Quantity
  days: number
}
const rows = ref<Row[]>(
  props.trial.preparation.items.map((s) => ({
    key: s.key,
    what: s.what,
    needs: s.attention,
    lasts: s.duration_s,
    longest: s.longest_s,
    days: s.days_before,
  })),
)
const hazards = ref<string[]>([...props.trial.preparation.hazards])
const add = (needs: Schemas['Attention']) =>
  rows.value.push({ key: '', what: '', needs, lasts: null, longest: null, days: 0 })
function move(i: number, by: number) {
  const [row] = rows.value.splice(i, 1)
  rows.value.splice(i + by, 0, row)
}
const save = () =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/preparation', {
      params: { path: { trial_id: t.id } },
      headers,
      body: {
        items: rows.value.map((r) => ({
          key: r.key,
          what: r.what,
          attention: r.needs,
          phase: r.needs === 'hands' ? ('prepare' as const) : ('wait' as const),
          duration_s: r.lasts ?? '',
          longest_s: r.needs === 'hands' ? null : r.longest,
          days_before: r.days,
        })),
        hazards: hazards.value,
      },
    }),
  )
const sentence = computed(() =>
  rows.value.length
    ? 'Done once for all methods of a shift, before they part. It stands first on the page.'
    : 'Nothing is prepared for all. If every method begins with the same dough or soak, write it here once.',
)
</script>

<template>
  <form class="stack" @submit.prevent="save">
    <p>{{ sentence }}</p>
    <ol v-if="rows.length">
      <li v-for="(r, i) in rows" :key="i" :class="r.needs">
        <div class="row">
          <label class="field grow">{{ i + 1 }}. What<el-input v-model="r.what" name="prepared" /></label>
          <label class="field kind"
            >Needs<el-select v-model="r.needs"
              ><el-option value="hands" label="hands" /><el-option value="free" label="nobody" /></el-select
          ></label>
          <label class="field short"
            >Lasts<QuantityInput v-model="r.lasts" kind="duration" placeholder="10 min"
          /></label>
          <label v-if="r.needs !== 'hands'" class="field short"
            >Up to<QuantityInput v-model="r.longest" kind="duration" placeholder="no longer"
          /></label>
          <label class="field days"
            >Days before<el-input-number v-model="r.days" :min="0" :max="30" :controls="false"
          /></label>
          <span class="row end">
            <button
              type="button"
              class="act quiet"
              :disabled="i === 0"
              aria-label="Move up"
              @click="move(i, -1)"
            >
              ↑
            </button>
            <button
              type="button"
              class="act quiet"
              :disabled="i === rows.length - 1"
              aria-label="Move down"
              @click="move(i, 1)"
            >
              ↓
            </button>
            <button type="button" class="act quiet" @click="rows.splice(i, 1)">Remove</button>
          </span>
        </div>
      </li>
    </ol>
    <div class="row">
      <button type="button" class="act quiet" @click="add('hands')">Add work</button>
      <button type="button" class="act quiet" @click="add('free')">Add a wait</button>
    </div>
    <label v-if="rows.length" class="field"
      >Hazards meanwhile<el-select v-model="hazards" multiple filterable placeholder="none"
        ><el-option v-for="h in safety?.hazards" :key="h.key" :value="h.key" :label="h.text" /></el-select
    ></label>
    <div class="row">
      <button class="act strong">Save</button
      ><span class="soft small"
        >Amounts stand with the methods. Batches already in a shift keep what they were made with.</span
      >
    </div>
  </form>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
li {
  border-left: 6px solid var(--line-strong);
  border-bottom: 1px solid var(--line);
  padding: var(--gap-2) 0 var(--gap-3) var(--gap-3);
}
li.hands {
  border-left-color: var(--ink);
}
.kind {
  width: 130px;
}
.short {
  width: 120px;
}
.days {
  width: 100px;
}
.days :deep(.el-input-number) {
  width: 90px;
}
.end {
  align-self: end;
}
</style>
