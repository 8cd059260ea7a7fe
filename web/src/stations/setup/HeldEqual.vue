<script setup lang="ts">
import { ref } from 'vue'
import { api, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import Term from '../../guide/Term.vue'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean }>()
const controls = ref(props.trial.controls.map((c) => ({ ...c })))
const changed = ref(false)
const save = () =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/controls', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { items: controls.value.filter((c) => c.what.trim()) },
    }),
  )
</script>

<template>
  <h2><Term of="held equal">Held equal</Term></h2>
  <div class="stack controls">
    <div v-for="(c, i) in controls" :key="i" class="row">
      <el-input
        v-model="c.what"
        class="half"
        placeholder="what"
        aria-label="What is held equal"
        @input="changed = true"
      /><el-input
        v-model="c.held_at"
        class="half"
        placeholder="at what"
        aria-label="How it is held"
        @input="changed = true"
      />
      <button
        class="act quiet"
        @click="
          () => {
            controls.splice(i, 1)
            changed = true
          }
        "
      >
        Remove
      </button>
    </div>
    <div class="row">
      <button class="act quiet" @click="controls.push({ what: '', held_at: '' })">Add</button
      ><button class="act strong" :disabled="!changed || busy" @click="save">Save what is held equal</button>
    </div>
  </div>
</template>

<style scoped>
.half {
  width: 320px;
  max-width: 100%;
}
.controls {
  margin-top: var(--gap-2);
}
</style>
