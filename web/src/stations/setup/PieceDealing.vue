<script setup lang="ts">
/** Pieces weighed one by one (typed or pasted), dealt to methods at random in equal number and weight. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { exactText, mass } from '../../bench/units'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial }>()
const client = useQueryClient()
const MADE_UP = 'made up'
const key = queryKeys.pieces(props.trial.id)
const path = { params: { path: { trial_id: props.trial.id } } }
const { data } = useQuery({
  queryKey: key,
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/pieces', path)).data!,
})
/** The version of the pieces that are being written over. */
const opened = ref('')
const text = ref('')
const lot = ref<string>('')
const writing = ref(false)
const tolerance = ref(1)
const balance = ref(true)
const problem = ref('')
const busy = ref(false)
watch(
  data,
  (d) => {
    if (!d || writing.value) return
    opened.value = d.version ?? ''
    text.value = d.items
      .map(
        (p) =>
          exactText('mass', p.mass_kg) + (p.part ? ` ${p.part}` : '') + (p.simulated ? ` ${MADE_UP}` : ''),
      )
      .join('\n')
    lot.value = d.items[0]?.ingredient_id ?? ''
    if (!d.items.length) writing.value = true
  },
  { immediate: true },
)
async function run(act: () => Promise<{ data?: Schemas['PiecesView'] }>) {
  busy.value = true
  try {
    const { data: d } = await act()
    if (d) client.setQueryData(key, d)
    problem.value = ''
    void client.invalidateQueries({ queryKey: queryKeys.fairness(props.trial.id) })
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  } finally {
    busy.value = false
  }
}
/**
 * A line is a weight and, after it, the part it is of: "24.6 g outer"; "made up" where the stand-in said it.
 */
function rows() {
  return text.value
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => {
      const m = l.match(/^([\d.,\s½¼¾/]+\s*(?:kg|g|lb|oz)?(?:\s+[\d.,]+\s*oz)?)\s*(.*)$/i)
      const words = (m?.[2] ?? '').trim()
      const simulated = words.endsWith(MADE_UP)
      return {
        mass_kg: (m?.[1] ?? l).trim(),
        part: (simulated ? words.slice(0, -MADE_UP.length) : words).trim(),
        ingredient_id: lot.value || null,
        simulated,
      }
    })
}
const save = async () => {
  if (
    await run(() =>
      api.PUT('/api/v1/trials/{trial_id}/pieces', {
        ...path,
        headers: { 'If-Match': opened.value },
        body: { items: rows() },
      }),
    )
  )
    writing.value = false
}
const deal = () =>
  run(() =>
    api.POST('/api/v1/trials/{trial_id}/dealings', {
      ...path,
      body: { tolerance: tolerance.value / 100, balance: balance.value, seed: null },
    }),
  )
const standIn = ref(false)
const scale = ref('')
const readAt = ref(0)
/**
 * The next piece from the kitchen's scale; where none is made known, from the stand-in, whose weights are
 * made up.
 */
async function weigh() {
  try {
    const { data: d } = await api.GET('/api/v1/trials/{trial_id}/scale', {
      params: { ...path.params, query: { number: rows().length + 1, after: readAt.value } },
    })
    if (d) {
      text.value =
        `${text.value.trimEnd()}\n${exactText('mass', d.kg)}${d.simulated ? ` ${MADE_UP}` : ''}`.trimStart()
      standIn.value = d.simulated
      scale.value = d.name
      readAt.value = d.at
    }
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  }
}
const method = (id: string) => props.trial.methods.find((m) => m.id === id)
const heaviest = computed(() => Math.max(0.0001, ...(data.value?.items.map((p) => p.mass_kg) ?? [0])))
const parts = computed(() => [...new Set(data.value?.items.map((p) => p.part).filter(Boolean) ?? [])])
function dealtTo(p: { method_id: string | null; spare: boolean }): string {
  if (p.method_id) return method(p.method_id)?.tag ?? ''
  return p.spare ? 'spare' : ''
}
</script>

<template>
  <section v-if="data" class="stack">
    <h2 :class="{ short: data.short_of }">{{ data.sentence }}</h2>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div v-if="writing" class="stack">
      <div class="row">
        <label class="field"
          >Lot<el-select
            v-model="lot"
            clearable
            placeholder="not said"
            class="w"
            aria-label="Lot of the pieces"
            ><el-option
              v-for="i in trial.ingredients"
              :key="i.id"
              :value="i.id"
              :label="i.name" /></el-select></label
        ><span class="soft small"
          >One piece a line: its weight, then the part it is of where that matters. A column pasted from a
          table does too.</span
        >
      </div>
      <el-input
        v-model="text"
        type="textarea"
        :rows="10"
        name="pieces"
        aria-label="Weights, one a line"
        placeholder="24.6 g outer"
      />
      <div class="row">
        <button class="act strong" :disabled="busy" @click="save">Save {{ rows().length }} pieces</button
        ><button type="button" class="act quiet" @click="weigh">Next piece from the scale</button
        ><button v-if="data.items.length" class="act quiet" @click="writing = false">Leave them</button>
      </div>
      <p v-if="standIn" class="warn">
        From the stand-in scale: these weights are made up, to try the page with, and stay marked so. A real
        scale is made known at <router-link to="/kitchen">Kitchen</router-link>.
      </p>
      <p v-else-if="scale" class="soft small">Read from {{ scale }}.</p>
    </div>
    <template v-else>
      <div class="row">
        <button class="act quiet" @click="writing = true">Weigh or type again</button>
        <label class="field"
          >Means within, %<el-input-number
            v-model="tolerance"
            :min="0.01"
            :max="50"
            :step="0.5"
            :controls="false"
            class="n"
            aria-label="Tolerance in percent"
        /></label>
        <el-checkbox v-if="parts.length > 1" v-model="balance">Balance {{ parts.join(' and ') }}</el-checkbox>
        <button class="act strong" :disabled="busy || data.short_of > 0" @click="deal">
          {{ data.dealing ? 'Deal again' : 'Deal them out' }}
        </button>
      </div>
      <template v-if="data.dealing">
        <p>
          <strong>{{ data.dealing.sentence }}</strong>
          <span class="soft small"
            >Largest distance of a mean {{ (100 * data.dealing.deviation).toFixed(2) }} %; best found
            {{ (100 * data.dealing.best_deviation).toFixed(2) }} %. Seed {{ data.dealing.seed }}, kept.</span
          >
        </p>
        <table class="plain">
          <thead>
            <tr>
              <th>Method</th>
              <th>Pieces</th>
              <th>Mean</th>
              <th>Together</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="g in data.dealing.groups" :key="g.method_id + g.replicate">
              <td>
                <span class="row nowrap"
                  ><LoafMark
                    v-if="method(g.method_id)"
                    :mark="method(g.method_id)!.mark"
                    :size="26"
                  /><strong>{{ method(g.method_id)?.tag }}</strong
                  >{{ trial.batches_each > 1 ? ` batch ${g.replicate}` : '' }}</span
                >
              </td>
              <td class="mono nums">{{ g.numbers.join(' ') }}</td>
              <td class="mono">{{ mass(g.mean_kg) }}</td>
              <td class="mono">{{ mass(g.total_kg) }}</td>
            </tr>
            <tr v-if="data.dealing.spare.length">
              <td>spare</td>
              <td class="mono nums">{{ data.dealing.spare.join(' ') }}</td>
              <td />
              <td />
            </tr>
          </tbody>
        </table>
        <p class="soft small">
          Lay the pieces out by number, then hand each method its own. Which method got which group was drawn
          as well.
        </p>
      </template>
      <ol class="list">
        <li v-for="p in data.items" :key="p.id">
          <span class="mono num">{{ p.number }}</span><span
            class="bar"
            :style="{ width: `${(60 * p.mass_kg) / heaviest}px` }"
          /><span class="mono">{{ mass(p.mass_kg) }}</span
          ><span class="soft small">{{ p.part }}</span
          ><strong>{{ dealtTo(p) }}</strong>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.short {
  background: var(--warn-bg);
  border-left: 6px solid var(--warn-line);
  padding: var(--gap-2) var(--gap-3);
}
.w {
  width: 240px;
}
.n {
  width: 90px;
}
.nowrap {
  flex-wrap: nowrap;
}
.nums {
  word-spacing: 0.35em;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 4;
  column-gap: var(--gap-5);
}
.list li {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  break-inside: avoid;
  padding: var(--gap-0) 0;
  border-bottom: 1px solid var(--line);
}
.num {
  width: 26px;
  text-align: right;
  color: var(--ink-soft);
}
.bar {
  height: 12px;
  background: var(--line-strong);
}
@media (max-width: 1000px) {
  .list {
    columns: 2;
  }
}
@media (max-width: 600px) {
  .list {
    columns: 1;
  }
}
</style>
