<script setup lang="ts">
/** A taster's link, shown this once. */
import type { Schemas } from '../../api/client'

defineProps<{ name: string; got: Schemas['HandedOver'] }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <el-dialog :model-value="true" :title="name" width="440" @close="emit('close')">
    <p>Shown this once: hand it over now. A link made before is void.</p>
    <p v-if="got.warning" class="warn">{{ got.warning }}</p>
    <img class="qr" :src="got.qr" alt="QR of this taster’s link" />
    <p class="small link">
      <a :href="got.link">{{ got.link }}</a>
    </p>
  </el-dialog>
</template>

<style scoped>
.qr {
  width: 100%;
  max-width: 340px;
  display: block;
  margin: 0 auto;
  background: var(--white);
}
.link {
  overflow-wrap: anywhere;
  margin-top: var(--gap-3);
}
</style>
