<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type Method, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { minutes } from '../../bench/units'
import type { Edit } from '../useTrial'
import AddMethod from './AddMethod.vue'
import Loads from './Loads.vue'
import NextVersion from './NextVersion.vue'
import RecipeIn from './RecipeIn.vue'
import StepsEditor from './StepsEditor.vue'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean; problem: string }>()
const router = useRouter()
const { data: techniques } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const offered = computed(() => techniques.value?.filter((t) => !t.hidden) ?? [])
const path = { params: { path: { trial_id: props.trial.id } } }
const adding = ref(false)
const reading = ref(false)
const unknown = (m: Method) => !!techniques.value && !techniques.value.some((t) => t.key === m.technique)
const open = ref<string | null>(null)
const remove = (m: Method) =>
  props.edit((_, headers) =>
    api.DELETE('/api/v1/trials/{trial_id}/methods/{method_id}', {
      params: { path: { trial_id: props.trial.id, method_id: m.id } },
      headers,
    }),
  )
const cookS = (m: Method) => m.steps.filter((s) => s.phase === 'cook').reduce((a, s) => a + s.duration_s, 0)
const totalS = (m: Method) =>
  m.steps.filter((s) => s.during_offset_s === null).reduce((a, s) => a + s.duration_s, 0)

const versions = computed(() => ['chain', 'champion', 'one_change'].includes(props.trial.kind))
const asking = ref<{ what: 'version' | 'challenge' | 'failed'; of: Method | null } | null>(null)
function ask(what: 'version' | 'challenge' | 'failed', of: Method | null) {
  asking.value = { what, of }
}
async function duplicate() {
  const { data } = await api.POST('/api/v1/trials/{trial_id}/copies', {
    ...path,
    body: { title: '', question: '' },
  })
  if (data) await router.push(`/trials/${data.id}/ask`)
}
</script>

<template>
  <div class="row top">
    <span class="grow soft small">{{
      trial.methods.length > 6 ? 'One row a method, in the order of every station.' : ''
    }}</span>
    <button class="act strong" @click="adding = true">Add a method</button>
    <button class="act quiet" @click="reading = true">Bring in a recipe</button>
    <button class="act quiet" @click="duplicate">Copy this trial</button>
    <button class="act quiet" @click="ask('challenge', null)">Challenge the leader</button>
  </div>
  <table class="plain methods" :class="{ many: trial.methods.length > 8 }">
    <thead>
      <tr>
        <th>Mark, tag</th>
        <th>Method</th>
        <th>Cooking</th>
        <th>In all</th>
        <th>Steps</th>
        <th />
      </tr>
    </thead>
    <tbody>
      <template v-for="m in trial.methods" :key="m.id">
        <tr>
          <td>
            <span class="row nowrap"
              ><LoafMark :mark="m.mark" :size="trial.methods.length > 8 ? 26 : 40" /><strong>{{
                m.tag
              }}</strong></span
            >
          </td>
          <td>
            <strong>{{ m.name }}</strong><template v-if="trial.layout.champion === m.id">
              <span class="chip">champion</span></template
            >
            <br v-if="trial.methods.length <= 8" /><template v-else>&ensp;</template
            ><span class="soft small"
              >{{ trial.methods.length <= 8 ? m.mark.name : ''
              }}<template v-if="m.change"
                >&ensp;{{ trial.methods.length <= 8 ? '· ' : '' }}{{ m.change }}</template
              ><template v-if="m.aimed_defect"> · aims at “{{ m.aimed_defect }}”</template
              ><template v-if="m.failed_tries">
                · {{ m.failed_tries }} failed {{ m.failed_tries === 1 ? 'try' : 'tries' }}</template
              ><template v-if="m.verdict_word"> · “{{ m.verdict_word }}”</template></span
            >
            <span v-if="unknown(m)" class="small block"
              >Not in the library: its steps began as another’s.
              <RouterLink :to="`/trials/${trial.id}/setup`">Say what can hurt, at Set up</RouterLink></span
            >
            <span v-if="m.together" class="small block">cooked together: {{ m.together }}</span>
            <span v-if="m.outcome" class="small block">{{ m.outcome }}</span>
          </td>
          <td class="mono">{{ minutes(cookS(m)) }}</td>
          <td class="mono">{{ minutes(totalS(m)) }}</td>
          <td class="mono">{{ m.steps.length }}</td>
          <td class="right">
            <button v-if="versions" class="act quiet" @click="ask('version', m)">Next version</button>
            <button v-if="trial.kind === 'chain'" class="act quiet" @click="ask('failed', m)">
              Failed try
            </button>
            <button
              class="act quiet"
              :aria-expanded="open === m.id"
              @click="open = open === m.id ? null : m.id"
            >
              {{ open === m.id ? 'Close' : 'Edit steps' }}
            </button>
            <button class="act quiet" :disabled="busy" @click="remove(m)">Remove</button>
          </td>
        </tr>
        <tr v-if="open === m.id">
          <td colspan="6">
            <StepsEditor :key="m.id + trial.version" :trial="trial" :method="m" :edit="edit" />
          </td>
        </tr>
      </template>
      <tr v-if="!trial.methods.length">
        <td colspan="6" class="soft">
          None yet. Each one starts from a technique and gets a mark you can draw on foil or tape.
        </td>
      </tr>
    </tbody>
  </table>

  <Loads
    v-if="trial.methods.length > 1 && !['ladder', 'branch'].includes(trial.kind)"
    :trial="trial"
    :edit="edit"
    :busy="busy"
  />

  <AddMethod
    v-if="adding"
    :trial="trial"
    :edit="edit"
    :busy="busy"
    :problem="problem"
    :techniques="offered"
    @close="adding = false"
  />
  <NextVersion
    v-if="asking"
    :trial="trial"
    :edit="edit"
    :busy="busy"
    :problem="problem"
    :what="asking.what"
    :of="asking.of"
    @close="asking = null"
  />
  <RecipeIn v-if="reading" :trial="trial" :edit="edit" @close="reading = false" />
</template>

<style scoped>
.nowrap {
  flex-wrap: nowrap;
}
.top {
  margin-bottom: var(--gap-3);
}
.right {
  text-align: right;
  white-space: nowrap;
}
.right .act + .act {
  margin-left: var(--gap-2);
}
.block {
  display: block;
}
.chip {
  border: 1px solid currentcolor;
  border-radius: 6px;
  padding: 0 var(--gap-2);
  font-size: var(--type-1);
}
.many td {
  padding: var(--gap-0) var(--gap-2) var(--gap-0) 0;
}
.many .act {
  min-height: 40px;
  padding: var(--gap-1) var(--gap-3);
  border-color: transparent;
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media (max-width: 800px) {
  .methods th:nth-child(n + 3):nth-child(-n + 5),
  .methods td.mono {
    display: none;
  }
  .right {
    white-space: normal;
  }
}
</style>
