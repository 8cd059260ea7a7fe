<script setup lang="ts">
/**
 * What another pair of hands, another appliance or a later table would come to, side by side before one is
 * taken.
 */
import { computed, ref } from 'vue'
import { api, words, type Schemas } from '../../api/client'
import { useSlowRequest } from '../../api/queries/slowWork'
import { clock } from '../../bench/dates'
import { minutes } from '../../bench/units'
import AtWork from '../AtWork.vue'

const props = defineProps<{ shift: string; zone?: string }>()
const emit = defineEmits<{ close: []; taken: [] }>()
const path = { params: { path: { shift_id: props.shift } } }
const another = ref('')
const later = ref(30)
const data = ref<Schemas['WhatIfAnswer'] | null>(null)
const problem = ref('')
const { since, run, stop } = useSlowRequest('what_if')
const asked = computed(() => [
  { more_people: 1, later_min: 0, another: '' },
  { more_people: 0, later_min: later.value, another: '' },
  ...(another.value ? [{ more_people: 0, later_min: 0, another: another.value }] : []),
])
async function compare() {
  try {
    const ask = (headers: Record<string, string>) =>
      api.POST('/api/v1/shifts/{shift_id}/what-ifs', { ...path, headers, body: { items: asked.value } })
    data.value = (await run(ask)).data ?? null
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  }
}
void compare()
async function take(i: number) {
  const w = asked.value[i - 1]
  if (!w) return
  try {
    const people = w.more_people
      ? Math.min(
          4,
          (await api.GET('/api/v1/shifts/{shift_id}/bench', path)).data!.shift.people + w.more_people,
        )
      : null
    await api.POST('/api/v1/shifts/{shift_id}/window', { ...path, body: { later_min: w.later_min, people } })
    emit('taken')
  } catch (error) {
    problem.value = words(error)
  }
}
const at = (s: number | null) => (s === null ? '—' : clock(s, props.zone))
</script>

<template>
  <el-dialog :model-value="true" width="900" title="What if" @close="emit('close')">
    <div class="stack">
      <div class="row">
        <label class="field"
          >Later by, minutes<el-input-number
            v-model="later"
            :min="-240"
            :max="480"
            :controls="false"
            aria-label="Later by, minutes" /></label
        ><label class="field"
          >Another<el-select
            v-model="another"
            clearable
            placeholder="no other appliance"
            class="w"
            aria-label="Another appliance"
            ><el-option
              v-for="(name, id) in data?.appliances ?? {}"
              :key="id"
              :value="String(id)"
              :label="name" /></el-select></label
        ><button class="act end" :disabled="since !== null" @click="compare">Compare</button>
      </div>
      <AtWork
        v-if="since !== null"
        kind="what_if"
        words="Planning each of them"
        :since="since"
        stops="Stop"
        @stop="stop"
      />
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <table v-if="data" class="plain">
        <thead>
          <tr>
            <th />
            <th v-for="o in data.items" :key="o.words">{{ o.words }}</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th>First step</th>
            <td v-for="o in data.items" :key="o.words" class="mono">{{ at(o.begins) }}</td>
          </tr>
          <tr>
            <th>Plates meet</th>
            <td v-for="o in data.items" :key="o.words" class="mono">
              {{ at(o.served_from) }} – {{ at(o.served_until) }}
            </td>
          </tr>
          <tr>
            <th>Longest hold</th>
            <td v-for="o in data.items" :key="o.words" class="mono">
              {{ o.longest_hold_s ? minutes(o.longest_hold_s) : 'none' }}
            </td>
          </tr>
          <tr>
            <th>Hurried moments</th>
            <td v-for="o in data.items" :key="o.words" class="mono">{{ o.hurried ?? '—' }}</td>
          </tr>
          <tr>
            <th>How sure</th>
            <td v-for="o in data.items" :key="o.words" class="small">{{ o.proof }}</td>
          </tr>
          <tr>
            <th>Notes</th>
            <td v-for="o in data.items" :key="o.words" class="small">{{ o.notes.join(' ') }}</td>
          </tr>
          <tr>
            <th />
            <td v-for="(o, i) in data.items" :key="o.words">
              <button v-if="i && i < 3" class="act quiet" @click="take(i)">Take it</button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        Another appliance has to be entered at Kitchen and chosen in the steps before it can be taken.
      </p>
    </div>
  </el-dialog>
</template>

<style scoped>
.w {
  width: 240px;
}
.end {
  align-self: end;
}
td,
th {
  min-width: 120px;
}
</style>
