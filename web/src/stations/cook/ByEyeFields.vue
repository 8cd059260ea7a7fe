<script setup lang="ts">
/** Something poured or strewn by eye: what, and what its bottle weighed before and after. */
import { computed } from 'vue'
import { padMass } from '../../bench/units'
import { num, type EntryForm } from './entryForm'

const form = defineModel<EntryForm>({ required: true })
const used = computed(() => {
  const [before, after] = [num(form.value.weighedBefore), num(form.value.weighedAfter)]
  if (before === null || after === null) return ''
  const n = Number((before - after).toFixed(1))
  return n > 0 ? `${n} ${padMass.unit} were used.` : 'It weighs more after than before: look again.'
})
const sides = [
  ['weighedBefore', 'Before'],
  ['weighedAfter', 'After'],
] as const
</script>

<template>
  <div class="stack">
    <label class="field"
      >What was used<el-input v-model="form.item" name="item" maxlength="100" placeholder="oil"
    /></label>
    <div class="row">
      <label v-for="[key, name] in sides" :key="key" class="field"
        >{{ name }}, {{ padMass.unit
        }}<el-input v-model="form[key]" :name="key" inputmode="decimal" class="w"
      /></label>
    </div>
    <p v-if="used" role="status">{{ used }}</p>
  </div>
</template>

<style scoped>
.w {
  width: 140px;
}
</style>
