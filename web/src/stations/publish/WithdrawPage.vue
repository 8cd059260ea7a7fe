<script setup lang="ts">
/** Whether all versions of a page really go, and why: readers see the reason. */
defineProps<{ problem: string }>()
const why = defineModel<string>('why', { required: true })
const emit = defineEmits<{ withdraw: []; away: [] }>()
</script>

<template>
  <el-dialog :model-value="true" title="Withdraw this page?" width="480" @close="emit('away')"
    ><form class="stack" @submit.prevent="emit('withdraw')">
      <p>All versions go; readers see only the notice with your reason. This can’t be undone.</p>
      <label class="field">Why<el-input v-model="why" name="why" type="textarea" :rows="2" /></label>
      <p v-if="problem" class="bad">{{ problem }}</p>
      <div class="row">
        <button class="act strong">Withdraw</button
        ><button type="button" class="act quiet" @click="emit('away')">Keep it</button>
      </div>
    </form></el-dialog
  >
</template>
