<script setup lang="ts">
/** Pieces counted: of so many that were looked at, so many were it. */
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
    <div class="chips">
      <button
        v-for="w in [...new Set([...said, ...OFTEN])]"
        :key="w"
        type="button"
        class="act quiet"
        :aria-pressed="word === w"
        @click="word = w"
      >
        {{ w }}
      </button>
    </div>
    <div class="row">
      <label class="field">How many<el-input v-model="count" name="count" inputmode="numeric" /></label
      ><label class="field">of<el-input v-model="outOf" name="out_of" inputmode="numeric" /></label>
    </div>
    <p class="small soft">The same word in every batch, so that they can be held against each other.</p>
  </div>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.chips .act {
  min-height: 44px;
}
.chips .act[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
</style>
