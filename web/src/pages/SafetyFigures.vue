<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { quantityText, type Quantity } from '../bench/units'
import QuantityInput from '../ui/QuantityInput.vue'
import { useSession } from '../session'
import { queryKeys } from '../api/queries/keys'

const session = useSession()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: queryKeys.safety(),
  queryFn: async () => (await api.GET('/api/v1/safety')).data!,
})
/**
 * The settings are read again just before they are changed: a profile is chosen by one tap, never typed over.
 */
async function versionNow() {
  const { data: d, response } = await api.GET('/api/v1/safety')
  return d && d.profile === data.value?.profile && d.zone_use_s === data.value?.zone_use_s
    ? (response.headers.get('ETag') ?? '')
    : 'changed meanwhile'
}
const problem = ref('')
async function run(act: () => Promise<{ data?: Schemas['SafetyView'] }>) {
  try {
    const { data: now } = await act()
    if (now) client.setQueryData(queryKeys.safety(), now)
    problem.value = ''
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
const zone = ref<Quantity>(null)
watch(
  data,
  (d) => {
    zone.value = d?.zone_use_s ?? null
  },
  { immediate: true },
)
const waits = ref<{ food: string; half: Quantity; out: Quantity }[]>([])
watch(
  data,
  (d) => {
    waits.value = (d?.waits ?? []).map((w) => ({
      food: w.food,
      half: w.own_half_cooked_s ?? null,
      out: w.own_out_of_cold_s ?? null,
    }))
  },
  { immediate: true },
)
const saveWaits = () =>
  run(async () =>
    api.PUT('/api/v1/safety', {
      headers: { 'If-Match': await versionNow() },
      body: {
        profile: data.value!.profile,
        zone_use_s: data.value!.zone_use_s,
        waits: Object.fromEntries(
          waits.value.map((w) => [w.food, { half_cooked_s: w.half, out_of_cold_s: w.out }]),
        ),
      },
    }),
  )
const choose = (profile: string) =>
  run(async () =>
    api.PUT('/api/v1/safety', {
      headers: { 'If-Match': await versionNow() },
      body: { profile, zone_use_s: zone.value },
    }),
  )
const editing = ref<{ figure: Schemas['FigureView']; what: 'own' | 'check' } | null>(null)
const form = reactive({ temperature: '', hold: '0 s', reason: '', edition: '', page: '' })
function open(figure: Schemas['FigureView'], what: 'own' | 'check') {
  editing.value = { figure, what }
  problem.value = ''
  Object.assign(form, { temperature: '', hold: '0 s', reason: '', edition: '', page: '' })
}
async function save() {
  const e = editing.value
  if (!e) return
  const path = { params: { path: { limit_id: e.figure.id } } }
  const ok = await run(() =>
    e.what === 'own'
      ? api.POST('/api/v1/safety/figures/{limit_id}/own', {
          ...path,
          body: { temperature_c: form.temperature, hold_s: form.hold, reason: form.reason },
        })
      : api.POST('/api/v1/safety/figures/{limit_id}/checks', {
          ...path,
          body: { edition: form.edition, page: form.page },
        }),
  )
  if (ok) editing.value = null
}
const withdraw = (id: string) =>
  run(() => api.DELETE('/api/v1/safety/figures/{limit_id}/own', { params: { path: { limit_id: id } } }))
const laxer = computed(() => data.value?.figures.filter((f) => f.laxer) ?? [])
const sentence = computed(() => {
  if (!data.value) return ''
  const lax = laxer.value.length
  if (lax)
    return `${lax} of your own figures ask for less than the authority: food cooked by them is not published.`
  const who = data.value.profiles.find((p) => p.key === data.value!.profile)?.name
  return `Cores are judged by ${who}; food stands ${data.value.zone}.`
})
const minutes = (s: number) => quantityText('duration', s)
const KINDS: Record<string, string> = {
  core_minimum: 'core',
  core_equivalent: 'core, equivalent',
  d_z_model: 'model',
  danger_zone: 'between cold and hot',
  two_stage_cooling: 'cooling',
  cooling: 'cooling',
  freezing: 'freezing',
  boil: 'boiling',
  fill_fraction: 'fill',
  temperature_max: 'at most',
}
</script>

<template>
  <main v-if="data" class="page stack">
    <p><router-link to="/kitchen">Kitchen</router-link></p>
    <section class="say">
      <h1>{{ sentence }}</h1>
    </section>
    <p class="warn">
      These figures were entered from memory. Compare them with the current edition of your authority.
      {{ data.defer }}
    </p>
    <p v-if="problem && !editing" class="bad" role="alert">{{ problem }}</p>
    <div v-if="session.lead" class="row">
      <label class="field"
        >Whose figures count<el-select :model-value="data.profile" class="who" @change="choose"
          ><el-option v-for="p in data.profiles" :key="p.key" :value="p.key" :label="p.name" /></el-select
      ></label>
      <label class="field"
        >A shorter time between cold and hot<QuantityInput
          v-model="zone"
          kind="duration"
          placeholder="as entered" /></label
      ><button class="act quiet end" @click="choose(data.profile)">Set it</button>
    </div>
    <div class="scroll" role="region" tabindex="0" aria-label="Figures, scrolls sideways">
      <table class="plain">
        <thead>
          <tr>
            <th>Applies to</th>
            <th>Kind</th>
            <th>Figure</th>
            <th>Authority and status</th>
            <th>Yours</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in data.figures" :key="f.id">
            <td>{{ f.applies_to }}</td>
            <td class="small">{{ KINDS[f.kind] ?? f.kind }}</td>
            <td class="mono">{{ f.figure }}</td>
            <td class="small">
              {{ f.authority }}<br /><span class="soft">{{ f.status }}</span>
            </td>
            <td class="small">
              <template v-if="f.own"
                ><strong>{{ f.own }}</strong> {{ f.laxer ? '(laxer)' : '(stricter)' }}<br />{{
                  f.own_reason
                }}</template
              >
            </td>
            <td class="acts">
              <template v-if="session.lead"
                ><button class="act quiet" @click="open(f, 'check')">Compared…</button>
                <template v-if="f.core_minimum"
                  ><button class="act quiet" @click="open(f, 'own')">Own figure…</button>
                  <button v-if="f.own" class="act quiet" @click="withdraw(f.id)">Back to it</button></template
                ></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <h2>How long food may stand</h2>
    <p>
      Between two heats, beyond what hands need to move it, and raw out of the cold before its heat. The plan
      keeps these like any other limit and names what it cannot keep. You may make them stricter.
    </p>
    <form class="scroll" @submit.prevent="saveWaits">
      <table class="plain">
        <thead>
          <tr>
            <th>Kind of food</th>
            <th>Half-cooked</th>
            <th>Yours</th>
            <th>Out of the cold</th>
            <th>Yours</th>
            <th>Source and status</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(w, n) in data.waits" :key="w.food">
            <td>{{ w.name }}</td>
            <td class="mono">{{ w.half_cooked_s ? minutes(w.half_cooked_s) : 'straight on' }}</td>
            <td>
              <QuantityInput
                v-if="w.half_cooked_s && waits[n]"
                v-model="waits[n].half"
                kind="duration"
                :disabled="!session.lead"
                :aria-label="`Yours, half-cooked: ${w.name}`"
              />
            </td>
            <td class="mono">{{ w.out_of_cold_s === null ? 'no limit' : minutes(w.out_of_cold_s) }}</td>
            <td>
              <QuantityInput
                v-if="waits[n]"
                v-model="waits[n].out"
                kind="duration"
                :disabled="!session.lead"
                :aria-label="`Yours, out of the cold: ${w.name}`"
              />
            </td>
            <td class="small">
              {{ w.source }}<br /><span class="soft">{{ w.status }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <button v-if="session.lead" class="act">Set these</button>
    </form>
    <el-dialog
      :model-value="!!editing"
      :title="
        editing?.what === 'own'
          ? `Own figure: ${editing.figure.applies_to}`
          : `Compared: ${editing?.figure.applies_to}`
      "
      width="520"
      @close="editing = null"
    >
      <form class="stack" @submit.prevent="save">
        <template v-if="editing?.what === 'own'"
          ><p class="soft">
            Entered: {{ editing.figure.figure }} ({{ editing.figure.authority }}). Stricter is always yours to
            set. Laxer is kept with your name, and what is cooked by it is not published.
          </p>
          <div class="row">
            <label class="field grow">Core<el-input v-model="form.temperature" name="temperature" /></label
            ><label class="field grow">Held for<el-input v-model="form.hold" name="hold" /></label>
          </div>
          <label class="field"
            >Why<el-input v-model="form.reason" name="reason" type="textarea" :rows="2" /></label
        ></template>
        <template v-else
          ><p class="soft">
            Say which printed edition you held beside {{ editing?.figure.figure }}, and where in it.
          </p>
          <label class="field">Edition<el-input v-model="form.edition" name="edition" /></label
          ><label class="field">Page<el-input v-model="form.page" name="page" /></label
        ></template>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div><button class="act strong">Save</button></div>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.who {
  width: 300px;
}
.end {
  align-self: end;
}
.acts {
  white-space: nowrap;
}
</style>
