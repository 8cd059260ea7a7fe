<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Method, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { minutes } from '../../bench/units'
import { useTrial } from '../useTrial'
import AttributesEditor from './AttributesEditor.vue'
import StepsEditor from './StepsEditor.vue'

const id = String(useRoute().params.trial)
const { trial, problem, busy, edit } = useTrial(id)
const path = { params: { path: { trial_id: id } } }
const { data: techniques } = useQuery({ queryKey: ['techniques'], staleTime: Infinity, queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items })
const form = reactive({ title: '', question: '', dish: '', aliases: '', answer_rule: '', hunch: '', matters: 0, pieces: 12, kind: 'side_by_side' as Schemas['TrialKind'], fairness: 'same_recipe' as Schemas['Fairness'], done_rule: 'by_state' as Schemas['DoneRule'] })
watch(trial, (t) => { if (t) for (const k of Object.keys(form) as (keyof typeof form)[]) (form as Record<string, unknown>)[k] = t[k] }, { immediate: true })
const changed = computed(() => !!trial.value && (Object.keys(form) as (keyof typeof form)[]).some((k) => form[k] !== trial.value![k]))
const save = () => edit((_, headers) => api.PATCH('/api/v1/trials/{trial_id}', { ...path, headers, body: { ...form } }))

const adding = ref(false)
const fresh = reactive({ technique: 'oven', name: '' })
async function add() {
  if (await edit((_, headers) => api.POST('/api/v1/trials/{trial_id}/methods', { ...path, headers, body: { ...fresh } }))) {
    adding.value = false
    fresh.name = ''
  }
}
const openMethod = ref<string | null>(null)
const remove = (m: Method) => edit((_, headers) => api.DELETE('/api/v1/trials/{trial_id}/methods/{method_id}', { params: { path: { trial_id: id, method_id: m.id } }, headers }))
const cookS = (m: Method) => m.steps.filter((s) => s.phase === 'cook').reduce((a, s) => a + s.duration_s, 0)
const totalS = (m: Method) => m.steps.filter((s) => s.during_offset_s === null).reduce((a, s) => a + s.duration_s, 0)
const sentence = computed(() => {
  const t = trial.value
  if (!t) return ''
  if (t.missing.length) return `Before it can be set up: ${t.missing[0]}`
  return `${t.methods.length} methods ${t.kind === 'one_change' ? 'that differ in one thing' : 'side by side'}, judged on ${t.attributes.filter((a) => a.weight > 0).map((a) => a.name.toLowerCase()).join(', ')}.`
})
</script>

<template>
  <main v-if="trial" class="page">
    <section class="say"><h1>{{ sentence }}</h1><p v-if="trial.missing.length > 1" class="soft">Then: {{ trial.missing.slice(1).join(' ') }}</p><p v-else-if="trial.answer_rule" class="soft">What counts as an answer: {{ trial.answer_rule }}</p></section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>

    <div class="row"><h2 class="grow">Methods</h2><button class="act strong" @click="adding = true">Add a method</button></div>
    <table class="plain methods">
      <thead><tr><th>Mark, tag</th><th>Method</th><th>Cooking</th><th>In all, one batch</th><th>Steps</th><th /></tr></thead>
      <tbody>
        <template v-for="m in trial.methods" :key="m.id">
          <tr>
            <td><span class="row nowrap"><LoafMark :mark="m.mark" /><strong>{{ m.tag }}</strong></span></td>
            <td><strong>{{ m.name }}</strong><br /><span class="soft small">{{ m.mark.name }}</span></td>
            <td class="mono">{{ minutes(cookS(m)) }}</td>
            <td class="mono">{{ minutes(totalS(m)) }}</td>
            <td class="mono">{{ m.steps.length }}</td>
            <td class="right"><button class="act quiet" :aria-expanded="openMethod === m.id" @click="openMethod = openMethod === m.id ? null : m.id">{{ openMethod === m.id ? 'Close' : 'Edit steps' }}</button> <button class="act quiet" :disabled="busy" @click="remove(m)">Remove</button></td>
          </tr>
          <tr v-if="openMethod === m.id"><td colspan="6"><StepsEditor :key="m.id + trial.version" :trial="trial" :method="m" :edit="edit" /></td></tr>
        </template>
        <tr v-if="!trial.methods.length"><td colspan="6" class="soft">None yet. Each one starts from a technique and gets a mark you can draw on foil or tape.</td></tr>
      </tbody>
    </table>

    <hr class="rule" />
    <h2>What tasters judge</h2>
    <AttributesEditor :key="trial.version" :trial="trial" :edit="edit" />

    <hr class="rule" />
    <h2>The question and its rule</h2>
    <form class="two" @submit.prevent="save">
      <label class="field wide">Question<el-input v-model="form.question" type="textarea" :rows="2" /></label>
      <label class="field">Title<el-input v-model="form.title" /></label>
      <label class="field">Dish<el-input v-model="form.dish" /></label>
      <label class="field wide">Other names of the dish, for search<el-input v-model="form.aliases" /></label>
      <label class="field wide">What counts as an answer<el-input v-model="form.answer_rule" type="textarea" :rows="2" placeholder="Best weighted score, among those on the table within 60 min" /></label>
      <label class="field wide">Your hunch before the test<el-input v-model="form.hunch" placeholder="Written down first, because it biases" /></label>
      <label class="field">Smallest difference that matters, in points<el-input-number v-model="form.matters" :min="0" :max="10" :step="0.1" controls-position="right" /></label>
      <label class="field">Compare at this many pieces<el-input-number v-model="form.pieces" :min="1" :max="10000" controls-position="right" /></label>
      <label class="field">Kind of trial<el-select v-model="form.kind"><el-option value="side_by_side" label="Side by side" /><el-option value="one_change" label="One change" /></el-select></label>
      <label class="field">Fair how<el-select v-model="form.fairness"><el-option value="same_recipe" label="Same recipe in each" /><el-option value="each_at_its_best" label="Each at its best" /></el-select></label>
      <label class="field">Done how<el-select v-model="form.done_rule"><el-option value="by_clock" label="Stopped by the clock" /><el-option value="by_state" label="Stopped by the state (time is a result)" /></el-select></label>
      <div class="wide row"><button class="act strong" :disabled="busy || !changed">Save</button><span v-if="changed" class="soft">Not saved yet.</span></div>
    </form>

    <el-dialog v-model="adding" title="Add a method" width="560">
      <form class="stack" @submit.prevent="add">
        <label class="field">Technique<el-select v-model="fresh.technique"><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select></label>
        <label class="field">Name (if other than the technique’s)<el-input v-model="fresh.name" name="method-name" /></label>
        <p class="soft small">Its steps are a start and can be edited.</p>
        <p v-if="problem" class="bad">{{ problem }}</p>
        <div class="row"><button class="act strong" :disabled="busy">Add</button><button type="button" class="act quiet" @click="adding = false">Not now</button></div>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.two { display: grid; grid-template-columns: repeat(3, 1fr); gap: 12px 18px; margin-top: 10px; align-items: end; }
.wide { grid-column: 1 / -1; }
.nowrap { flex-wrap: nowrap; }
.right { text-align: right; white-space: nowrap; }
@media (max-width: 800px) { .two { grid-template-columns: 1fr; } .methods th:nth-child(n+3):nth-child(-n+5), .methods td.mono { display: none; } .right { white-space: normal; } }
</style>
