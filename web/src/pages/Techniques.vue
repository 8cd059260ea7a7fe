<script setup lang="ts">
/** The kitchen's library of technique templates: shipped ones changed, hidden or put back, own ones made from them. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { durationText, minutes, temperature, temperatureText } from '../bench/units'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['technique-library'],
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!,
})
const open = ref('')
const problem = ref('')
type T = Schemas['TechniqueView']
const RANGES: [string, string][] = [
  ['set_point_c', 'set to'],
  ['cook_s', 'cooked'],
  ['power_w', 'watts into the food'],
]
const say = (k: string, v: number) =>
  k === 'cook_s' ? minutes(v) : k === 'power_w' ? `${v} W` : temperature(v)
const told = (t: T) =>
  RANGES.filter(([k]) => t.ranges[k])
    .map(([k, w]) => `${w} ${say(k, t.ranges[k]![0]!)} to ${say(k, t.ranges[k]![1]!)}`)
    .join(', ')
interface Row {
  what: string
  attention: Schemas['Attention']
  phase: Schemas['Phase']
  duration: string
  offset: string
  set: string
  days: number
}
const form = reactive({
  key: '',
  name: '',
  appliance_kind: 'oven',
  gear: '',
  hazards: [] as string[],
  steps: [] as Row[],
  low: '',
  high: '',
  shortest: '',
  longest: '',
})
function edit(t: T, own = false) {
  Object.assign(form, {
    key: own ? '' : t.key,
    name: own ? `${t.name}, ours` : t.name,
    appliance_kind: t.appliance_kind,
    gear: t.gear.join(', '),
    hazards: [...t.hazards],
    low: temperatureText(t.ranges.set_point_c?.[0]),
    high: temperatureText(t.ranges.set_point_c?.[1]),
    shortest: t.ranges.cook_s ? durationText(t.ranges.cook_s[0]!) : '',
    longest: t.ranges.cook_s ? durationText(t.ranges.cook_s[1]!) : '',
    steps: t.steps.map((s) => ({
      what: s.what,
      attention: s.attention,
      phase: s.phase,
      duration: durationText(s.duration_s),
      offset: s.during_offset_s === null ? '' : durationText(s.during_offset_s),
      set: temperatureText(s.set_point_c),
      days: s.days_before,
    })),
  })
  open.value = own ? 'new' : t.key
}
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    open.value = ''
    await client.invalidateQueries({ queryKey: ['technique-library'] })
    await client.invalidateQueries({ queryKey: ['techniques'] })
  } catch (error) {
    problem.value = words(error)
  }
}
const seconds = (t: string) => {
  let n = 0
  for (const m of t.matchAll(/(\d+(?:[.,]\d+)?)\s*(h|min|s)/g))
    n += Number(m[1]!.replace(',', '.')) * (m[2] === 'h' ? 3600 : m[2] === 'min' ? 60 : 1)
  const c = t.match(/^(\d+):(\d{2})$/)
  return c ? Number(c[1]) * 60 + Number(c[2]) : n
}
const degrees = (t: string) => {
  const v = parseFloat(t.replace(',', '.'))
  return /f/i.test(t) ? (v - 32) / 1.8 : v
}
const keyOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '')
    .slice(0, 40) || 'own'
function save(hidden = false) {
  const ranges: Record<string, number[]> = {}
  if (form.low && form.high) ranges.set_point_c = [degrees(form.low), degrees(form.high)]
  if (form.shortest && form.longest) ranges.cook_s = [seconds(form.shortest), seconds(form.longest)]
  const old = data.value?.items.find((t) => t.key === form.key)
  const steps = form.steps.map((s, i) => ({
    id: null,
    what: s.what,
    attention: s.attention,
    phase: s.phase,
    duration_s: s.duration,
    end_rule: old?.steps[i]?.end_rule ?? ('clock' as const),
    end_cue: old?.steps[i]?.end_cue ?? '',
    during_offset_s: s.offset || null,
    set_point_c: s.set || null,
    power_w: old?.steps[i]?.power_w ?? null,
    days_before: s.days,
  }))
  return run(() =>
    api.PUT('/api/v1/techniques/{key}', {
      params: { path: { key: form.key || keyOf(form.name) } },
      body: {
        name: form.name,
        appliance_kind: form.appliance_kind,
        gear: form.gear
          .split(',')
          .map((g) => g.trim())
          .filter(Boolean),
        hazards: form.hazards,
        ranges,
        steps,
        hidden,
      },
    }),
  )
}
function hide(t: T) {
  edit(t)
  return save(!t.hidden)
}
const reset = (t: T) =>
  run(() => api.DELETE('/api/v1/techniques/{key}', { params: { path: { key: t.key } } }))
const PHASES: [Schemas['Phase'], string][] = [
  ['prepare', 'prepare'],
  ['come_up', 'come up'],
  ['load', 'put in'],
  ['cook', 'cook'],
  ['turn', 'turn, shake'],
  ['out', 'take out'],
  ['wait', 'rest, drain'],
  ['plate', 'plate'],
  ['wash_up', 'wash up'],
]
const own = computed(() => data.value?.items.filter((t) => t.own).length ?? 0)
</script>

<template>
  <main v-if="data" class="page stack">
    <p><router-link to="/kitchen">Kitchen</router-link></p>
    <section class="say">
      <h1>
        {{ data.items.length }} techniques to start a method from<template v-if="own"
          >, {{ own }} of them this kitchen’s own</template
        >.
      </h1>
      <p class="soft">
        Settings are usual ranges, from practice and not measured. A change here leaves methods that were made
        before as they are.
      </p>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <ul class="list">
      <li v-for="t in data.items" :key="t.key" :class="{ off: t.hidden }">
        <div class="row">
          <span class="grow"
            ><strong>{{ t.name }}</strong> <span v-if="t.own" class="chip">ours</span
            ><span v-if="t.hidden" class="chip">not offered</span
            ><span class="soft small block"
              >{{ told(t) }}. {{ t.steps.length }} steps. Gear: {{ t.gear.join(', ') || 'none' }}. Hazards:
              {{ t.hazards.map((h) => h.replace(/_/g, ' ')).join(', ') || 'none' }}.</span
            ></span
          >
          <button class="act quiet" @click="open === t.key ? (open = '') : edit(t)">
            {{ open === t.key ? 'Close' : 'Change' }}</button><button
            class="act quiet"
            @click="edit(t, true)"
          >
            New from it</button
          ><button class="act quiet" @click="hide(t)">{{ t.hidden ? 'Offer again' : 'Do not offer' }}</button
          ><button v-if="t.own" class="act quiet" @click="reset(t)">As shipped</button>
        </div>
      </li>
    </ul>
    <el-dialog
      :model-value="!!open"
      :title="open === 'new' ? 'A technique of our own' : form.name"
      width="900"
      @close="open = ''"
    >
      <form class="stack" @submit.prevent="save()">
        <div class="row">
          <label class="field">Name<el-input v-model="form.name" name="technique-name" /></label
          ><label class="field"
            >Needs<el-select v-model="form.appliance_kind" filterable aria-label="Appliance"
              ><el-option
                v-for="k in data.appliance_kinds"
                :key="k"
                :value="k"
                :label="k.replace(/_/g, ' ')" /></el-select></label
          ><label class="field grow">Gear<el-input v-model="form.gear" /></label>
        </div>
        <label class="field"
          >Hazards<el-select v-model="form.hazards" multiple filterable aria-label="Hazards"
            ><el-option
              v-for="h in data.hazards"
              :key="h"
              :value="h"
              :label="h.replace(/_/g, ' ')" /></el-select
        ></label>
        <div class="row">
          <label class="field">Set from<el-input v-model="form.low" class="s" /></label
          ><label class="field">to<el-input v-model="form.high" class="s" /></label
          ><label class="field">Cooked from<el-input v-model="form.shortest" class="s" /></label
          ><label class="field">to<el-input v-model="form.longest" class="s" /></label>
        </div>
        <div v-for="(s, i) in form.steps" :key="i" class="row step">
          <el-input v-model="s.what" class="grow" :aria-label="`Step ${i + 1}`" /><el-select
            v-model="s.phase"
            class="s"
            aria-label="Part of the job"
            ><el-option v-for="[k, w] in PHASES" :key="k" :value="k" :label="w" /></el-select
          ><el-select v-model="s.attention" class="s" aria-label="Needs"
            ><el-option value="hands" label="hands" /><el-option value="watched" label="someone" /><el-option
              value="free"
              label="nobody" /></el-select
          ><el-input v-model="s.duration" class="s" aria-label="Lasts" /><el-input
            v-model="s.offset"
            class="s"
            placeholder="in order"
            aria-label="During, after"
          /><el-input v-model="s.set" class="s" placeholder="not set" aria-label="Set to" /><button
            type="button"
            class="act quiet"
            :aria-label="`Remove step ${i + 1}`"
            @click="form.steps.splice(i, 1)"
          >
            ×
          </button>
        </div>
        <div>
          <button
            type="button"
            class="act quiet"
            @click="
              form.steps.push({
                what: '',
                attention: 'hands',
                phase: 'prepare',
                duration: '1 min',
                offset: '',
                set: '',
                days: 0,
              })
            "
          >
            Add a step
          </button>
        </div>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div class="row">
          <button class="act strong">Keep it</button
          ><button type="button" class="act quiet" @click="open = ''">Not now</button>
        </div>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.list {
  list-style: none;
  padding: 0;
  margin: 0;
  border-top: 2px solid var(--ink);
}
.list li {
  border-bottom: 1px solid var(--line);
  padding: 8px 4px;
}
.off {
  opacity: 0.7;
}
.block {
  display: block;
}
.s {
  width: 108px;
}
.step {
  flex-wrap: nowrap;
  gap: 6px;
}
.chip {
  border: 1px solid currentColor;
  border-radius: 6px;
  padding: 0 6px;
  font-size: 13px;
  margin-right: 4px;
}
@media (max-width: 800px) {
  .step {
    flex-wrap: wrap;
  }
}
</style>
