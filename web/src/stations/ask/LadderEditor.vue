<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import { minutes } from '../../bench/units'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit; techniques: Schemas['TechniqueView'][] }>()
type Kept = Partial<Schemas['LadderLayout']>
const kept = props.trial.layout as Kept
const rises = ref(kept.rises ?? 'time')
const per = computed(() => (rises.value === 'time' ? 60 : 1))
const unit = computed(() => ({ time: 'min', amount: '× the first' })[rises.value] ?? '°C')
const rungs = ref((kept.rungs ?? []).map((r) => String(r / per.value)).join(', '))
const keptRungs = rungs.value
const form = reactive({
  guess: kept.guess ? kept.guess / per.value : (undefined as number | undefined),
  pots: kept.pots ?? 1,
  pieces_a_rung: kept.pieces_a_rung ?? 2,
  base_technique: kept.base_technique ?? '',
  ingredient: kept.ingredient ?? '',
})
const even = reactive({
  from: undefined as number | undefined,
  by: undefined as number | undefined,
  count: 6,
})
function fill() {
  if (even.from !== undefined && even.by)
    rungs.value = Array.from({ length: even.count }, (_, i) =>
      Number((even.from! + i * even.by!).toPrecision(6)),
    ).join(', ')
}
const body = (): Schemas['LadderLayout'] => ({
  ...form,
  pull_s: 45,
  guess: (form.guess ?? 0) * per.value,
  rises: rises.value,
  rungs: rungs.value
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map((r) => Number(r) * per.value),
  // What nobody typed anew goes back as it is stored.
  ...(rungs.value === keptRungs && rises.value === kept.rises ? { rungs: kept.rungs! } : {}),
})
const plan = ref<Schemas['LadderPlan'] | null>(null)
const problem = ref('')
watch(
  [rises, rungs, form],
  async () => {
    if (!rungs.value.trim()) return
    try {
      plan.value = (await api.POST('/api/v1/ladder-plans', { body: body() })).data ?? null
      problem.value = ''
    } catch (error) {
      plan.value = null
      problem.value = words(error)
    }
  },
  { deep: true, immediate: true },
)
const longest = computed(() => Math.max(1, ...(plan.value?.pulls.map((p) => p.start_s + p.at_s) ?? [1])))
const lay = () =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { ladder: body() },
    }),
  )
</script>

<template>
  <section class="stack">
    <div class="row">
      <label class="field"
        >What rises<el-select v-model="rises" class="w" aria-label="What rises"
          ><el-option value="time" label="time" /><el-option
            value="core temperature"
            label="core temperature" /><el-option value="set point" label="set point" /><el-option
            value="amount"
            label="amount of an ingredient" /></el-select
      ></label>
      <label v-if="rises === 'amount'" class="field"
        >Ingredient<el-input v-model="form.ingredient" class="w"
      /></label>
      <label class="field"
        >From, {{ unit }}<el-input-number v-model="even.from" :controls="false" @change="fill"
      /></label>
      <label class="field"
        >By, {{ unit }}<el-input-number v-model="even.by" :controls="false" @change="fill"
      /></label>
      <label class="field"
        >Rungs<el-input-number v-model="even.count" :min="4" :max="48" :controls="false" @change="fill"
      /></label>
    </div>
    <label class="field"
      >Rungs, {{ unit }}<el-input v-model="rungs" name="rungs" placeholder="6, 9, 12, 15, 18, 22"
    /></label>
    <div class="row">
      <label class="field"
        >You expect the right one at, {{ unit
        }}<el-input-number v-model="form.guess" :controls="false" aria-label="Guess"
      /></label>
      <label v-if="rises === 'time'" class="field"
        >Pots<el-input-number v-model="form.pots" :min="1" :max="48" :controls="false"
      /></label>
      <label class="field"
        >Pieces a rung<el-input-number v-model="form.pieces_a_rung" :min="1" :max="1000" :controls="false"
      /></label>
      <label class="field grow"
        >Steps come from<el-select v-model="form.base_technique" clearable placeholder="the first method"
          ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
      ></label>
    </div>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <p v-for="p in plan?.problems" :key="p" class="warn">{{ p }}</p>
    <template v-if="plan?.pulls.length">
      <h3>
        Staged pulls{{
          form.pots === 1 ? ', all from one pot' : `, ${form.pots} pots, all empty at the same moment`
        }}
      </h3>
      <table class="plain">
        <thead>
          <tr>
            <th>Pull</th>
            <th>Pot</th>
            <th>On the clock</th>
            <th>Since the last from it</th>
            <th>Out</th>
            <th>Left in it</th>
            <th>Waits</th>
            <th class="line" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in plan.pulls" :key="p.rung">
            <td>
              <strong>{{ p.rung }}</strong>
            </td>
            <td class="mono">{{ p.pot }}</td>
            <td class="mono">{{ minutes(p.start_s + p.at_s) }}</td>
            <td class="mono">{{ minutes(p.since_last_s) }}</td>
            <td class="mono">{{ p.pieces_out }}</td>
            <td class="mono">{{ p.left }}</td>
            <td class="mono">{{ p.waits_s ? minutes(p.waits_s) : '—' }}</td>
            <td class="line">
              <span
                class="in"
                :style="{
                  marginLeft: `${(100 * p.start_s) / longest}%`,
                  width: `${(100 * p.at_s) / longest}%`,
                }"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="form.pots === 1" class="soft small">
        Pieces pulled early wait for the last: hold them covered and alike. On each pull look at the water
        level, it falls as it boils off and as pieces come out.
      </p>
    </template>
    <div class="row">
      <button type="button" class="act strong" :disabled="!plan || plan.problems.length > 0" @click="lay">
        Lay out the rungs
      </button>
    </div>
  </section>
</template>

<style scoped>
.w {
  width: 230px;
}
.row :deep(.el-input-number) {
  width: 120px;
}
.line {
  width: 34%;
  padding-right: 0 !important;
}
.in {
  display: block;
  height: 18px;
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 5px, var(--hatch-dark-b) 5px 10px);
  border: 1px solid var(--line-strong);
}
</style>
