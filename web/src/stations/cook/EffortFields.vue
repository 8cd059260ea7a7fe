<script setup lang="ts">
/** What it took besides what was logged: hands, washing up, what was a nuisance. */
import type { EntryForm } from './entryForm'

const form = defineModel<EntryForm>({ required: true })
const NUISANCES = ['smell', 'spatter', 'noise', 'heat', 'watching']
</script>

<template>
  <label class="field"
    >Hands-on minutes (else as logged)<el-input v-model="form.hands" inputmode="decimal" /></label
  ><label class="field">Things to wash<el-input v-model="form.washItems" inputmode="numeric" /></label
  ><label class="field">Minutes washing<el-input v-model="form.wash" inputmode="decimal" /></label>
  <el-checkbox-group v-model="form.nuisance"
    ><el-checkbox v-for="n in NUISANCES" :key="n" :value="n">{{
      n === 'heat' ? 'heat in the kitchen' : n
    }}</el-checkbox></el-checkbox-group
  >
</template>
