<script setup lang="ts">
/** Pieces counted: of so many that were looked at, so many were it. */
import Chips from '../../ui/Chips.vue'

defineProps<{ said: string[] }>()
const word = defineModel<string>('word', { required: true })
const count = defineModel<string>('count', { required: true })
const outOf = defineModel<string>('outOf', { required: true })
const OFTEN = ['sealed', 'burst', 'tender', 'pink inside', 'stuck']
</script>

<template>
  <div class="stack">
    <label class="field"
      >Pieces that are<el-input
        v-model="word"
        name="word"
        maxlength="60"
        placeholder="sealed, burst, tender …"
    /></label>
    <Chips v-model="word" :of="[...new Set([...said, ...OFTEN])]" />
    <div class="row">
      <label class="field">How many<el-input v-model="count" name="count" inputmode="numeric" /></label
      ><label class="field">of<el-input v-model="outOf" name="out_of" inputmode="numeric" /></label>
    </div>
    <p class="small soft">The same word in every batch, so that they can be held against each other.</p>
  </div>
</template>
