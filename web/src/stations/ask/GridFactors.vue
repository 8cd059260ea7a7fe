<script setup lang="ts">
/** What is varied in a grid, and its levels: the steps each brings, what it sets, what it takes. */
import type { Schemas } from '../../api/client'
import { newFactor, newLevel, type FactorRow } from './gridRows'

const factors = defineModel<FactorRow[]>({ required: true })
defineProps<{ techniques: Schemas['TechniqueView'][] }>()
</script>

<template>
  <div v-for="(f, i) in factors" :key="i" class="factor">
    <div class="row">
      <label class="field"
        >Varied<el-input v-model="f.name" class="w" :name="`factor-${i}`" placeholder="finish" /></label
      ><button type="button" class="act quiet end" @click="f.levels.push(newLevel())">Add a level</button
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
      @click="factors.push(newFactor())"
    >
      Add what else is varied
    </button>
  </div>
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
@media (max-width: 1100px) {
  .level {
    flex-wrap: wrap;
  }
}
</style>
