<script setup lang="ts">
/** What can be tapped on the card: done, not yet or later; how it was seen; whether water stands. */
import { computed } from 'vue'
import type { NextAction } from '../../bench/fold'
import { countdown } from '../../bench/units'
import { EARLY_S } from './cardWords'
import { useThisBench, type BenchStep } from './useBench'
import { useKeys } from './useKeys'

const props = defineProps<{
  action: NextAction
  step: BenchStep
  /** What a tap says of it: started, reached, done. */
  word: string
  doubt: string
  left: number
  again: number
  inWater: boolean
}>()
/** It is early, or in doubt: asked once more before it is logged. */
const asking = defineModel<boolean>('asking', { required: true })
const emit = defineEmits<{
  done: []
  notYet: []
  later: []
  undo: []
  sign: [sign: string]
  water: [level: string]
}>()
const { undoable } = useThisBench()
const keys = useKeys()
const early = computed(() => props.left > EARLY_S)
</script>

<template>
  <div v-if="asking" class="ask warn">
    <p>{{ doubt || `It is ${countdown(left)} early. Log it as ${word.toLowerCase()} now?` }}</p>
    <div class="row">
      <button class="act strong" @click="emit('done')">
        Yes, {{ word.toLowerCase() }} <kbd>{{ keys.label('done') }}</kbd></button
      ><button class="act quiet" @click="asking = false">No</button>
    </div>
  </div>
  <div v-else class="acts">
    <button class="act main" @click="emit('done')">
      {{ early ? `${word} early…` : word }}<kbd>{{ keys.label('done') }}</kbd>
    </button>
    <button v-if="action.type === 'confirm' && !early" class="act" @click="emit('notYet')">
      Not yet, look in {{ countdown(again) }}<kbd>{{ keys.label('not_yet') }}</kbd>
    </button>
    <button class="act quiet" title="Ask again in a minute" @click="emit('later')">
      Later<kbd>{{ keys.label('later') }}</kbd>
    </button>
    <button class="act quiet" :disabled="!undoable" @click="emit('undo')">
      Undo<kbd>{{ keys.label('undo') }}</kbd>
    </button>
  </div>
  <p v-if="action.type === 'start' && step.signs?.length" class="signs small">
    <span class="soft">It really started:</span>
    <button v-for="s in step.signs" :key="s" class="act quiet" @click="emit('sign', s)">
      {{ s }}
    </button>
  </p>
  <p v-if="inWater && step.phase === 'out' && !early" class="signs small">
    <span class="soft">Water in the pot:</span>
    <button v-for="w in ['right', 'low', 'topped up']" :key="w" class="act quiet" @click="emit('water', w)">
      {{ w }}
    </button>
  </p>
</template>

<style scoped>
.acts {
  display: flex;
  gap: var(--gap-2);
  margin: var(--gap-2) 0 var(--gap-3);
}
.acts .act {
  flex-direction: column;
  gap: var(--gap-0);
  justify-content: center;
  padding: var(--gap-2) var(--gap-3);
  min-height: 64px;
}
.acts .main {
  flex: 1;
  border-width: 3px;
  font-size: var(--type-3);
}
.signs {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  margin: 0 0 var(--gap-2);
}
.signs .act {
  padding: var(--gap-1) var(--gap-3);
  min-height: 40px;
  font-size: var(--type-2);
}
.ask {
  display: grid;
  gap: var(--gap-2);
  margin: var(--gap-2) 0 var(--gap-3);
}
.big .acts .act {
  min-height: 100px;
  font-size: var(--type-5);
}
.warn {
  margin-top: var(--gap-3);
}
</style>
