<script setup lang="ts">
/** Limits by measures of the log, typed in a cook's units: at most, at least. */
import type { Schemas } from '../../api/client'

const props = defineProps<{ measures: Schemas['MeasureView'][] }>()
const limits = defineModel<Schemas['LimitIn'][]>({ required: true })
const of = (key: string) => props.measures.find((m) => m.key === key)
const free = (own: string) =>
  props.measures.filter((m) => m.key === own || !limits.value.some((x) => x.measure === m.key))
const shown = (x: Schemas['LimitIn'], value: number | null | undefined) =>
  value === null || value === undefined
    ? undefined
    : Number((value / (of(x.measure)?.per ?? 1)).toPrecision(12))
function put(n: number, change: Partial<Schemas['LimitIn']>) {
  limits.value = limits.value.map((x, i) => (i === n ? { ...x, ...change } : x))
}
const typed = (x: Schemas['LimitIn'], value: number | undefined | null) =>
  value === undefined || value === null ? null : value * (of(x.measure)?.per ?? 1)
function add() {
  const next = free('')[0]
  if (next) limits.value = [...limits.value, { measure: next.key, at_most: null, at_least: null }]
}
function drop(n: number) {
  limits.value = limits.value.filter((_, i) => i !== n)
}
</script>

<template>
  <div class="limits">
    <div v-for="(x, n) in limits" :key="x.measure" class="row">
      <el-select
        :model-value="x.measure"
        :aria-label="`Measure of limit ${n + 1}`"
        class="which"
        @update:model-value="(k: string) => put(n, { measure: k, at_most: null, at_least: null })"
        ><el-option v-for="m in free(x.measure)" :key="m.key" :value="m.key" :label="m.name" /></el-select
      ><label class="row"
        >at most<el-input-number
          :model-value="shown(x, x.at_most)"
          :min="0"
          :aria-label="`${of(x.measure)?.name} at most`"
          controls-position="right"
          @update:model-value="(v: number | undefined | null) => put(n, { at_most: typed(x, v) })" /></label
      ><label class="row"
        >at least<el-input-number
          :model-value="shown(x, x.at_least)"
          :min="0"
          :aria-label="`${of(x.measure)?.name} at least`"
          controls-position="right"
          @update:model-value="(v: number | undefined | null) => put(n, { at_least: typed(x, v) })" /></label
      ><span class="soft">{{ of(x.measure)?.unit }}</span
      ><button
        type="button"
        class="act quiet"
        :aria-label="`Take away the limit on ${of(x.measure)?.name}`"
        @click="drop(n)"
      >
        Take away
      </button>
    </div>
    <button type="button" class="act quiet" :disabled="!free('').length" @click="add">
      <slot>Add a limit</slot>
    </button>
  </div>
</template>

<style scoped>
.limits {
  display: grid;
  gap: var(--gap-2);
  justify-items: start;
}
.which {
  width: 210px;
}
</style>
