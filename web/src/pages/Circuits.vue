<script setup lang="ts">
import { ref } from 'vue'
import { api, words } from '../api/client'

interface Row {
  name: string
  breaker: string
  voltage: string
  base: string
}
const rows = ref<Row[]>([])
const first = ref('')
const problem = ref('')
const saved = ref(false)
function take(
  data:
    | {
        items: { name: string; breaker_a: number; voltage_v: number; base_w?: number }[]
        codes_first: string
      }
    | undefined,
) {
  if (!data) return
  rows.value = data.items.map((c) => ({
    name: c.name,
    breaker: String(c.breaker_a),
    voltage: String(c.voltage_v),
    base: String(c.base_w ?? 0),
  }))
  first.value = data.codes_first
}
const version = ref('')
const versionOf = (response: Response) => {
  version.value = response.headers.get('ETag') ?? ''
}
void api.GET('/api/v1/circuits').then(({ data, response }) => {
  versionOf(response)
  take(data)
})
async function save() {
  try {
    const { data, response } = await api.PUT('/api/v1/circuits', {
      headers: { 'If-Match': version.value },
      body: {
        items: rows.value
          .filter((r) => r.name.trim())
          .map((r) => ({
            name: r.name.trim(),
            breaker_a: Number(r.breaker.replace(',', '.')),
            voltage_v: Number(r.voltage),
            base_w: Number(r.base || 0),
          })),
      },
    })
    versionOf(response)
    take(data)
    problem.value = ''
    saved.value = true
  } catch (error) {
    problem.value = words(error)
  }
}
const usable = (r: Row) => Number(r.breaker.replace(',', '.')) * Number(r.voltage) * 0.9 - Number(r.base || 0)
</script>

<template>
  <form @submit.prevent="save" @input="saved = false">
    <div v-for="(r, i) in rows" :key="i" class="row line">
      <label class="field narrow">Circuit<el-input v-model="r.name" :aria-label="`Circuit ${i + 1}`" /></label
      ><label class="field narrow">Breaker, A<el-input v-model="r.breaker" inputmode="decimal" /></label
      ><label class="field narrow">Voltage, V<el-input v-model="r.voltage" inputmode="numeric" /></label
      ><label class="field narrow">Always on, W<el-input v-model="r.base" inputmode="numeric" /></label>
      <span class="soft small end">{{
        Number.isFinite(usable(r)) ? `${(usable(r) / 1000).toFixed(1)} kW may be drawn` : ''
      }}</span><button type="button" class="act quiet end" @click="rows.splice(i, 1)">Remove</button>
    </div>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row line">
      <button
        type="button"
        class="act quiet"
        @click="rows.push({ name: '', breaker: '16', voltage: '230', base: '0' })"
      >
        Add a circuit</button
      ><button class="act strong">Save circuits</button><span v-if="saved" class="soft">Saved.</span
      ><span class="soft small">A tenth is kept back. {{ first }}</span>
    </div>
  </form>
</template>

<style scoped>
.narrow {
  width: 120px;
}
.end {
  align-self: end;
}
.line {
  margin-bottom: var(--gap-2);
}
</style>
