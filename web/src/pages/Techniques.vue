<script setup lang="ts">
/**
 * The kitchen's library of technique templates: shipped ones changed, hidden or put back, own ones made from
 * them.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { minutes, temperature, type Quantity } from '../bench/units'
import QuantityInput from '../ui/QuantityInput.vue'
import { queryKeys } from '../api/queries/keys'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: queryKeys.techniqueLibrary(),
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
  /** The step it was, with what this form does not show. */
  was: Schemas['StepView'] | null
  what: string
  attention: Schemas['Attention']
  phase: Schemas['Phase']
  duration: Quantity
  offset: Quantity
  set: Quantity
  days: number
}
const form = reactive({
  key: '',
  version: '',
  name: '',
  appliance_kind: 'oven',
  gear: '',
  hazards: [] as string[],
  steps: [] as Row[],
  ranges: {} as Record<string, number[]>,
  low: null as Quantity,
  high: null as Quantity,
  shortest: null as Quantity,
  longest: null as Quantity,
})
function edit(t: T, own = false) {
  Object.assign(form, {
    key: own ? '' : t.key,
    version: own ? '' : (t.version ?? ''),
    name: own ? `${t.name}, ours` : t.name,
    appliance_kind: t.appliance_kind,
    gear: t.gear.join(', '),
    hazards: [...t.hazards],
    ranges: t.ranges,
    low: t.ranges.set_point_c?.[0] ?? null,
    high: t.ranges.set_point_c?.[1] ?? null,
    shortest: t.ranges.cook_s?.[0] ?? null,
    longest: t.ranges.cook_s?.[1] ?? null,
    steps: t.steps.map((s) => ({
      was: s,
      what: s.what,
      attention: s.attention,
      phase: s.phase,
      duration: s.duration_s,
      offset: s.during_offset_s,
      set: s.set_point_c,
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
    await client.invalidateQueries({ queryKey: queryKeys.techniqueLibrary() })
    await client.invalidateQueries({ queryKey: queryKeys.techniques() })
  } catch (error) {
    problem.value = words(error)
  }
}
const keyOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '')
    .slice(0, 40) || 'own'
function save() {
  // Ranges that this form does not show stay as they are.
  const ranges: Record<string, Quantity[]> = Object.fromEntries(
    Object.entries(form.ranges).filter(([k]) => !['set_point_c', 'cook_s'].includes(k)),
  )
  if (form.low !== null || form.high !== null)
    ranges.set_point_c = [form.low ?? form.high, form.high ?? form.low]
  if (form.shortest !== null || form.longest !== null)
    ranges.cook_s = [form.shortest ?? form.longest, form.longest ?? form.shortest]
  const steps = form.steps.map((s) => ({
    ...(s.was ?? {}),
    id: null,
    appliance_id: null,
    what: s.what,
    attention: s.attention,
    phase: s.phase,
    duration_s: s.duration ?? '',
    during_offset_s: s.offset,
    set_point_c: s.set,
    days_before: s.days,
  }))
  return run(() =>
    api.PUT('/api/v1/techniques/{key}', {
      params: { path: { key: form.key || keyOf(form.name) } },
      headers: { 'If-Match': form.version },
      body: {
        name: form.name,
        appliance_kind: form.appliance_kind,
        gear: form.gear
          .split(',')
          .map((g) => g.trim())
          .filter(Boolean),
        hazards: form.hazards,
        ranges: ranges as Record<string, (string | number)[]>,
        steps,
      },
    }),
  )
}
const hide = (t: T) =>
  run(() =>
    api.PATCH('/api/v1/techniques/{key}', {
      params: { path: { key: t.key } },
      headers: { 'If-Match': t.version ?? '' },
      body: { hidden: !t.hidden },
    }),
  )
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
      <form class="stack" @submit.prevent="save">
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
          <label class="field"
            >Set from<QuantityInput v-model="form.low" kind="temperature" class="s" /></label
          ><label class="field">to<QuantityInput v-model="form.high" kind="temperature" class="s" /></label
          ><label class="field"
            >Cooked from<QuantityInput v-model="form.shortest" kind="duration" class="s" /></label
          ><label class="field">to<QuantityInput v-model="form.longest" kind="duration" class="s" /></label>
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
          ><QuantityInput v-model="s.duration" kind="duration" class="s" aria-label="Lasts" /><QuantityInput
            v-model="s.offset"
            kind="duration"
            class="s"
            placeholder="in order"
            aria-label="During, after"
          /><QuantityInput
            v-model="s.set"
            kind="temperature"
            class="s"
            placeholder="not set"
            aria-label="Set to"
          /><button
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
                was: null,
                what: '',
                attention: 'hands',
                phase: 'prepare',
                duration: 60,
                offset: null,
                set: null,
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
  padding: var(--gap-2) var(--gap-1);
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
  gap: var(--gap-2);
}
.chip {
  border: 1px solid currentcolor;
  border-radius: 6px;
  padding: 0 var(--gap-2);
  font-size: var(--type-1);
  margin-right: var(--gap-1);
}
@media (max-width: 800px) {
  .step {
    flex-wrap: wrap;
  }
}
</style>
