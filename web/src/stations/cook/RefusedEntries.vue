<script setup lang="ts">
/** Entries that the server would not have: kept on this device, to be put right or given up. */
import { ref, watch } from 'vue'
import { giveUp, held, mend, saving, type Kept } from '../../bench/outbox'
import { clock } from '../../bench/dates'

const props = defineProps<{ shift: string; zone?: string; tagOf: (batch: string) => string | undefined }>()
const rows = ref<Kept[]>([])
const typed = ref<Record<string, Record<string, string>>>({})
async function load() {
  rows.value = (await held(props.shift)).filter((k) => k.state === 'refused')
  for (const k of rows.value)
    typed.value[k.id] ??= Object.fromEntries(plain(k).map(([key, v]) => [key, String(v)]))
}
watch(() => saving.refused, load, { immediate: true })
/** What of an entry can be typed anew. */
const plain = (k: Kept) =>
  Object.entries(k.entry.payload).filter(
    ([key, v]) =>
      (typeof v === 'string' || typeof v === 'number') && !['step', 'photo_id', 'at'].includes(key),
  )
async function again(k: Kept) {
  const own = typed.value[k.id]!
  const payload = Object.fromEntries(
    Object.entries(k.entry.payload).map(([key, v]) => [
      key,
      own[key] === undefined ? v : typeof v === 'number' ? Number(own[key].replace(',', '.')) : own[key],
    ]),
  )
  await mend(k.id, payload)
  await load()
}
async function drop(k: Kept) {
  await giveUp(k.id)
  await load()
}
</script>

<template>
  <section v-if="rows.length" class="warn stack">
    <strong>Refused, and kept on this device only</strong>
    <form v-for="k in rows" :key="k.id" class="row one" @submit.prevent="again(k)">
      <span class="mono">{{ clock(k.entry.at, zone) }}</span><strong>{{ tagOf(k.entry.batch) }}</strong>
      {{ k.entry.kind.replace('_', ' ') }}
      <span class="bad why">{{ k.why }}</span>
      <label v-for="[key] in plain(k)" :key="key" class="field grow"
        >{{ key.replace('_', ' ') }}<el-input v-model="typed[k.id]![key]" :name="`mend-${key}`"
      /></label>
      <button class="act">Send it again</button>
      <button type="button" class="act quiet" @click="drop(k)">Give it up</button>
    </form>
  </section>
</template>

<style scoped>
.one {
  flex-wrap: wrap;
  align-items: flex-end;
}
.why {
  flex-basis: 100%;
}
</style>
