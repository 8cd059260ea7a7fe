<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Trial } from '../../api/client'
import { massText } from '../../bench/units'

type Edit = (act: (t: Trial, headers: Record<string, string>) => Promise<{ data?: Trial }>) => Promise<boolean>
const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: known } = useQuery({ queryKey: ['appliances-words'], queryFn: async () => (await api.GET('/api/v1/appliances')).data! })
interface Row { id: string | null; name: string; lot: string; source: string; price: string; allergens: string[]; amounts: Record<string, string> }
const rows = ref<Row[]>(props.trial.ingredients.map((i) => ({
  id: i.id, name: i.name, lot: i.lot, source: i.source, price: i.price_per_kg === null ? '' : String(Number(i.price_per_kg)), allergens: [...i.allergens],
  amounts: Object.fromEntries(props.trial.methods.map((m) => [m.id, massText(m.amounts.find((a) => a.ingredient_id === i.id)?.mass_kg)])),
})))
const changed = ref(false)
function add() {
  rows.value.push({ id: null, name: '', lot: '', source: '', price: '', allergens: [], amounts: {} })
  changed.value = true
}
function sameForAll(r: Row) {
  const first = Object.values(r.amounts).find((a) => a)
  if (first) for (const m of props.trial.methods) r.amounts[m.id] = first
  changed.value = true
}
const save = () => props.edit((_, headers) => api.PUT('/api/v1/trials/{trial_id}/ingredients', {
  params: { path: { trial_id: props.trial.id } }, headers,
  body: { items: rows.value.map((r) => ({ id: r.id, name: r.name, lot: r.lot, source: r.source, price_per_kg: r.price || null, allergens: r.allergens, amounts: Object.fromEntries(Object.entries(r.amounts).map(([k, v]) => [k, v || null])) })) },
}))
</script>

<template>
  <div class="scroll" @input="changed = true">
    <table class="plain">
      <thead><tr><th>Ingredient</th><th>Lot</th><th>Price a kg</th><th>Allergens</th><th v-for="m in trial.methods" :key="m.id">{{ m.tag }}, a batch</th><th /></tr></thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="i">
          <td><el-input v-model="r.name" class="w160" :name="`ingredient-${i}`" aria-label="Ingredient" /></td>
          <td><el-input v-model="r.lot" class="w110" aria-label="Lot" /></td>
          <td><el-input v-model="r.price" class="w80" inputmode="decimal" aria-label="Price a kg" /></td>
          <td><el-select v-model="r.allergens" class="w140" multiple filterable allow-create collapse-tags aria-label="Allergens" @change="changed = true"><el-option v-for="a in known?.allergens" :key="a" :value="a" :label="a" /></el-select></td>
          <td v-for="m in trial.methods" :key="m.id"><el-input v-model="r.amounts[m.id]" class="w80" placeholder="none" :aria-label="`${r.name} in ${m.tag}`" /></td>
          <td class="acts"><button class="act quiet" @click="sameForAll(r)">Same in all</button> <button class="act quiet" @click="rows.splice(i, 1); changed = true">Remove</button></td>
        </tr>
      </tbody>
    </table>
  </div>
  <div class="row"><button class="act quiet" @click="add">Add an ingredient</button><button class="act strong" :disabled="!changed" @click="save">Save lots and amounts</button><span class="soft small">Write “450 g”, “1 lb 4 oz”. Allergens are told to tasters for the whole table, never by method.</span></div>
</template>

<style scoped>
.scroll { overflow-x: auto; }
.w160 { width: 160px; } .w110 { width: 110px; } .w80 { width: 84px; } .w140 { width: 150px; }
.acts { white-space: nowrap; }
.row { margin-top: 10px; }
</style>
