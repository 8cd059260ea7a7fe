<script setup lang="ts">
/** Something that is done only with a word on why, which is kept. */
import { ref } from 'vue'

defineProps<{
  title: string
  says: string
  label: string
  act: string
  problem: string
  hint?: string
  codes?: string[]
}>()
const emit = defineEmits<{ why: [why: string, code: string]; close: [] }>()
const why = ref('')
const code = ref('')
</script>

<template>
  <el-dialog :model-value="true" :title="title" width="520" @close="emit('close')"
    ><form class="stack" @submit.prevent="emit('why', why, code)">
      <p>{{ says }}</p>
      <label v-if="codes?.length" class="field"
        >Code<el-select v-model="code"
          ><el-option v-for="c in codes" :key="c" :value="c" :label="c" /></el-select
      ></label>
      <label class="field"
        >{{ label }}<el-input v-model="why" name="own-why" type="textarea" :rows="2" :placeholder="hint"
      /></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div>
        <button class="act strong" :disabled="!why.trim() || (!!codes?.length && !code)">{{ act }}</button>
      </div>
    </form></el-dialog
  >
</template>
