<script setup lang="ts">
/** The key before the codes are opened, all of it or half: every look is recorded. */
import { ref } from 'vue'
import { api, type Schemas } from '../../api/client'

const props = defineProps<{
  tasting: string
  lead: boolean
  run: (act: () => Promise<unknown>) => Promise<boolean>
}>()
const emit = defineEmits<{ close: [] }>()
const why = ref('to plate')
const half = ref<Schemas['Half'] | ''>(props.lead ? '' : 'letters')
const shown = ref<Record<string, string>>({})
const view = () =>
  props.run(async () => {
    const { data } = await api.POST('/api/v1/tastings/{tasting_id}/key-views', {
      params: { path: { tasting_id: props.tasting } },
      body: { why: why.value, half: half.value || null },
    })
    shown.value = data?.key ?? {}
  })
</script>

<template>
  <el-dialog
    :model-value="true"
    title="Look at the key before the codes are opened"
    width="560"
    @close="emit('close')"
  >
    <form class="stack" @submit.prevent="view">
      <p>
        Whoever plates needs it; whoever tastes must not see it. Your look is recorded with your name, and if
        you taste too, you count as knowing which is which. Two who split it, each with half, do not know.
      </p>
      <el-radio-group v-model="half" class="halves" aria-label="How much of the key">
        <el-radio v-if="lead" value="">All of it: I plate by myself</el-radio>
        <el-radio value="letters">Which letter goes under which way: I fill the cups</el-radio>
        <el-radio value="codes">Which code goes on which letter: I put the codes on</el-radio>
      </el-radio-group>
      <label class="field">Why<el-input v-model="why" /></label>
      <div><button class="act strong">Show the key</button></div>
      <p v-for="(m, c) in shown" :key="c" class="mono">{{ c }} = {{ m }}</p>
    </form>
  </el-dialog>
</template>

<style scoped>
.halves {
  display: grid;
}
.halves .el-radio {
  white-space: normal;
}
</style>
