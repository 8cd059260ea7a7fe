<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, ifMatch, words, type Schemas } from '../api/client'
import { exactText, lengthText, temperatureText, type Quantity } from '../bench/units'
import QuantityInput from '../ui/QuantityInput.vue'
import { useSession } from '../session'
import Circuits from './Circuits.vue'
import Accounts from './Accounts.vue'
import Devices from './Devices.vue'
import OwnWays from './OwnWays.vue'
import OwnPassword from './OwnPassword.vue'
import { queryKeys } from '../api/queries/keys'

const session = useSession()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const { data: known } = useQuery({
  queryKey: queryKeys.appliancesWords(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!,
})
type Appliance = Schemas['ApplianceView']
const editing = ref<Partial<Appliance> | null>(null)
const form = reactive({
  name: '',
  kind: 'oven',
  input_w: null as Quantity,
  rated_w: null as Quantity,
  measured_w: null as Quantity,
  offset_k: '',
  capacity_pieces: '',
  circuit: '',
  spot: '',
  notes: '',
  dial: '',
  capacities: '',
})
const problem = ref('')
const w = (v: number | string | null | undefined): Quantity =>
  v === null || v === undefined ? null : Number(v)
function open(a: Appliance | null) {
  editing.value = a ?? {}
  problem.value = ''
  Object.assign(form, {
    name: a?.name ?? '',
    kind: a?.kind ?? 'oven',
    input_w: w(a?.input_w),
    rated_w: w(a?.rated_w),
    measured_w: w(a?.measured_w),
    offset_k: a?.offset_k ?? '',
    capacity_pieces: a?.capacity_pieces ?? '',
    circuit: a?.circuit ?? '',
    spot: a?.spot ?? '',
    notes: a?.notes ?? '',
    dial: (a?.dial ?? [])
      .map((d) => {
        const at = d.celsius ?? null
        const read = at === null ? '' : `: ${exactText('temperature', Number(at))}`
        return d.word + read + (d.measured ? ', measured' : '')
      })
      .join('\n'),
    capacities: (a?.capacities ?? [])
      .map((c) => `${c.pieces} of ${exactText('length', Number(c.piece_m))}`)
      .join('\n'),
  })
}
/** One mark of the dial a line: "low: 88 °C, measured". One size a line: "6 of 5 cm". */
const dialOf = (text: string) =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => {
      const [word, rest] = [
        l
          .split(':')[0]!
          .trim()
          .replace(/, measured$/i, ''),
        l.includes(':') ? l.slice(l.indexOf(':') + 1) : '',
      ]
      return {
        word,
        celsius: rest.replace(/,?\s*measured/i, '').trim() || null,
        measured: /measured/i.test(l),
      }
    })
const capacitiesOf = (text: string) =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => {
      const m = l.match(/^(\d+)\s*(?:of|x|×)?\s*(.+)$/i)
      return { pieces: Number(m?.[1] ?? 0), piece_m: m?.[2] ?? l }
    })
async function save() {
  const body = {
    ...form,
    dial: dialOf(form.dial),
    capacities: capacitiesOf(form.capacities),
    input_w: form.input_w,
    rated_w: form.rated_w,
    measured_w: form.measured_w,
    offset_k: form.offset_k === '' ? null : Number(form.offset_k),
    capacity_pieces: form.capacity_pieces === '' ? null : Number(form.capacity_pieces),
  }
  try {
    if (editing.value?.id)
      await api.PUT('/api/v1/appliances/{appliance_id}', {
        params: { path: { appliance_id: editing.value.id } },
        headers: ifMatch(editing.value.version ?? 0),
        body,
      })
    else await api.POST('/api/v1/appliances', { body })
    editing.value = null
    await client.invalidateQueries({ queryKey: queryKeys.appliances() })
  } catch (error) {
    problem.value = words(error)
  }
}
const settings = reactive({
  name: '',
  time_zone: '',
  currency: '',
  price_per_kwh: '',
  public_address: '',
  altitude_m: '0',
})
const settingsProblem = ref('')
const settingsSaved = ref(false)
const settingsVersion = ref('')
async function loadSettings() {
  const { data, response } = await api.GET('/api/v1/kitchen')
  settingsVersion.value = response.headers.get('ETag') ?? ''
  if (data)
    Object.assign(settings, {
      ...data,
      altitude_m: String(data.altitude_m ?? 0),
      price_per_kwh:
        data.price_per_kwh === null || data.price_per_kwh === undefined
          ? ''
          : String(data.price_per_kwh)
              .replace(/(\.\d*?)0+$/, '$1')
              .replace(/\.$/, ''),
    })
}
void loadSettings()
async function saveSettings() {
  try {
    const { response } = await api.PUT('/api/v1/kitchen', {
      headers: { 'If-Match': settingsVersion.value },
      body: {
        ...settings,
        price_per_kwh: settings.price_per_kwh || null,
        altitude_m: Number(settings.altitude_m || 0),
      },
    })
    settingsVersion.value = response.headers.get('ETag') ?? ''
    settingsProblem.value = ''
    settingsSaved.value = true
    await session.load()
  } catch (error) {
    settingsSaved.value = false
    settingsProblem.value = words(error)
  }
}
const dialWords = (d: { word: string; celsius?: number | string | null }) => {
  const at = d.celsius ?? null
  return `${d.word} ${at === null ? 'not measured' : temperatureText(Number(at))}`
}
const kindWords = (k: string) => k.replace(/_/g, ' ')
</script>

<template>
  <main class="page">
    <div class="row">
      <h1 class="grow">Kitchen</h1>
    </div>
    <OwnWays />
    <div class="row">
      <h2 class="grow">Appliances</h2>
      <button class="act strong" @click="open(null)">Add an appliance</button>
    </div>
    <div class="scroll" role="region" tabindex="0" aria-label="Appliances, scrolls sideways">
      <table class="plain">
        <thead>
          <tr>
            <th>Appliance</th>
            <th>From the mains</th>
            <th>Label output</th>
            <th>Measured output</th>
            <th>Measured − set</th>
            <th>Holds</th>
            <th>Circuit</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in data" :key="a.id">
            <td>
              <strong>{{ a.name }}</strong><br /><span class="soft small"
                >{{ kindWords(a.kind) }}{{ a.notes ? ` · ${a.notes}` : ''
                }}<template v-if="a.dial?.length"
                  ><br />dial: {{ a.dial.map((d) => dialWords(d)).join(', ') }}</template
                ></span
              >
            </td>
            <td class="mono">{{ w(a.input_w) || '—' }}</td>
            <td class="mono">{{ w(a.rated_w) || '—' }}</td>
            <td class="mono">{{ w(a.measured_w) || 'not measured' }}</td>
            <td class="mono">
              {{
                a.offset_k === null || a.offset_k === undefined
                  ? 'not measured'
                  : `${Number(a.offset_k) > 0 ? '+' : ''}${a.offset_k} K`
              }}
            </td>
            <td class="mono">
              {{
                a.capacities?.length
                  ? a.capacities.map((c) => `${c.pieces} of ${lengthText(Number(c.piece_m))}`).join(', ')
                  : (a.capacity_pieces ?? '—')
              }}
            </td>
            <td>{{ a.circuit || '—' }}</td>
            <td class="nobreak">
              <button class="act quiet" @click="open(a)">Edit</button>
              <router-link class="act quiet" :to="`/kitchen/appliances/${a.id}`">Measure</router-link>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <hr class="rule" />
    <p>
      Core minima, cooling and other figures, with where each comes from:
      <router-link to="/kitchen/safety">Safety figures</router-link>. Ways of cooking that methods start from:
      <router-link to="/techniques">Techniques</router-link>. What goes wrong, why, and what cures it:
      <router-link to="/defects">Troubleshooting</router-link>.
    </p>
    <template v-if="session.lead">
      <hr class="rule" />
      <h2>Circuits</h2>
      <Circuits />
      <hr class="rule" />
      <Devices :appliances="data ?? []" />
      <hr class="rule" />
      <h2>This kitchen</h2>
      <form class="row" @submit.prevent="saveSettings" @input="settingsSaved = false">
        <label class="field">Name<el-input v-model="settings.name" name="kitchen-name" /></label>
        <label class="field"
          >Time zone<el-input v-model="settings.time_zone" placeholder="Europe/London"
        /></label>
        <label class="field narrow">Currency<el-input v-model="settings.currency" maxlength="3" /></label>
        <label class="field narrow"
          >Price a kWh<el-input v-model="settings.price_per_kwh" inputmode="decimal"
        /></label>
        <label class="field narrow"
          >Height, m<el-input v-model="settings.altitude_m" inputmode="numeric"
        /></label>
        <label class="field"
          >Address for taster links<el-input v-model="settings.public_address" placeholder="as served"
        /></label>
        <button class="act strong end">Save</button><span v-if="settingsSaved" class="soft end">Saved.</span>
      </form>
      <p v-if="settingsProblem" class="bad" role="alert">{{ settingsProblem }}</p>
      <hr class="rule" />
      <Accounts />
    </template>
    <hr class="rule" />
    <OwnPassword />
    <el-dialog
      :model-value="!!editing"
      :title="editing?.id ? form.name : 'An appliance'"
      width="680"
      @close="editing = null"
    >
      <form class="grid" @submit.prevent="save">
        <label class="field">Name<el-input v-model="form.name" name="appliance-name" /></label>
        <label class="field"
          >Kind<el-select v-model="form.kind"
            ><el-option v-for="k in known?.kinds" :key="k" :value="k" :label="kindWords(k)" /></el-select
        ></label>
        <label class="field"
          >Input from the mains<QuantityInput v-model="form.input_w" kind="power" placeholder="1250 W"
        /></label>
        <label class="field"
          >Output by its label<QuantityInput v-model="form.rated_w" kind="power" placeholder="800 W"
        /></label>
        <label class="field"
          >Output you measured<QuantityInput v-model="form.measured_w" kind="power" placeholder="700 W"
        /></label>
        <label class="field"
          >Measured minus set, K<el-input v-model="form.offset_k" inputmode="numeric" placeholder="-12"
        /></label>
        <label class="field"
          >Holds, pieces<el-input v-model="form.capacity_pieces" inputmode="numeric"
        /></label>
        <label class="field">Circuit<el-input v-model="form.circuit" /></label>
        <label class="field"
          >Stands where (appliances at one spot can be watched together)<el-input v-model="form.spot"
        /></label>
        <label class="field"
          >Words on its dial, one a line<el-input
            v-model="form.dial"
            type="textarea"
            :rows="3"
            placeholder="low: 88 °C, measured"
        /></label>
        <label class="field"
          >Holds by size, one a line<el-input
            v-model="form.capacities"
            type="textarea"
            :rows="3"
            placeholder="6 of 5 cm"
        /></label>
        <label class="field wide">Quirks<el-input v-model="form.notes" type="textarea" :rows="2" /></label>
        <p v-if="problem" class="bad wide" role="alert">{{ problem }}</p>
        <div class="row wide">
          <button class="act strong">Save</button
          ><button type="button" class="act quiet" @click="editing = null">Not now</button>
        </div>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.grid {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-3);
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
.end {
  align-self: end;
}
.narrow {
  width: 110px;
}
.nobreak {
  white-space: nowrap;
}
@media (max-width: 700px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
