<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words, type Method, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { minutes, temperature } from '../../bench/units'
import type { Edit } from '../useTrial'
import Loads from './Loads.vue'
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
const fresh = reactive({ technique: 'oven', name: '' })
const unknown = (m: Method) => !!techniques.value && !techniques.value.some((t) => t.key === m.technique)
const picked = computed(() => offered.value.find((t) => t.key === fresh.technique))
function range(key: string, r: number[]): string {
  const [low, high] = r as [number, number]
  if (key === 'set_point_c') return `set to ${temperature(low)} to ${temperature(high)}`
  return key === 'power_w'
    ? `${low} to ${high} W into the food`
    : `cooked ${minutes(low)} to ${minutes(high)}`
}
async function add() {
  if (
    await props.edit((_, headers) =>
      api.POST('/api/v1/trials/{trial_id}/methods', { ...path, headers, body: { ...fresh } }),
    )
  ) {
    adding.value = false
    fresh.name = ''
  }
}
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

// Next version, challenge, failed try: everything is copied, only the change and the defect are asked.
const versions = computed(() => ['chain', 'champion', 'one_change'].includes(props.trial.kind))
const asking = ref<{ what: 'version' | 'challenge' | 'failed'; of: Method | null } | null>(null)
const answer = reactive({ change: '', aimed_defect: '', name: '', note: '' })
const wrong = ref('')
function ask(what: 'version' | 'challenge' | 'failed', of: Method | null) {
  Object.assign(answer, { change: '', aimed_defect: '', name: '', note: '' })
  wrong.value = ''
  asking.value = { what, of }
}
async function go() {
  const a = asking.value
  if (!a) return
  const at = { trial_id: props.trial.id, method_id: a.of?.id ?? '' }
  if (a.what === 'challenge') {
    try {
      const { data } = await api.POST('/api/v1/trials/{trial_id}/challenges', {
        ...path,
        body: {
          champion_id: a.of?.id ?? null,
          change: answer.change,
          aimed_defect: answer.aimed_defect,
          question: '',
        },
      })
      if (data) await router.push(`/trials/${data.id}/ask`)
    } catch (error) {
      wrong.value = words(error)
    }
    return
  }
  const ok =
    a.what === 'version'
      ? await props.edit((_, headers) =>
          api.POST('/api/v1/trials/{trial_id}/methods/{method_id}/versions', {
            params: { path: at },
            headers,
            body: { name: answer.name, change: answer.change, aimed_defect: answer.aimed_defect },
          }),
        )
      : await props.edit((_, headers) =>
          api.POST('/api/v1/trials/{trial_id}/methods/{method_id}/failed-tries', {
            params: { path: at },
            headers,
            body: { note: answer.note },
          }),
        )
  if (ok) asking.value = null
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

  <el-dialog v-model="adding" title="Add a method" width="560">
    <form class="stack" @submit.prevent="add">
      <label class="field"
        >Technique<el-select v-model="fresh.technique" filterable
          ><el-option v-for="t in offered" :key="t.key" :value="t.key" :label="t.name" /></el-select
      ></label>
      <p v-if="picked" class="soft small">
        Usual:
        {{
          Object.entries(picked.ranges)
            .map(([k, r]) => range(k, r))
            .join(', ') || 'no range noted'
        }}. Gear: {{ picked.gear.join(', ') || 'none noted' }}.
        <router-link to="/techniques">The library</router-link>
      </p>
      <label class="field"
        >Name (if other than the technique’s)<el-input v-model="fresh.name" name="method-name"
      /></label>
      <p class="soft small">Its steps are a start and can be edited.</p>
      <p v-if="problem" class="bad">{{ problem }}</p>
      <div class="row">
        <button class="act strong" :disabled="busy">Add</button
        ><button type="button" class="act quiet" @click="adding = false">Not now</button>
      </div>
    </form>
  </el-dialog>
  <el-dialog
    :model-value="!!asking"
    :title="
      asking?.what === 'failed'
        ? `A failed try at ${asking.of?.name}`
        : asking?.what === 'challenge'
          ? 'Challenge what leads'
          : `Next version of ${asking?.of?.name}`
    "
    width="560"
    @close="asking = null"
  >
    <form v-if="asking" class="stack" @submit.prevent="go">
      <template v-if="asking.what === 'failed'"
        ><label class="field">What went wrong<el-input v-model="answer.note" name="note" /></label
      ></template>
      <template v-else>
        <p class="soft small">
          Everything is copied: lots, amounts, steps, attributes. Only two things are asked.
        </p>
        <label class="field"
          >What is changed<el-input v-model="answer.change" name="change" placeholder="coated in rice flour"
        /></label>
        <label class="field"
          >Which defect it is meant to cure<el-input
            v-model="answer.aimed_defect"
            name="defect"
            placeholder="stalks a little dry"
        /></label>
        <label v-if="asking.what === 'version'" class="field"
          >Name<el-input v-model="answer.name" placeholder="made from the change where left out"
        /></label>
      </template>
      <p v-if="wrong || problem" class="bad" role="alert">{{ wrong || problem }}</p>
      <div class="row">
        <button class="act strong" :disabled="busy">
          {{ asking.what === 'failed' ? 'Count it' : 'Make it' }}</button><button
          type="button"
          class="act quiet"
          @click="asking = null"
        >
          Not now
        </button>
      </div>
    </form>
  </el-dialog>
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
