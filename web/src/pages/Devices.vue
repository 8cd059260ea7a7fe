<script setup lang="ts">
/** Thermometer hubs, scales and meters that send by themselves; a token is told once. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { useSession } from '../session'
import { queryKeys } from '../api/queries/keys'
import { clock, shortDay } from '../bench/dates'

const props = defineProps<{ appliances: { id: string; name: string }[] }>()
const client = useQueryClient()
const session = useSession()
const { data } = useQuery({
  queryKey: queryKeys.devices(),
  queryFn: async () => (await api.GET('/api/v1/devices')).data!.items,
  refetchInterval: 10_000,
})
const form = reactive({ name: '', kind: 'hub', appliance_id: null as string | null })
const made = ref<Schemas['DeviceMade'] | null>(null)
const problem = ref('')
const KINDS: Record<string, string> = { hub: 'thermometer hub', scale: 'scale', meter: 'power meter' }
async function add() {
  try {
    made.value =
      (
        await api.POST('/api/v1/devices', {
          body: { ...form, appliance_id: form.kind === 'meter' ? form.appliance_id : null },
        })
      ).data ?? null
    form.name = ''
    problem.value = ''
    await client.invalidateQueries({ queryKey: queryKeys.devices() })
  } catch (error) {
    problem.value = words(error)
  }
}
async function revoke(id: string) {
  try {
    await api.DELETE('/api/v1/devices/{device_id}', { params: { path: { device_id: id } } })
    await client.invalidateQueries({ queryKey: queryKeys.devices() })
  } catch (error) {
    problem.value = words(error)
  }
}
const seen = (at: number | null | undefined) => (at ? `${shortDay(at)}, ${clock(at)}` : 'never')
</script>

<template>
  <section class="stack">
    <h2>Devices</h2>
    <table v-if="data?.length" class="plain">
      <thead>
        <tr>
          <th>Name</th>
          <th>Kind</th>
          <th>Heard</th>
          <th>Reads</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="d in data" :key="d.id">
          <td>
            <strong>{{ d.name }}</strong><span v-if="d.simulated" class="soft small"> stand-in</span>
          </td>
          <td>
            {{ KINDS[d.kind] }}<template v-if="d.appliance">, {{ d.appliance }}</template>
          </td>
          <td :class="{ bad: d.silent && d.heard_at }">{{ seen(d.heard_at) }}</td>
          <td class="mono small">
            {{
              d.channels
                .map((c) => `${c.channel}: ${c.value === null ? '–' : Number(c.value.toFixed(1))}`)
                .join('  ')
            }}
          </td>
          <td>
            <button v-if="session.lead" class="act quiet" @click="revoke(d.id)">Take its token away</button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">
      None yet. Hubs, scales and meters send lines over HTTP; docs/guide/devices.md says how to build one.
    </p>
    <form v-if="session.lead" class="row" @submit.prevent="add">
      <label class="field">Name<el-input v-model="form.name" maxlength="80" /></label>
      <label class="field"
        >Kind<el-select v-model="form.kind" style="width: 190px"
          ><el-option v-for="(w, k) in KINDS" :key="k" :value="k" :label="w" /></el-select
      ></label>
      <label v-if="form.kind === 'meter'" class="field"
        >Before<el-select v-model="form.appliance_id" clearable style="width: 190px"
          ><el-option v-for="a in props.appliances" :key="a.id" :value="a.id" :label="a.name" /></el-select
      ></label>
      <button class="act self-end" :disabled="!form.name.trim()">Make it known</button>
    </form>
    <p v-if="made" class="warn">
      Put this token into “{{ made.name }}” now; it is not shown again:
      <code class="token">{{ made.token }}</code>
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.token {
  user-select: all;
  overflow-wrap: anywhere;
}
.self-end {
  align-self: end;
}
</style>
