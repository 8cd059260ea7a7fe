<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, ifMatch, words, type Schemas, type Trial } from '../../api/client'
import WorkItOut from '../../bench/WorkItOut.vue'
import { massText, type Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'
import Term from '../../guide/Term.vue'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data: known } = useQuery({
  queryKey: queryKeys.appliancesWords(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!,
})
interface Row {
  id: string | null
  name: string
  lot: string
  source: string
  grade: string
  age: string
  price: string
  pack: Quantity
  composition: string
  allergens: string[]
  checked: boolean
  amounts: Record<string, Quantity>
  /** The label as it is stored: what nobody typed goes back as it was. */
  label: Record<string, number>
  stands: Trial['ingredients'][number]['stands_for']
}
const percent = (c: Record<string, number>) =>
  Object.entries(c)
    .map(([k, v]) => `${k} ${Number((100 * v).toPrecision(4))} %`)
    .join(', ')
/** "fat 82 %, salt 1.2" to shares. */
const shares = (text: string) =>
  Object.fromEntries(
    [...text.toLowerCase().matchAll(/([a-z]+)\s*:?\s*(\d+(?:[.,]\d+)?)/g)].map((m) => [
      m[1]!,
      Number(m[2]!.replace(',', '.')) / 100,
    ]),
  )
const rowOf = (i: Trial['ingredients'][number]): Row => ({
  id: i.id,
  name: i.name,
  lot: i.lot,
  source: i.source,
  grade: i.grade,
  age: i.age_days === null ? '' : String(i.age_days),
  price:
    i.price_per_kg === null
      ? ''
      : String(i.price_per_kg)
          .replace(/(\.\d*?)0+$/, '$1')
          .replace(/\.$/, ''),
  pack: i.pack_kg,
  label: i.composition,
  stands: i.stands_for,
  composition: percent(i.composition),
  allergens: [...i.allergens],
  checked: i.allergens_checked,
  amounts: Object.fromEntries(
    props.trial.methods.map((m) => [m.id, m.amounts.find((a) => a.ingredient_id === i.id)?.mass_kg ?? null]),
  ),
})
const rows = ref<Row[]>(props.trial.ingredients.map(rowOf))
const changed = ref(false)
const open = ref(-1)
const many = props.trial.methods.length > 6
function add() {
  rows.value.push({
    id: null,
    name: '',
    lot: '',
    source: '',
    grade: '',
    age: '',
    price: '',
    pack: null,
    label: {},
    stands: {},
    composition: '',
    allergens: [],
    checked: false,
    amounts: {},
  })
  changed.value = true
}
function sameForAll(r: Row, value?: Quantity) {
  const first = value === undefined ? Object.values(r.amounts).find((a) => a !== null) : value
  if (first !== undefined) for (const m of props.trial.methods) r.amounts[m.id] = first
  changed.value = true
}
const spread = (r: Row) => [
  ...new Set(
    props.trial.methods.map((m) => {
      const a = r.amounts[m.id] ?? null
      return a === null ? 'none' : typeof a === 'string' ? a : massText(a)
    }),
  ),
]
const lotOf = (r: Row) => ({
  lot: r.lot,
  source: r.source,
  grade: r.grade,
  age_days: r.age ? Number(r.age.replace(',', '.')) : null,
  price_per_kg: r.price || null,
  pack_kg: r.pack,
  composition: r.composition === percent(r.label) ? r.label : shares(r.composition),
  allergens: r.allergens,
})
const save = () =>
  props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/ingredients', {
      params: { path: { trial_id: props.trial.id } },
      headers,
      body: {
        items: rows.value.map((r) => ({
          ...lotOf(r),
          id: r.id,
          name: r.name,
          allergens_checked: r.checked,
          amounts: Object.fromEntries(Object.entries(r.amounts).map(([k, v]) => [k, v ?? null])),
        })),
      },
    }),
  )
/** Which rules answer what is typed for an ingredient. */
const rules = (name: string) => (/water|stock|milk|broth/i.test(name) ? ['boil-off', 'dose'] : ['dose'])
const amountText = (r: Row) => {
  const a = r.amounts[props.trial.methods[0]?.id ?? ''] ?? null
  return typeof a === 'number' ? massText(a) : (a ?? '')
}
const food = () => massText(props.trial.methods[0]?.batch_kg) || '1 kg'

// Another lot was bought: what it does is worked out before it is put in.
const buying = ref<Row | null>(null)
const bought = reactive({
  name: '',
  grade: '',
  source: '',
  age: '',
  price: '',
  composition: '',
  allergens: [] as string[],
  methods: [] as string[],
})
const found = ref<Schemas['SubstitutionView'] | null>(null)
const problem = ref('')
function buy(r: Row) {
  Object.assign(bought, {
    name: r.name,
    grade: r.grade,
    source: r.source,
    age: r.age,
    price: r.price,
    composition: r.composition,
    allergens: [...r.allergens],
    methods: props.trial.methods.map((m) => m.id),
  })
  found.value = null
  problem.value = ''
  buying.value = r
}
async function substitute(take: boolean) {
  const r = buying.value
  if (!r?.id) return
  const all = bought.methods.length === props.trial.methods.length
  const body = {
    name: bought.name,
    lot: r.lot,
    source: bought.source,
    grade: bought.grade,
    age_days: bought.age || null,
    price_per_kg: bought.price || null,
    pack_kg: r.pack,
    composition: shares(bought.composition),
    allergens: bought.allergens,
    method_ids: all ? null : bought.methods,
    take,
  } as unknown as Schemas['SubstitutionIn']
  const path = { trial_id: props.trial.id, ingredient_id: r.id }
  try {
    found.value =
      (
        await api.POST('/api/v1/trials/{trial_id}/ingredients/{ingredient_id}/substitutions', {
          params: { path },
          headers: ifMatch(props.trial.version),
          body,
        })
      ).data ?? null
    problem.value = ''
    if (take) {
      buying.value = null
      await props.edit((t) => api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: t.id } } }))
    }
  } catch (error) {
    problem.value = words(error)
  }
}
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
              <button
                class="act quiet"
                @click="
                  () => {
                    rows.splice(i, 1)
                    changed = true
                  }
                "
              >
                Remove
              </button>
            </td>
          </tr>
          <tr v-if="open === i">
            <td :colspan="many ? 6 : trial.methods.length + 5">
              <div class="row">
                <label class="field">From<el-input v-model="r.source" class="w160" /></label
                ><label class="field">Grade<el-input v-model="r.grade" class="w110" /></label
                ><label class="field"
                  >Days old<el-input v-model="r.age" class="w80" inputmode="decimal" /></label
                ><label class="field"
                  >Pack<QuantityInput v-model="r.pack" kind="mass" class="w80" placeholder="500 g" /></label
                ><label class="field grow"
                  >On its label<el-input
                    v-model="r.composition"
                    placeholder="fat 82 %, salt 1.2 %, water 16 %" /></label
                ><button v-if="r.id" class="act quiet end" @click="buy(r)">The shop had another</button>
              </div>
              <p v-if="r.stands.name" class="small soft">
                Stands in for {{ r.stands.name }} {{ r.stands.grade }} as planned.
              </p>
              <div v-if="many" class="grid">
                <label v-for="m in trial.methods" :key="m.id" class="small"
                  >{{ m.tag
                  }}<QuantityInput
                    :model-value="r.amounts[m.id] ?? null"
                    kind="mass"
                    class="w80"
                    placeholder="none"
                    :aria-label="`${r.name} in ${m.tag}`"
                    @update:model-value="(v: Quantity) => (r.amounts[m.id] = v)"
                /></label>
              </div>
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
  <el-dialog
    :model-value="!!buying"
    :title="`Another lot of ${buying?.name}`"
    width="680"
    @close="buying = null"
  >
    <form class="stack" @submit.prevent="substitute(false)">
      <div class="row">
        <label class="field">What was bought<el-input v-model="bought.name" name="bought-name" /></label
        ><label class="field">Grade<el-input v-model="bought.grade" name="bought-grade" /></label
        ><label class="field">Days old<el-input v-model="bought.age" class="w80" /></label
        ><label class="field">Price a kg<el-input v-model="bought.price" class="w80" /></label>
      </div>
      <label class="field"
        >On its label<el-input
          v-model="bought.composition"
          name="bought-label"
          placeholder="fat 60 %, salt 1.5 %"
      /></label>
      <label class="field"
        >Allergens<el-select
          v-model="bought.allergens"
          multiple
          filterable
          allow-create
          aria-label="Allergens of the bought lot"
          ><el-option v-for="a in known?.allergens" :key="a" :value="a" :label="a" /></el-select
      ></label>
      <label class="field"
        >Goes into<el-select
          v-model="bought.methods"
          multiple
          collapse-tags
          :max-collapse-tags="8"
          aria-label="Methods that take it"
          ><el-option v-for="m in trial.methods" :key="m.id" :value="m.id" :label="m.tag" /></el-select
      ></label>
      <div class="row"><button class="act strong">Work out what it does</button></div>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <template v-if="found"
        ><p
          v-for="e in found.effects"
          :key="e.text"
          :class="{ warn: e.weight !== 'note', bad: e.weight === 'redo' }"
        >
          {{ e.text }}
        </p>
        <p v-if="!found.effects.length">As far as it is written it does nothing to the design.</p>
        <div class="row">
          <button type="button" class="act" @click="substitute(true)">Put it in</button
          ><button type="button" class="act quiet" @click="buying = null">Leave it</button>
        </div></template
      >
    </form>
  </el-dialog>
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
.end {
  align-self: end;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(100px, 1fr));
  gap: var(--gap-2);
  margin-top: var(--gap-2);
}
</style>
