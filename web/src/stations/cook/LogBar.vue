<script setup lang="ts">
import { computed } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import { KEEP_S, saving } from '../../bench/outbox'
import type { BenchBatch } from './useBench'
import { useKeys } from './useKeys'

const props = defineProps<{ batches: BenchBatch[]; batch: string; follows: boolean; live: string }>()
const emit = defineEmits<{
  pick: [batch: string | null]
  fact: [kind: 'in' | 'turned' | 'out']
  plus: []
  open: [kind: string]
}>()
const keys = useKeys()
const current = computed(() => props.batches.find((b) => b.id === props.batch))
const kinds: [string, string][] = [
  ['temperature', 'Temp'],
  ['weight', 'Weight'],
  ['size', 'Size'],
  ['tally', 'Count'],
  ['cue', 'Cue'],
  ['photo', 'Photo'],
  ['note', 'Note'],
  ['looked', 'Looked'],
  ['extended', 'Extend'],
  ['energy', 'Meter'],
  ['effort', 'Effort'],
  ['wash_item', 'Wash'],
  ['rescue', 'Rescue'],
  ['handling_error', 'Spoiled'],
]
const state = computed(() => {
  if (saving.refused) return { word: `${saving.refused} refused, kept here`, bad: true }
  if (saving.signedOut) return { word: `${saving.waiting} kept here: sign in again to save`, bad: true }
  if (saving.waiting)
    return {
      word: saving.away ? `no network: ${saving.waiting} kept here` : `saving ${saving.waiting} …`,
      bad: saving.away,
    }
  if (saving.away || props.live === 'away') return { word: 'no network: taps are kept here', bad: true }
  return { word: 'all entries saved', bad: false }
})
const where = computed(() => {
  const left = saving.waiting + saving.refused
  return `On the server: all but ${left}. On this device: ${saving.sent + left}, for ${KEEP_S / 86400} days.`
})
const nameOf = (b: BenchBatch) =>
  [`${b.tag} ${b.name}`, b.replicate > 1 && `batch ${b.replicate}`, b.rescue].filter(Boolean).join(', ')
</script>

<template>
  <div class="bar">
    <div class="who">
      <span class="small soft">log for</span>
      <el-select
        :model-value="batch"
        class="select"
        aria-label="Log for which method"
        @change="(v: string) => emit('pick', v)"
      >
        <template #label
          ><span class="row nowrap"
            ><LoafMark v-if="current" :mark="current.mark" :size="22" /><strong>{{
              current?.tag
            }}</strong></span
          ></template
        >
        <el-option v-for="b in batches" :key="b.id" :value="b.id" :label="nameOf(b)" />
      </el-select>
      <button v-if="!follows" class="act quiet" title="Follow the card again" @click="emit('pick', null)">
        Follow<kbd>{{ keys.label('follow') }}</kbd>
      </button>
      <span class="state small" :class="{ bad: state.bad }" role="status" data-testid="saving" :title="where"
        >● {{ state.word }}</span
      >
    </div>
    <div class="acts">
      <button class="act" @click="emit('fact', 'in')">
        In<kbd>{{ keys.label('in') }}</kbd></button
      ><button class="act" @click="emit('fact', 'turned')">
        Turned<kbd>{{ keys.label('turned') }}</kbd></button
      ><button class="act" @click="emit('fact', 'out')">
        Out<kbd>{{ keys.label('out') }}</kbd></button
      ><button class="act" @click="emit('plus')">
        +1 min<kbd>{{ keys.label('plus') }}</kbd>
      </button>
      <button v-for="[k, w] in kinds" :key="k" class="act quiet" @click="emit('open', k)">
        {{ w }}<kbd>{{ keys.label(k) }}</kbd>
      </button>
    </div>
  </div>
</template>

<style scoped>
.bar {
  border-top: 2px solid var(--ink);
  background: var(--paper);
  padding: var(--gap-2) var(--gap-3);
  display: grid;
  gap: var(--gap-2);
}
.who {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
}
.select {
  width: 130px;
}
.nowrap {
  flex-wrap: nowrap;
  gap: var(--gap-2);
}
.state {
  margin-left: auto;
  color: var(--herb);
}
.state.bad {
  color: var(--beet);
  background: none;
  border: 0;
  padding: 0;
}
.acts {
  display: flex;
  gap: var(--gap-0);
  overflow-x: auto;
  padding-bottom: var(--gap-0);
}
.acts .act.quiet {
  font-size: var(--type-1);
}
.acts .act {
  flex: 1 0 auto;
  flex-direction: column;
  justify-content: center;
  padding: var(--gap-1) var(--gap-0);
  font-size: var(--type-2);
  gap: var(--gap-0);
  min-height: 54px;
}
@media (max-width: 900px) {
  .bar {
    position: fixed;
    left: 0;
    right: 0;
    bottom: 56px;
    z-index: 10;
  }
}
@media (max-height: 420px) {
  .bar {
    position: static;
  }
}
</style>
