<script setup lang="ts">
/**
 * A calculator by its description: fields as typed, the answer in words, what it stands on. Nothing is
 * computed here.
 */
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { api, words, type Schemas } from '../api/client'

const SmallChart = defineAsyncComponent(() => import('./SmallChart.vue'))
type Given = Record<string, string | string[][]>
const props = defineProps<{
  calculator: Schemas['CalculatorView']
  given?: Given
  keep?: string
  records?: boolean
}>()
const emit = defineEmits<{
  change: [given: Given]
  keep: [given: Given]
  result: [result: Schemas['ResultView'] | null]
}>()
const start = (): Given =>
  Object.fromEntries(
    props.calculator.fields.map((f) => {
      const value = props.given?.[f.key] ?? f.default
      return [f.key, f.kind === 'table' ? (value as string[][]).map((r) => [...r]) : String(value ?? '')]
    }),
  )
const form = ref<Given>(start())
const result = ref<Schemas['ResultView'] | null>(null)
const problem = ref('')
const busy = ref(false)
const observed = ref('')
const kept = ref('')
const asked = computed(() =>
  props.calculator.fields.filter(
    (f) => !f.only_for || (f.only_for[1] as string[]).includes(String(form.value[f.only_for[0] as string])),
  ),
)
const rows = (key: string) => form.value[key] as string[][]
async function run() {
  busy.value = true
  try {
    const { data } = await api.POST('/api/v1/workbench/{key}', {
      params: { path: { key: props.calculator.key } },
      body: { given: form.value },
    })
    result.value = data ?? null
    problem.value = ''
    emit('change', form.value)
    emit('result', result.value)
  } catch (error) {
    problem.value = words(error)
  } finally {
    busy.value = false
  }
}
watch(
  () => props.calculator.key,
  () => {
    form.value = start()
    result.value = null
    kept.value = ''
    void run()
  },
  { immediate: true },
)
/** Rows pasted from a table land in the cells from here on. */
function paste(event: ClipboardEvent, key: string, row: number, column: number) {
  const text = event.clipboardData?.getData('text') ?? ''
  if (!/[\n\t]/.test(text.trim())) return
  event.preventDefault()
  const spec = props.calculator.fields.find((f) => f.key === key)
  text
    .trim()
    .split(/\r?\n/)
    .forEach((line, i) => {
      const cells = line.split(/\t|;/)
      while (rows(key).length <= row + i) rows(key).push((spec?.columns ?? []).map(() => ''))
      cells.forEach((c, j) => {
        const target = rows(key)[row + i]
        if (target && column + j < target.length) target[column + j] = c.trim()
      })
    })
}
async function keepRecord() {
  const r = result.value
  if (!r?.predicted) return
  try {
    await api.POST('/api/v1/rule-records', {
      body: {
        rule: r.rule,
        predicted: r.predicted,
        kind: r.predicted_kind,
        observed: observed.value,
        note: '',
      },
    })
    observed.value = ''
    await run()
    kept.value = 'Kept. The rule is corrected by it from now on.'
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <div class="calculator">
    <form class="ask" @submit.prevent="run">
      <template v-for="f in asked" :key="f.key">
        <div v-if="f.kind === 'table'" class="wide rows">
          <p class="soft small">{{ f.label }}</p>
          <table class="plain">
            <thead>
              <tr>
                <th v-for="c in f.columns" :key="c[1]">{{ c[1] }}</th>
                <th />
              </tr>
            </thead>
            <tbody>
              <tr v-for="(r, i) in rows(f.key)" :key="i">
                <td v-for="(c, j) in f.columns" :key="j">
                  <el-input
                    v-model="r[j]"
                    class="cell"
                    :aria-label="`${c[1]}, row ${i + 1}`"
                    @paste="paste($event, f.key, i, j)"
                  />
                </td>
                <td>
                  <button
                    type="button"
                    class="act quiet"
                    :aria-label="`Remove row ${i + 1}`"
                    @click="rows(f.key).splice(i, 1)"
                  >
                    ×
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
          <button type="button" class="act quiet" @click="rows(f.key).push(f.columns.map(() => ''))">
            Add a row</button
          ><span class="soft small">&ensp;or paste rows from a table</span>
        </div>
        <label v-else class="field"
          >{{ f.label }}<span v-if="f.optional" class="soft"> (may be left empty)</span>
          <el-select
            v-if="f.kind === 'choice'"
            :model-value="String(form[f.key])"
            filterable
            @change="
              (v: string) => {
                form[f.key] = v
              }
            "
            ><el-option v-for="c in f.choices" :key="c[0]" :value="c[0]!" :label="c[1]"
          /></el-select>
          <el-input
            v-else
            :model-value="String(form[f.key])"
            :name="f.key"
            @update:model-value="
              (v: string) => {
                form[f.key] = v
              }
            "
          />
          <span v-if="f.help" class="soft small">{{ f.help }}</span>
        </label>
      </template>
      <div class="wide row">
        <button class="act strong" :disabled="busy">Work it out</button
        ><button v-if="keep" type="button" class="act" :disabled="busy" @click="emit('keep', form)">
          {{ keep }}
        </button>
      </div>
    </form>
    <div class="told">
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <template v-if="result">
        <section class="say" aria-live="polite">
          <h2>{{ result.headline }}</h2>
        </section>
        <SmallChart v-for="(c, i) in result.charts" :key="i" :chart="c" />
        <table class="plain">
          <tbody>
            <tr v-for="l in result.lines" :key="l.label">
              <td>
                <strong>{{ l.label }}</strong>
              </td>
              <td>
                {{ l.text }}<br v-if="l.source" /><span class="soft small">{{ l.source }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-for="n in result.notes" :key="n" class="warn small">{{ n }}</p>
        <form v-if="records && result.rule && result.predicted" class="row" @submit.prevent="keepRecord">
          <label class="field"
            >What it really was<el-input
              v-model="observed"
              name="observed"
              :placeholder="result.predicted_kind === 'mass' ? '320 g' : '14 min'" /></label
          ><button class="act quiet end" :disabled="!observed.trim()">Keep as a record</button
          ><span class="soft small end">{{ kept }}</span>
        </form>
      </template>
      <p v-if="calculator.holds" class="soft small">Holds: {{ calculator.holds }}</p>
    </div>
  </div>
</template>

<style scoped>
.calculator {
  display: grid;
  grid-template-columns: minmax(300px, 5fr) 7fr;
  gap: var(--gap-5);
  align-items: start;
}
.ask {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-3);
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
.told {
  display: grid;
  gap: var(--gap-3);
  min-width: 0;
}
.told .say {
  margin: 0;
}
.cell {
  min-width: 74px;
}
.rows {
  overflow-x: auto;
}
.ask > * {
  min-width: 0;
}
.end {
  align-self: end;
}
@media (max-width: 900px) {
  .calculator {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 480px) {
  .ask {
    grid-template-columns: 1fr;
  }
}
</style>
