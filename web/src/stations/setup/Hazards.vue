<script setup lang="ts">
/**
 * Hazards method by method: what holds, what was struck out and why, what is meant pink, soft or raw by a
 * written rule.
 */
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, type Method, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useSession } from '../../session'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const session = useSession()
const { data: safety } = useQuery({
  queryKey: queryKeys.safety(),
  queryFn: async () => (await api.GET('/api/v1/safety')).data!,
})
const { data: library } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const unknown = (m: Method) => !!library.value && !library.value.some((t) => t.key === m.technique)
const textOf = (key: string) => safety.value?.hazards.find((h) => h.key === key)?.text ?? key
const path = (m: Method) => ({ params: { path: { trial_id: props.trial.id, method_id: m.id } } })
const striking = ref<{ method: Method; hazard: string } | null>(null)
const why = ref('')
async function strike(method: Method, hazard: string, reason: string) {
  const ok = await props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/struck-hazards', {
      ...path(method),
      headers,
      body: { hazard, why: reason },
    }),
  )
  if (ok) {
    striking.value = null
    why.value = ''
  }
}
const add = (m: Method, hazard: string) =>
  props.edit((_, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
      ...path(m),
      headers,
      body: { hazards: [...m.hazards, hazard] },
    }),
  )
const meaning = ref<Method | null>(null)
const meant = reactive({ rule: '', not_for: '' })
function openMeant(m: Method) {
  Object.assign(meant, { rule: m.meant.rule ?? '', not_for: m.meant.not_for ?? '' })
  meaning.value = m
}
async function saveMeant() {
  const m = meaning.value
  const ok =
    m &&
    (await props.edit((_, headers) =>
      api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/meant', {
        ...path(m),
        headers,
        body: { ...meant },
      }),
    ))
  if (ok) meaning.value = null
}
const left = (m: Method) => safety.value?.hazards.filter((h) => !m.all_hazards.includes(h.key)) ?? []
</script>

<template>
  <section class="stack">
    <h2>Hazards</h2>
    <p class="soft small">
      They come from the way of cooking, the kind of food and the ingredients, and are shown at the step. One
      that does not hold here is struck out with the reason; one that is missing is added.
    </p>
    <article v-for="m in trial.methods" :key="m.id" class="one">
      <h3 class="row"><LoafMark :mark="m.mark" :size="24" />{{ m.tag }} {{ m.name }}</h3>
      <ul>
        <li v-for="h in m.all_hazards" :key="h" :class="{ struck: m.struck_hazards[h] }">
          <span class="text">{{ textOf(h) }}</span>
          <template v-if="m.struck_hazards[h]"
            ><span class="soft small">Struck out: {{ m.struck_hazards[h] }}</span
            ><button class="act quiet" @click="strike(m, h, '')">It holds after all</button></template
          >
          <button v-else class="act quiet" @click="striking = { method: m, hazard: h }">Strike out…</button>
        </li>
        <li v-if="unknown(m)" class="warn">
          Its way of cooking is not in the library: think through what can hurt here and add it. Before
          anybody eats of it, it is asked whether that was done.
        </li>
        <li v-if="!m.all_hazards.length" class="soft">None is known for this way of cooking.</li>
      </ul>
      <div class="row">
        <el-select
          :model-value="undefined"
          class="wide"
          filterable
          placeholder="Add a hazard"
          :aria-label="`Add a hazard to ${m.tag}`"
          @change="(h: string) => add(m, h)"
          ><el-option v-for="h in left(m)" :key="h.key" :value="h.key" :label="h.text"
        /></el-select>
        <button v-if="session.lead" class="act quiet" @click="openMeant(m)">
          {{ m.meant.rule ? 'The written rule' : 'Meant pink, soft or raw…' }}
        </button>
      </div>
      <p v-if="m.meant.rule" class="warn small">
        Meant so: {{ m.meant.rule }} Not for: {{ m.meant.not_for }}. Written down by {{ m.meant.by }}.
      </p>
    </article>
    <el-dialog
      :model-value="!!striking"
      title="This hazard does not hold here"
      width="520"
      @close="striking = null"
    >
      <form v-if="striking" class="stack" @submit.prevent="strike(striking.method, striking.hazard, why)">
        <p>{{ textOf(striking.hazard) }}</p>
        <label class="field"
          >Why not<el-input v-model="why" name="strike-why" type="textarea" :rows="2"
        /></label>
        <div><button class="act strong" :disabled="why.trim().length < 10">Strike it out</button></div>
      </form>
    </el-dialog>
    <el-dialog :model-value="!!meaning" title="Meant pink, soft or raw" width="560" @close="meaning = null">
      <form class="stack" @submit.prevent="saveMeant">
        <p>
          A core below the figure then no longer bars tasting, and the page tells readers both sentences.
          Local food-safety rules come first; some forbid serving it.
        </p>
        <label class="field"
          >The kitchen’s rule, with its source<el-input
            v-model="meant.rule"
            name="meant-rule"
            type="textarea"
            :rows="3"
        /></label>
        <label class="field"
          >Who must not eat it<el-input
            v-model="meant.not_for"
            name="meant-not-for"
            placeholder="children, the old, the pregnant, the ill"
        /></label>
        <div><button class="act strong">Write it down</button></div>
      </form>
    </el-dialog>
  </section>
</template>

<style scoped>
.one {
  border-top: 1px solid var(--line);
  padding-top: var(--gap-2);
}
ul {
  list-style: none;
  padding: 0;
  margin: var(--gap-2) 0;
  display: grid;
  gap: var(--gap-1);
}
li {
  display: flex;
  gap: var(--gap-3);
  align-items: baseline;
  flex-wrap: wrap;
}
.text {
  flex: 1 1 420px;
}
.struck .text {
  text-decoration: line-through;
}
.wide {
  width: 420px;
  max-width: 100%;
}
</style>
