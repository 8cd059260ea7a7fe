<script setup lang="ts">
/** Every ingredient with its lot, its allergens and how much of it each method takes. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Trial } from '../../api/client'
import WorkItOut from '../../bench/WorkItOut.vue'
import { massText, type Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'
import Term from '../../guide/Term.vue'
import AnotherLot from './AnotherLot.vue'
import LotDetails from './LotDetails.vue'
import { amountsOf, lotRow, lotSent, newLot, type LotRow } from './lotRows'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: known } = useQuery({
  queryKey: queryKeys.appliancesWords(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!,
})
const rows = ref<LotRow[]>(props.trial.ingredients.map((i) => lotRow(props.trial, i)))
const changed = ref(false)
const open = ref(-1)
const many = props.trial.methods.length > 6
function add() {
  rows.value.push(newLot())
  changed.value = true
}
function remove(i: number) {
  rows.value.splice(i, 1)
  changed.value = true
}
function sameForAll(r: LotRow, value?: Quantity) {
  const first = value === undefined ? Object.values(r.amounts).find((a) => a !== null) : value
  if (first !== undefined) for (const m of props.trial.methods) r.amounts[m.id] = first
  changed.value = true
}
const spread = (r: LotRow) => amountsOf(props.trial, r)
const save = () =>
  props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/ingredients', {
      params: { path: { trial_id: props.trial.id } },
      headers,
      body: { items: rows.value.map(lotSent) },
    }),
  )
/** Which rules answer what is typed for an ingredient. */
const rules = (name: string) => (/water|stock|milk|broth/i.test(name) ? ['boil-off', 'dose'] : ['dose'])
const amountText = (r: LotRow) => {
  const a = r.amounts[props.trial.methods[0]?.id ?? ''] ?? null
  return typeof a === 'number' ? massText(a) : (a ?? '')
}
const food = () => massText(props.trial.methods[0]?.batch_kg) || '1 kg'
const buying = ref<LotRow | null>(null)
</script>

<template>
  <h2>Lots and amounts</h2>
  <div
    class="scroll"
    role="region"
    tabindex="0"
    aria-label="Amounts, scrolls sideways"
    @input="changed = true"
  >
    <table class="plain">
      <thead>
        <tr>
          <th>Ingredient</th>
          <th><Term of="lot">Lot</Term></th>
          <th>Price a kg</th>
          <th>Allergens</th>
          <template v-if="!many"
            ><th v-for="m in trial.methods" :key="m.id">{{ m.tag }}, a batch</th></template
          >
          <th v-else>In a batch</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <template v-for="(r, i) in rows" :key="i">
          <tr>
            <td>
              <el-input v-model="r.name" class="w160" :name="`ingredient-${i}`" aria-label="Ingredient" />
            </td>
            <td><el-input v-model="r.lot" class="w110" aria-label="Lot" /></td>
            <td><el-input v-model="r.price" class="w80" inputmode="decimal" aria-label="Price a kg" /></td>
            <td>
              <el-select
                v-model="r.allergens"
                class="w140"
                multiple
                filterable
                allow-create
                collapse-tags
                aria-label="Allergens"
                @change="changed = true"
                ><el-option v-for="a in known?.allergens" :key="a" :value="a" :label="a" /></el-select
              ><el-checkbox v-model="r.checked" size="small" @change="changed = true">{{
                r.checked ? 'checked' : 'not checked'
              }}</el-checkbox>
            </td>
            <template v-if="!many"
              ><td v-for="m in trial.methods" :key="m.id">
                <QuantityInput
                  :model-value="r.amounts[m.id] ?? null"
                  kind="mass"
                  class="w80"
                  placeholder="none"
                  :aria-label="`${r.name} in ${m.tag}`"
                  @update:model-value="(v: Quantity) => (r.amounts[m.id] = v)"
                /></td
            ></template>
            <td v-else>
              <QuantityInput
                v-if="spread(r).length === 1"
                :model-value="r.amounts[trial.methods[0]!.id] ?? null"
                kind="mass"
                class="w80"
                placeholder="none"
                :aria-label="`${r.name} in all`"
                @update:model-value="(v: Quantity) => sameForAll(r, v)"
              /><span v-else class="small"
                >{{ spread(r).slice(0, 4).join(', ') }}{{ spread(r).length > 4 ? ', …' : '' }}</span
              >
            </td>
            <td class="acts">
              <WorkItOut
                :calculators="rules(r.name)"
                :given="{ mass: food(), liquid: amountText(r) || food() }"
                :label="`the amount of ${r.name || 'this'}`"
                @take="(v: string) => sameForAll(r, v)"
              />
              <button class="act quiet" @click="sameForAll(r)">Same in all</button>
              <button class="act quiet" :aria-expanded="open === i" @click="open = open === i ? -1 : i">
                The lot
              </button>
              <button class="act quiet" @click="remove(i)">Remove</button>
            </td>
          </tr>
          <tr v-if="open === i">
            <td :colspan="many ? 6 : trial.methods.length + 5">
              <LotDetails v-model="rows[i]!" :trial="trial" :many="many" @bought="buying = r" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <div class="row foot">
    <button class="act quiet" @click="add">Add an ingredient</button
    ><button class="act strong" :disabled="!changed" @click="save">Save lots and amounts</button
    ><span class="soft small"
      >Write “450 g”, “1 lb 4 oz”. Allergens are told to tasters for the whole table, never by method.</span
    >
  </div>
  <AnotherLot
    v-if="buying"
    :trial="trial"
    :row="buying"
    :allergens="known?.allergens ?? []"
    :edit="edit"
    @close="buying = null"
  />
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.w160 {
  width: 160px;
}
.w110 {
  width: 110px;
}
.w80 {
  width: 84px;
}
.w140 {
  width: 150px;
}
.acts {
  white-space: nowrap;
}
.foot {
  margin-top: var(--gap-3);
}
</style>
