<script setup lang="ts">
/** Digits large enough for a knuckle; the keyboard works as well. */
const model = defineModel<string>({ required: true })
defineProps<{ unit: string; quick?: number[] }>()
const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '.', '0', '⌫']
function press(k: string) {
  if (k === '⌫') model.value = model.value.slice(0, -1)
  else if (k !== '.' || !/[.,]/.test(model.value)) model.value += k
}
</script>

<template>
  <div class="pad">
    <label class="shown"
      ><el-input
        v-model="model"
        class="big"
        inputmode="none"
        name="number"
        autocomplete="off"
        :aria-label="unit"
      /><span class="unit">{{ unit }}</span></label
    >
    <div class="keys">
      <button
        v-for="k in KEYS"
        :key="k"
        type="button"
        class="act"
        :aria-label="k === '⌫' ? 'Delete the last digit' : k"
        @click="press(k)"
      >
        {{ k }}
      </button>
    </div>
    <div v-if="quick?.length" class="quick">
      <button v-for="q in quick" :key="q" type="button" class="act quiet" @click="model = String(q)">
        {{ q }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  gap: var(--gap-2);
}
.shown {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
}
.unit {
  font-size: var(--type-5);
  min-width: 56px;
}
.big :deep(input) {
  font: 700 var(--type-6) var(--mono);
  height: 56px;
  text-align: right;
}
.keys {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: var(--gap-2);
}
.keys .act {
  min-height: 54px;
  font-size: var(--type-5);
  justify-content: center;
}
.quick {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
</style>
