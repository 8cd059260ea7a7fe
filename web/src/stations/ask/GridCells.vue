<script setup lang="ts">
/** The grid itself: every cell by name, cooked, left out or struck out by a tap. */
import { computed } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { FactorRow } from './gridRows'

const props = defineProps<{ plan: Schemas['GridPlan']; factors: FactorRow[]; trial: Trial }>()
const emit = defineEmits<{ strike: [cell: number[]] }>()
const chosen = computed(() => new Set(props.plan.chosen.map((c) => c.join())))
const blockOf = (cell: number[]) => {
  const at = props.plan.blocks?.blocks.findIndex((b) => b.some((c) => c.join() === cell.join())) ?? -1
  return at < 0 ? '' : `shift ${at + 1}`
}
const method = (cell: number[]) =>
  props.trial.methods.find(
    (m) => m.levels.join() === cell.map((i, f) => props.factors[f]?.levels[i]?.name ?? '').join(),
  )
const across = computed(() => props.factors.at(-1)?.levels ?? [])
const down = computed(() => {
  const n = across.value.length || 1
  const cells = props.plan.cells
  return Array.from({ length: Math.ceil(cells.length / n) }, (_, r) => cells.slice(r * n, r * n + n))
})
/** Where a cell stands: struck out, cooked or left out of what is cooked. */
function standing(c: { barred: string | null; cell: number[] }): string {
  if (c.barred !== null) return 'struck out'
  return chosen.value.has(c.cell.join()) ? 'cooked' : 'left out'
}
const becomes = (c: Schemas['CellView']) =>
  standing(c) === 'cooked' ? blockOf(c.cell) || 'cooked' : standing(c)
</script>

<template>
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
              @click="emit('strike', c.cell)"
            >
              <LoafMark
                v-if="c.barred === null && method(c.cell)"
                :mark="method(c.cell)!.mark"
                :size="22"
              /><span>{{ becomes(c) }}</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
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
</style>
