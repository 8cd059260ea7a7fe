<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, words } from '../api/client'
import Calculator from '../bench/Calculator.vue'
import { minutes, temperature } from '../bench/units'
import { queryKeys } from '../api/queries/keys'
import { day, dayAndTime } from '../bench/dates'

const SmallChart = defineAsyncComponent(() => import('../bench/SmallChart.vue'))
const id = String(useRoute().params.appliance)
const path = { params: { path: { appliance_id: id } } }
const client = useQueryClient()
const { data: appliances } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const appliance = computed(() => appliances.value?.find((a) => a.id === id))
const { data: specs } = useQuery({
  queryKey: queryKeys.workbench(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/workbench')).data!.items,
})
const { data: measured } = useQuery({
  queryKey: queryKeys.measurements(id),
  queryFn: async () => (await api.GET('/api/v1/appliances/{appliance_id}/measurements', path)).data!.items,
})
const kinds = computed(() =>
  appliance.value?.kind === 'microwave'
    ? ['water-test']
    : appliance.value?.kind === 'pressure_cooker'
      ? []
      : ['offset', 'preheat'],
)
const open = ref<string | null>(null)
const spec = computed(() => specs.value?.find((c) => c.key === open.value))
const problem = ref('')
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    await client.invalidateQueries({ queryKey: queryKeys.measurements(id) })
    await client.invalidateQueries({ queryKey: queryKeys.appliances() })
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
async function keep(given: Record<string, unknown>) {
  if (
    open.value &&
    (await run(() =>
      api.POST('/api/v1/appliances/{appliance_id}/measurements', {
        ...path,
        body: { kind: open.value!, given },
      }),
    ))
  )
    open.value = null
}
const striking = ref<string | null>(null)
const why = ref('')
async function strike() {
  const m = striking.value
  if (
    m &&
    (await run(() =>
      api.POST('/api/v1/appliances/{appliance_id}/measurements/{measurement_id}/strike', {
        params: { path: { appliance_id: id, measurement_id: m } },
        body: { why: why.value },
      }),
    ))
  ) {
    striking.value = null
    why.value = ''
  }
}
const { data: past } = useQuery({
  queryKey: queryKeys.past(id),
  queryFn: async () => (await api.GET('/api/v1/appliances/{appliance_id}/past', path)).data!.items,
})
const name = (key: string) => specs.value?.find((c) => c.key === key)?.name ?? key
const sentence = computed(() => {
  const a = appliance.value
  if (!a) return ''
  const said = []
  if (a.measured_w) said.push(`gives ${a.measured_w} W into the food`)
  else if (a.rated_w) said.push(`${a.rated_w} W by its label, not measured`)
  if (a.offset_k !== null && a.offset_k !== undefined)
    said.push(`runs ${Number(a.offset_k) > 0 ? '+' : ''}${a.offset_k} K at the middle`)
  if (a.input_w) said.push(`draws ${a.input_w} W from the mains at most`)
  return `${a.name}: ${said.join(', ') || 'nothing measured yet'}.`
})

const setAt = (p: { set_point_c: number | null; power_w: number | null }) => {
  if (p.set_point_c !== null) return temperature(p.set_point_c)
  return p.power_w ? `${p.power_w} W` : '—'
}
</script>

<template>
  <main v-if="appliance" class="page stack">
    <p><router-link to="/kitchen">Kitchen</router-link></p>
    <section class="say">
      <h1>{{ sentence }}</h1>
    </section>
    <p v-if="appliance.notes" class="soft">{{ appliance.notes }}</p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row">
      <h2 class="grow">Measured</h2>
      <button v-for="k in kinds" :key="k" class="act" @click="open = open === k ? null : k">
        {{ name(k) }}
      </button>
    </div>
    <p v-if="!kinds.length" class="soft">
      A pressure cooker is measured by a gauge: note what the dial reads under Quirks at Kitchen. Times at
      pressure and altitude are on the <router-link to="/workbench/pressure">workbench</router-link>.
    </p>
    <section v-if="spec" class="stack try">
      <h3>{{ spec.name }}</h3>
      <p class="soft">{{ spec.what }}</p>
      <Calculator :key="spec.key" :calculator="spec" keep="Keep this measurement" @keep="keep" />
    </section>
    <article v-for="m in measured" :key="m.id" class="stack one" :class="{ struck: m.struck_why }">
      <div class="row">
        <h3 class="grow">
          {{ name(m.kind) }}
          <span class="soft small">{{ dayAndTime(m.taken_at) }}</span>
        </h3>
        <button v-if="!m.struck_why" class="act quiet" @click="striking = m.id">Strike out</button>
      </div>
      <p>{{ m.result.headline }}</p>
      <p v-if="m.struck_why" class="warn">Struck out: {{ m.struck_why }}</p>
      <template v-if="!m.struck_why"
        ><SmallChart v-for="(c, i) in m.result.charts" :key="i" :chart="c" />
        <p v-for="l in m.result.lines" :key="l.label" class="small soft">
          {{ l.label }}: {{ l.text }}
        </p></template
      >
    </article>
    <p v-if="measured && !measured.length && kinds.length" class="soft">
      Nothing measured yet. What is measured here is offered at the step that needs it.
    </p>
    <template v-if="past?.length"
      ><h2>What it did before</h2>
      <div class="scroll" role="region" tabindex="0" aria-label="Measurements, scrolls sideways">
        <table class="plain">
          <thead>
            <tr>
              <th>Cooking</th>
              <th>Set</th>
              <th>Planned</th>
              <th>Took</th>
              <th>Core at most</th>
              <th>What was seen</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(p, i) in past" :key="i">
              <td>
                <router-link :to="`/trials/${p.trial_id}/decide`">{{ p.trial }}</router-link><span
                  class="soft small block"
                  >{{ p.tag }} {{ p.method }}, {{ day(p.served_at)
                  }}{{ p.standing === 'judged' ? '' : `, ${p.standing}` }}</span
                >
              </td>
              <td class="mono">
                {{ setAt(p) }}
              </td>
              <td class="mono">{{ minutes(p.planned_s) }}</td>
              <td class="mono">{{ p.took_s === null ? '—' : minutes(p.took_s) }}</td>
              <td class="mono">
                {{ p.highest_core_c === null ? 'not read' : temperature(p.highest_core_c) }}
              </td>
              <td class="small">{{ p.notes.join('; ') }}</td>
            </tr>
          </tbody>
        </table>
      </div></template
    >
    <el-dialog
      :model-value="!!striking"
      title="Strike out this measurement"
      width="460"
      @close="striking = null"
      ><form class="stack" @submit.prevent="strike">
        <label class="field">What was wrong with it<el-input v-model="why" name="why" /></label>
        <div><button class="act strong">Strike it out</button></div>
      </form></el-dialog
    >
  </main>
</template>

<style scoped>
.try,
.one {
  border-top: 2px solid var(--ink);
  padding-top: var(--gap-3);
}
.one {
  border-top-width: 1px;
}
.scroll {
  overflow-x: auto;
}
.block {
  display: block;
}
.struck {
  opacity: 0.75;
}
</style>
