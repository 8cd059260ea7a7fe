<script setup lang="ts">
/** How each sample comes to the table: fresh or kept, which piece, and what no cup can hide of it. */
import type { Schemas } from '../../api/client'
import type { RoundDraft } from './draft'

defineProps<{ served: Schemas['Candidate'][] }>()
const how = defineModel<RoundDraft['how']>({ required: true })
const STATES = ['fresh', 'kept', 'reheated', 'from memory']
</script>

<template>
  <details class="small">
    <summary>Pieces, what is not fresh, what no cup can hide</summary>
    <p class="soft">
      Like is compared with like: the same piece of each, all fresh or all kept. What differs is told beside
      the others.
    </p>
    <div v-for="c in served" :key="c.batch_id" class="line">
      <strong>{{ c.words }}</strong>
      <template v-if="how[c.batch_id]">
        <el-select v-model="how[c.batch_id]!.state" :aria-label="`State of ${c.words}`"
          ><el-option v-for="s in STATES" :key="s" :value="s" :label="s"
        /></el-select>
        <el-input
          v-model="how[c.batch_id]!.piece"
          :aria-label="`Piece of ${c.words}`"
          placeholder="edge, middle, large"
        />
        <el-input
          v-model="how[c.batch_id]!.shows"
          :aria-label="`What shows of ${c.words}`"
          placeholder="shows: darker, smells of oil"
        />
      </template>
    </div>
  </details>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 1fr 140px 1fr 1fr;
  gap: var(--gap-2);
  align-items: center;
  padding: var(--gap-1) 0;
}
@media (max-width: 700px) {
  .line {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
