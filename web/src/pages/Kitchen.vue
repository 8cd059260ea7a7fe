<script setup lang="ts">
/** What a kitchen has, and how it is set. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Schemas } from '../api/client'
import { lengthText, temperatureText } from '../bench/units'
import { useSession } from '../session'
import ApplianceDialog from './ApplianceDialog.vue'
import { watts } from './applianceForm'
import Circuits from './Circuits.vue'
import KitchenSettings from './KitchenSettings.vue'
import Accounts from './Accounts.vue'
import Devices from './Devices.vue'
import OwnWays from './OwnWays.vue'
import OwnPassword from './OwnPassword.vue'
import { queryKeys } from '../api/queries/keys'

const session = useSession()
const { data } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
const { data: known } = useQuery({
  queryKey: queryKeys.appliancesWords(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!,
})
const editing = ref<{ appliance: Schemas['ApplianceView'] | null } | null>(null)
const dialWords = (d: { word: string; celsius?: number | string | null }) => {
  const at = d.celsius ?? null
  return `${d.word} ${at === null ? 'not measured' : temperatureText(Number(at))}`
}
const kindWords = (k: string) => k.replace(/_/g, ' ')
/** By how much its dial was found to be off, with its sign. */
function offsetWords(k: number | null | undefined): string {
  if (k === null || k === undefined) return 'not measured'
  return `${Number(k) > 0 ? '+' : ''}${k} K`
}
</script>

<template>
  <main class="page">
    <div class="row">
      <h1 class="grow">Kitchen</h1>
    </div>
    <OwnWays />
    <div class="row">
      <h2 class="grow">Appliances</h2>
      <button class="act strong" @click="editing = { appliance: null }">Add an appliance</button>
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
            <td class="mono">{{ watts(a.input_w) || '—' }}</td>
            <td class="mono">{{ watts(a.rated_w) || '—' }}</td>
            <td class="mono">{{ watts(a.measured_w) || 'not measured' }}</td>
            <td class="mono">
              {{ offsetWords(a.offset_k) }}
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
              <button class="act quiet" @click="editing = { appliance: a }">Edit</button>
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
      <KitchenSettings />
      <hr class="rule" />
      <Accounts />
    </template>
    <hr class="rule" />
    <OwnPassword />
    <ApplianceDialog
      v-if="editing"
      :appliance="editing.appliance"
      :kinds="known?.kinds ?? []"
      @close="editing = null"
    />
  </main>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.nobreak {
  white-space: nowrap;
}
</style>
