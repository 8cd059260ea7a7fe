<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { readSets, saySets } from './sets'

const props = defineProps<{ trial: Trial; edit: Edit; techniques: Schemas['TechniqueView'][] }>()
interface LevelRow {
  name: string
  technique: string
  sets: string
  ingredient: string
  /** What is stored, for as long as nobody types. */
  kept: Record<string, number>
}
interface FactorRow {
  name: string
  levels: LevelRow[]
}
type Kept = {
  base_technique?: string
  factors?: {
    name: string
    levels: { name: string; technique?: string; sets?: Record<string, number>; ingredient?: string }[]
  }[]
  barred?: { cell: number[]; why: string }[]
  pieces_a_cell?: number
  replicates?: number
  pieces_at_hand?: number | null
  cookings_a_shift?: number | null
}
const kept = props.trial.layout as Kept
const level = (): LevelRow => ({ name: '', technique: '', sets: '', ingredient: '', kept: {} })
const factors = ref<FactorRow[]>(
  kept.factors?.map((f) => ({
    name: f.name,
    levels: f.levels.map((v) => ({
      name: v.name,
      technique: v.technique ?? '',
      sets: saySets(v.sets ?? {}),
      kept: v.sets ?? {},
      ingredient: v.ingredient ?? '',
    })),
  })) ?? [
    { name: '', levels: [level(), level()] },
    { name: '', levels: [level(), level()] },
  ],
)
const barred = ref<{ cell: number[]; why: string }[]>(kept.barred?.map((b) => ({ ...b })) ?? [])
const numbers = reactive({
  base_technique: kept.base_technique ?? '',
  pieces_a_cell: kept.pieces_a_cell ?? props.trial.methods[0]?.pieces_per_batch ?? 6,
  replicates: kept.replicates ?? 1,
  pieces_at_hand: kept.pieces_at_hand ?? (undefined as number | undefined),
  cookings_a_shift: kept.cookings_a_shift ?? (undefined as number | undefined),
})
const problem = ref('')
const plan = ref<Schemas['GridPlan'] | null>(null)
const cells = ref<number | undefined>(undefined)
const setsOf = (v: LevelRow) => (v.sets === saySets(v.kept) ? v.kept : readSets(v.sets))
function grid(): Schemas['GridIn'] {
  return {
    ...numbers,
    pieces_at_hand: numbers.pieces_at_hand ?? null,
    cookings_a_shift: numbers.cookings_a_shift ?? null,
    barred: barred.value,
    factors: factors.value.map((f) => ({
      name: f.name,
      levels: f.levels.map((v) => ({
        name: v.name,
        technique: v.technique,
        sets: setsOf(v),
        ingredient: v.ingredient,
      })),
    })),
  }
}
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
const ready = computed(() =>
  factors.value.every((f) => f.name.trim() && f.levels.length > 1 && f.levels.every((v) => v.name.trim())),
)
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
const chosen = computed(() => new Set(plan.value?.chosen.map((c) => c.join()) ?? []))
const blockOf = (cell: number[]) => {
  const at = plan.value?.blocks?.blocks.findIndex((b) => b.some((c) => c.join() === cell.join())) ?? -1
  return at < 0 ? '' : `shift ${at + 1}`
}
const method = (cell: number[]) =>
  props.trial.methods.find(
    (m) => m.levels.join() === cell.map((i, f) => factors.value[f]?.levels[i]?.name ?? '').join(),
  )
const rowsOf = computed(() => plan.value?.cells ?? [])
const across = computed(() => factors.value.at(-1)?.levels ?? [])
const down = computed(() => {
  const n = across.value.length || 1
  return Array.from({ length: Math.ceil(rowsOf.value.length / n) }, (_, r) =>
    rowsOf.value.slice(r * n, r * n + n),
  )
})
const lay = (part: boolean) =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { grid: { grid: grid(), cells: part ? plan.value!.chosen : null } },
    }),
  )
/** Where a cell stands: struck out, cooked or left out of what is cooked. */
function standing(c: { barred: string | null; cell: number[] }): string {
  if (c.barred !== null) return 'struck out'
  return chosen.value.has(c.cell.join()) ? 'cooked' : 'left out'
}
</script>

<template>
  <section class="stack">
    <p v-if="plan" class="need" :class="{ warn: plan.whole.short_of > 0 }">
      <strong>{{ plan.sentence }}</strong>
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div v-for="(f, i) in factors" :key="i" class="factor">
      <div class="row">
        <label class="field"
          >Varied<el-input v-model="f.name" class="w" :name="`factor-${i}`" placeholder="finish" /></label
        ><button type="button" class="act quiet end" @click="f.levels.push(level())">Add a level</button
        ><button
          type="button"
          class="act quiet end"
          :disabled="factors.length < 2"
          @click="factors.splice(i, 1)"
        >
          Remove
        </button>
      </div>
      <div v-for="(v, j) in f.levels" :key="j" class="row level">
        <el-input
          v-model="v.name"
          class="w"
          :name="`level-${i}-${j}`"
          :placeholder="j ? 'air fryer 180' : 'none'"
          :aria-label="`Level ${j + 1} of ${f.name}`"
        />
        <el-select
          v-model="v.technique"
          class="w"
          clearable
          filterable
          placeholder="a step by hand"
          :aria-label="`Steps that ${v.name} brings`"
          ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name"
        /></el-select>
        <el-input
          v-model="v.sets"
          class="sets"
          placeholder="cooks 10 min, set to 180 °C, rests 5 min"
          :aria-label="`What ${v.name} sets`"
        />
        <el-input
          v-model="v.ingredient"
          class="w"
          placeholder="takes an ingredient"
          :aria-label="`Ingredient that ${v.name} takes`"
        />
        <button
          type="button"
          class="act quiet"
          :disabled="f.levels.length < 3"
          :aria-label="`Remove ${v.name}`"
          @click="f.levels.splice(j, 1)"
        >
          ×
        </button>
      </div>
    </div>
    <div class="row">
      <button
        type="button"
        class="act quiet"
        :disabled="factors.length >= 6"
        @click="factors.push({ name: '', levels: [level(), level()] })"
      >
        Add what else is varied
      </button>
    </div>
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
      <div class="scroll" role="region" tabindex="0" aria-label="Grid, scrolls sideways">
        <table class="cells">
          <thead>
            <tr>
              <th />
              <th v-for="v in across" :key="v.name">{{ v.name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(r, i) in down" :key="i">
              <th>{{ r[0]?.name.split(' × ').slice(0, -1).join(' × ') }}</th>
              <td
                v-for="c in r"
                :key="c.cell.join()"
                :class="{ off: c.barred !== null, left: c.barred === null && !chosen.has(c.cell.join()) }"
              >
                <button
                  type="button"
                  :aria-pressed="c.barred === null"
                  :aria-label="`${c.name}: ${standing(c)}`"
                  @click="strike(c.cell)"
                >
                  <LoafMark
                    v-if="c.barred === null && method(c.cell)"
                    :mark="method(c.cell)!.mark"
                    :size="22"
                  /><span>{{
                    c.barred !== null
                      ? 'struck out'
                      : chosen.has(c.cell.join())
                        ? blockOf(c.cell) || 'cooked'
                        : 'left out'
                  }}</span>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
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
.factor {
  border-left: 6px solid var(--ink);
  padding: var(--gap-0) 0 var(--gap-2) var(--gap-4);
  display: grid;
  gap: var(--gap-2);
}
.level {
  flex-wrap: nowrap;
}
.w {
  width: 210px;
}
.sets {
  flex: 1;
  min-width: 160px;
}
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
.scroll {
  overflow-x: auto;
}
.cells {
  border-collapse: collapse;
}
.cells th {
  text-align: left;
  font-weight: 400;
  padding: var(--gap-2) var(--gap-4) var(--gap-2) 0;
  white-space: nowrap;
}
.cells td {
  border: 1px solid var(--line-strong);
  padding: 0;
}
.cells td button {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  width: 100%;
  min-width: 120px;
  min-height: 48px;
  padding: var(--gap-2) var(--gap-3);
  background: var(--paper);
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
.cells td.off button {
  background: repeating-linear-gradient(135deg, var(--hatch-a) 0 6px, var(--hatch-b) 6px 12px);
  text-decoration: line-through;
}
.cells td.left button {
  background: transparent;
  color: var(--ink-soft);
  font-style: italic;
}
@media (max-width: 1100px) {
  .level {
    flex-wrap: wrap;
  }
}
</style>
