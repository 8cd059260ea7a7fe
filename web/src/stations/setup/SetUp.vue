<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { minutes, temperature } from '../../bench/units'
import { useTrial } from '../useTrial'
import Amounts from './Amounts.vue'
import Pieces from './Pieces.vue'

const id = String(useRoute().params.trial)
const { trial, problem, busy, edit } = useTrial(id)
const path = { params: { path: { trial_id: id } } }
const { data: fair } = useQuery({
  queryKey: ['fairness', id],
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/fairness', path)).data!,
})
const open = computed(() => fair.value?.differences.filter((d) => !d.varied && !d.accepted) ?? [])
const settled = computed(() => fair.value?.differences.filter((d) => d.varied || d.accepted) ?? [])
const accepting = ref<Schemas['DifferenceView'] | null>(null)
const reason = ref('')
async function accept() {
  const d = accepting.value
  if (!d) return
  if (await edit((_, headers) => api.POST('/api/v1/trials/{trial_id}/accepted-differences', { ...path, headers, body: { field: d.field, signature: d.signature, reason: reason.value } }))) {
    accepting.value = null
    reason.value = ''
  }
}
const vary = (field: string, on: boolean) => edit((t, headers) => api.PATCH('/api/v1/trials/{trial_id}', { ...path, headers, body: { varied: on ? [...t.varied, field] : t.varied.filter((v) => v !== field) } }))
const { data: offers } = useQuery({ queryKey: ['fairness', id, 'offers'], queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/offers', path)).data!.items })
const said = (o: Schemas['OfferView'], v: number) => (o.field === 'set_point_c' ? temperature(v) : minutes(v))
const tagOf = (method: string) => trial.value?.methods.find((m) => m.id === method)?.tag
async function takeAll() {
  // One after the other: each edit carries the version the one before it made.
  for (const o of [...(offers.value ?? [])]) await takeOffer(o)
}
async function takeOffer(o: Schemas['OfferView']) {
  const method = trial.value?.methods.find((m) => m.id === o.method_id)
  if (!method) return
  const items = method.steps.map((s) => ({ ...s, ...(s.id === o.step_id ? { [o.field]: Math.round(o.offered), ...o.also } : {}) }))
  await edit((_, headers) => api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/steps', { params: { path: { trial_id: id, method_id: method.id } }, headers, body: { items } }))
}
const controls = ref<{ what: string; held_at: string }[]>([])
const controlsChanged = ref(false)
watch(trial, (t) => { if (t) { controls.value = t.controls.map((c) => ({ ...c })); controlsChanged.value = false } }, { immediate: true })
const saveControls = () => edit((_, headers) => api.PUT('/api/v1/trials/{trial_id}/controls', { ...path, headers, body: { items: controls.value.filter((c) => c.what.trim()) } }))
</script>

<template>
  <main v-if="trial" class="page">
    <section class="say"><h1>{{ trial.methods.length < 2 ? 'Add at least two methods at Ask; then what differs between them is shown here.' : fair?.sentence }}</h1></section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>

    <Pieces :key="`p${trial.version}`" :trial="trial" :edit="edit" />

    <h2>What differs</h2>
    <div class="scroll">
      <table class="plain">
        <thead><tr><th>Field</th><th v-for="m in trial.methods" :key="m.id"><span class="row nowrap"><LoafMark :mark="m.mark" :size="26" /><strong>{{ m.tag }}</strong></span></th><th>Stands as</th></tr></thead>
        <tbody>
          <tr v-for="d in open" :key="d.field" class="open">
            <td><strong>{{ d.field }}</strong></td><td v-for="m in trial.methods" :key="m.id">{{ d.values[m.tag] }}</td>
            <td class="acts"><strong>slipped in</strong><button class="act quiet" :disabled="busy" @click="vary(d.field, true)">It is what we vary</button><button class="act quiet" @click="accepting = d">Accept in writing</button></td>
          </tr>
          <tr v-for="d in settled" :key="d.field">
            <td>{{ d.field }}</td><td v-for="m in trial.methods" :key="m.id">{{ d.values[m.tag] }}</td>
            <td class="acts"><template v-if="d.varied">varied on purpose <button class="act quiet" :disabled="busy" @click="vary(d.field, false)">Not meant</button></template><template v-else>accepted: {{ d.accepted }}</template></td>
          </tr>
          <tr v-if="fair && !fair.differences.length"><td :colspan="trial.methods.length + 2" class="soft">Nothing that is written differs.</td></tr>
        </tbody>
      </table>
    </div>

    <section v-if="offers?.length" class="stack offers">
      <hr class="rule" />
      <div class="row"><h2 class="grow">This kitchen’s appliances</h2><button v-if="offers.length > 1" class="act quiet" :disabled="busy" @click="takeAll">Take all {{ offers.length }}</button></div>
      <div v-for="o in offers" :key="o.step_id + o.rule" class="row offer">
        <span class="grow"><strong>{{ tagOf(o.method_id) }} · {{ o.what }}</strong>: {{ said(o, o.written) }} → <strong>{{ said(o, o.offered) }}</strong> <span class="soft">({{ said(o, o.low) }} to {{ said(o, o.high) }})</span><br /><span class="small soft">{{ o.rule }}: {{ o.source }}</span></span>
        <button class="act" :disabled="busy" @click="takeOffer(o)">Take {{ said(o, o.offered) }}</button>
      </div>
    </section>

    <hr class="rule" />
    <h2>Lots and amounts</h2>
    <Amounts :key="trial.version" :trial="trial" :edit="edit" />

    <hr class="rule" />
    <h2>Held equal</h2>
    <div class="stack controls">
      <div v-for="(c, i) in controls" :key="i" class="row">
        <el-input v-model="c.what" class="half" placeholder="what" aria-label="What is held equal" @input="controlsChanged = true" /><el-input v-model="c.held_at" class="half" placeholder="at what" aria-label="How it is held" @input="controlsChanged = true" />
        <button class="act quiet" @click="controls.splice(i, 1); controlsChanged = true">Remove</button>
      </div>
      <div class="row"><button class="act quiet" @click="controls.push({ what: '', held_at: '' })">Add</button><button class="act strong" :disabled="!controlsChanged || busy" @click="saveControls">Save what is held equal</button></div>
    </div>

    <hr class="rule" />
    <p>Appliances, their powers and offsets are kept at <router-link to="/kitchen">Kitchen</router-link>.</p>
    <el-dialog :model-value="!!accepting" :title="`Accept: ${accepting?.field}`" width="520" @close="accepting = null">
      <form class="stack" @submit.prevent="accept">
        <p v-for="(v, tag) in accepting?.values" :key="tag"><strong>{{ tag }}</strong> {{ v }}</p>
        <label class="field">Why it may differ<el-input v-model="reason" name="reason" type="textarea" :rows="2" placeholder="It comes with the method: …" /></label>
        <p v-if="problem" class="bad">{{ problem }}</p>
        <div class="row"><button class="act strong" :disabled="busy">Accept</button><button type="button" class="act quiet" @click="accepting = null">Not now</button></div>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.scroll { overflow-x: auto; }
.nowrap { flex-wrap: nowrap; gap: 6px; }
.open td { background: var(--warn-bg); }
.open td:first-child { border-left: 6px solid var(--warn-line); padding-left: 10px; }
.acts { min-width: 190px; }
.acts .act { margin: 2px 4px 2px 0; }
.half { width: 320px; max-width: 100%; }
.controls { margin-top: 8px; }
.offers { margin-bottom: 18px; gap: 4px; }
.offer { border-bottom: 1px solid var(--line); padding: 3px 0; line-height: 1.25; flex-wrap: nowrap; }
</style>
