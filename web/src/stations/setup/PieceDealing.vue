<script setup lang="ts">
/** Pieces weighed one by one (typed or pasted), dealt to methods at random in equal number and weight. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import { exactText } from '../../bench/units'
import { queryKeys } from '../../api/queries/keys'
import DealtPieces from './DealtPieces.vue'

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
const parts = computed(() => [...new Set(data.value?.items.map((p) => p.part).filter(Boolean) ?? [])])
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
      <DealtPieces :trial="trial" :pieces="data" />
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
</style>
