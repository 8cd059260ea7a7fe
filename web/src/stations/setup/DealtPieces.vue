<script setup lang="ts">
/** Pieces in order of their numbers, and who got which once they are dealt. */
import { computed } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { mass } from '../../bench/units'

const props = defineProps<{ trial: Trial; pieces: Schemas['PiecesView'] }>()
const method = (id: string) => props.trial.methods.find((m) => m.id === id)
const heaviest = computed(() => Math.max(0.0001, ...props.pieces.items.map((p) => p.mass_kg)))
function dealtTo(p: { method_id: string | null; spare: boolean }): string {
  if (p.method_id) return method(p.method_id)?.tag ?? ''
  return p.spare ? 'spare' : ''
}
</script>

<template>
  <template v-if="pieces.dealing">
    <p>
      <strong>{{ pieces.dealing.sentence }}</strong>
      <span class="soft small"
        >Largest distance of a mean {{ (100 * pieces.dealing.deviation).toFixed(2) }} %; best found
        {{ (100 * pieces.dealing.best_deviation).toFixed(2) }} %. Seed {{ pieces.dealing.seed }}, kept.</span
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
        <tr v-for="g in pieces.dealing.groups" :key="g.method_id + g.replicate">
          <td>
            <span class="row nowrap"
              ><LoafMark v-if="method(g.method_id)" :mark="method(g.method_id)!.mark" :size="26" /><strong>{{
                method(g.method_id)?.tag
              }}</strong
              >{{ trial.batches_each > 1 ? ` batch ${g.replicate}` : '' }}</span
            >
          </td>
          <td class="mono nums">{{ g.numbers.join(' ') }}</td>
          <td class="mono">{{ mass(g.mean_kg) }}</td>
          <td class="mono">{{ mass(g.total_kg) }}</td>
        </tr>
        <tr v-if="pieces.dealing.spare.length">
          <td>spare</td>
          <td class="mono nums">{{ pieces.dealing.spare.join(' ') }}</td>
          <td />
          <td />
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Lay the pieces out by number, then hand each method its own. Which method got which group was drawn as
      well.
    </p>
  </template>
  <ol class="list">
    <li v-for="p in pieces.items" :key="p.id">
      <span class="mono num">{{ p.number }}</span><span
        class="bar"
        :style="{ width: `${(60 * p.mass_kg) / heaviest}px` }"
      /><span class="mono">{{ mass(p.mass_kg) }}</span
      ><span class="soft small">{{ p.part }}</span
      ><strong>{{ dealtTo(p) }}</strong>
    </li>
  </ol>
</template>

<style scoped>
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
