<script setup lang="ts">
/** A grid laid out: what is varied, how many pieces it takes, what a part of it can tell. */
import { computed, reactive, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import GridCells from './GridCells.vue'
import GridFactors from './GridFactors.vue'
import { barredOf, factorsOf, gridOf, isNamed, numbersOf } from './gridRows'

const props = defineProps<{ trial: Trial; edit: Edit; techniques: Schemas['TechniqueView'][] }>()
const factors = ref(factorsOf(props.trial))
const barred = ref(barredOf(props.trial))
const numbers = reactive(numbersOf(props.trial))
const problem = ref('')
const plan = ref<Schemas['GridPlan'] | null>(null)
const cells = ref<number | undefined>(undefined)
const grid = () => gridOf(factors.value, barred.value, numbers)
let asked = 0
async function work() {
  // Answers may come in another order than they were asked in: only the last one counts.
  const mine = ++asked
  try {
    const { data } = await api.POST('/api/v1/grid-plans', {
      body: { grid: grid(), cells: cells.value ?? null, shifts: shifts.value > 1 ? shifts.value : null },
    })
    if (mine !== asked) return
    plan.value = data ?? null
    problem.value = ''
  } catch (error) {
    if (mine !== asked) return
    plan.value = null
    problem.value = words(error)
  }
}
const shifts = ref(1)
const ready = computed(() => isNamed(factors.value))
watch(
  [factors, barred, numbers, cells, shifts],
  () => {
    if (ready.value) void work()
  },
  { deep: true, immediate: true },
)
function strike(cell: number[]) {
  const at = barred.value.findIndex((b) => b.cell.join() === cell.join())
  if (at >= 0) barred.value.splice(at, 1)
  else barred.value.push({ cell, why: 'not wanted' })
}
const lay = (part: boolean) =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { grid: { grid: grid(), cells: part ? plan.value!.chosen : null } },
    }),
  )
</script>

<template>
  <section class="stack">
    <p v-if="plan" class="need" :class="{ warn: plan.whole.short_of > 0 }">
      <strong>{{ plan.sentence }}</strong>
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <GridFactors v-model="factors" :techniques="techniques" />
    <div class="row numbers">
      <label class="field"
        >Pieces a cell<el-input-number v-model="numbers.pieces_a_cell" :min="1" :max="1000" :controls="false"
      /></label>
      <label class="field"
        >Cooked how often<el-input-number v-model="numbers.replicates" :min="1" :max="12" :controls="false"
      /></label>
      <label class="field"
        >Pieces at hand<el-input-number
          v-model="numbers.pieces_at_hand"
          :min="0"
          :max="100000"
          :controls="false"
          placeholder="not counted"
          aria-label="Pieces at hand"
      /></label>
      <label class="field"
        >Cookings a shift<el-input-number
          v-model="numbers.cookings_a_shift"
          :min="1"
          :max="100"
          :controls="false"
          placeholder="no limit"
      /></label>
      <label class="field grow"
        >Steps come from<el-select
          v-model="numbers.base_technique"
          clearable
          placeholder="the first method, where no level brings any"
          ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
      ></label>
    </div>
    <template v-if="plan">
      <GridCells :plan="plan" :factors="factors" :trial="trial" @strike="strike" />
      <div class="row">
        <label class="field"
          >Cells to cook<el-input-number
            v-model="cells"
            :min="plan.least"
            :max="plan.whole.cells"
            :controls="false"
            :placeholder="`all ${plan.whole.cells}`"
            aria-label="Cells to cook"
        /></label>
        <button
          v-if="plan.affordable < plan.whole.cells"
          type="button"
          class="act quiet end"
          :disabled="plan.affordable < plan.least"
          @click="cells = plan.affordable"
        >
          As many as the pieces allow: {{ plan.affordable }}
        </button>
        <label class="field"
          >Split over shifts<el-input-number
            v-model="shifts"
            :min="1"
            :max="12"
            :controls="false"
            aria-label="Split over shifts"
        /></label>
        <span class="end soft"
          >{{ plan.part.cells }} cells, {{ plan.part.cookings }} cookings,
          {{ plan.part.pieces }} pieces<template v-if="plan.part.shifts"
            >, {{ plan.part.shifts }} shift{{ plan.part.shifts === 1 ? '' : 's' }}</template
          ></span
        >
      </div>
      <p v-if="plan.affordable < plan.least" class="warn">
        The pieces suffice for {{ plan.affordable }} cells; at least {{ plan.least }} are needed to see every
        factor. Take a level or a factor out, or get more.
      </p>
      <p><strong>What these cells tell.</strong> {{ plan.tells }}</p>
      <p v-if="plan.blocks"><strong>What the split costs.</strong> {{ plan.blocks.sentence }}</p>
      <div class="row">
        <button
          type="button"
          class="act strong"
          :disabled="plan.part.short_of > 0"
          @click="lay(plan.part.cells < plan.whole.cells)"
        >
          Lay out {{ plan.part.cells }} methods</button
        ><span v-if="plan.part.short_of" class="soft">{{ plan.part.short_of }} pieces too few for these.</span
        ><span v-else class="soft small">Cells that were laid out before keep their mark and steps.</span>
      </div>
    </template>
  </section>
</template>

<style scoped>
.end {
  align-self: end;
}
.need {
  padding: var(--gap-2) 0;
}
.need.warn {
  padding: var(--gap-3) var(--gap-4);
}
.numbers :deep(.el-input-number) {
  width: 130px;
}
</style>
