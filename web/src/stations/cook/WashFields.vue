<script setup lang="ts">
/** What is washed up, and for how long: timed by itself from the moment the dialog opened. */
import { countdown } from '../../bench/units'
import Chips from '../../ui/Chips.vue'
import type { EntryForm } from './entryForm'

const form = defineModel<EntryForm>({ required: true })
defineProps<{ washed: number }>()
const WASHED = ['basket', 'tray', 'pot and lid', 'rack', 'board and knife', 'bowl']
</script>

<template>
  <label class="field"
    >What is washed<el-input v-model="form.item" name="item" placeholder="basket, tray, pot …"
  /></label>
  <Chips v-model="form.item" :of="WASHED" />
  <p>
    Washing for <span class="mono">{{ countdown(washed) }}</span>. Log it when it is clean, or type the
    minutes.
  </p>
  <label class="field"
    >Minutes, if you timed it yourself<el-input v-model="form.number" inputmode="decimal" name="number"
  /></label>
</template>
