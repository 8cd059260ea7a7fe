<script setup lang="ts">
/** Whether the codes are really opened: who has not finished is named. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ tasting: Schemas['TastingView'] }>()
const emit = defineEmits<{ open: [thoughUnfinished: boolean]; close: [] }>()
const unfinished = computed(() =>
  props.tasting.seats.filter((s) => !s.finished && !s.revoked).map((s) => s.name),
)
</script>

<template>
  <el-dialog :model-value="true" title="Open the codes?" width="460" @close="emit('close')"
    ><p v-if="unfinished.length" class="warn">
      {{ unfinished.join(', ') }} {{ unfinished.length === 1 ? 'has' : 'have' }} not finished. After the
      opening nothing more is taken.
    </p>
    <p>Answers close for good, and everyone sees which code was which.</p>
    <div class="row acts">
      <button class="act strong" @click="emit('open', unfinished.length > 0)">
        {{ unfinished.length ? 'Open them all the same' : 'Open them' }}</button><button
        class="act quiet"
        @click="emit('close')"
      >
        Not yet
      </button>
    </div></el-dialog
  >
</template>

<style scoped>
.acts {
  margin-top: var(--gap-4);
}
</style>
