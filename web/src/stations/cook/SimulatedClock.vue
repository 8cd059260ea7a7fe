<script setup lang="ts">
/** A shift on simulated time says so on every screen, with its own clock and how fast it goes. */
import { api, words } from '../../api/client'
import type { ShiftClock } from '../../bench/outbox'
import { clock } from '../../bench/dates'

const props = defineProps<{ shift: string; rate: ShiftClock['rate']; now: number; zone?: string }>()
const emit = defineEmits<{ problem: [words: string] }>()
async function faster(speed: number) {
  try {
    await api.POST('/api/v1/shifts/{shift_id}/speed', {
      params: { path: { shift_id: props.shift } },
      body: { speed },
    })
  } catch (error) {
    emit('problem', words(error))
  }
}
</script>

<template>
  <div class="simulated" role="status">
    <strong>Simulated time</strong> <span class="mono">{{ clock(now, zone) }}</span><span class="speeds"
      ><button
        v-for="s in [1, 10, 20, 60]"
        :key="s"
        class="act quiet"
        :aria-pressed="rate === s"
        @click="faster(s)"
      >
        {{ s }}×
      </button></span
    ><span class="soft small">Nothing of it counts as evidence.</span>
  </div>
</template>

<style scoped>
.simulated {
  display: flex;
  gap: var(--gap-0) var(--gap-2);
  align-items: center;
  flex-wrap: wrap;
  background: repeating-linear-gradient(135deg, var(--warn-bg) 0 14px, var(--paper) 14px 28px);
  border: 2px solid var(--ink);
  padding: var(--gap-0) var(--gap-3);
}
.speeds {
  display: flex;
  gap: var(--gap-1);
  margin-left: auto;
}
.act {
  padding: 0 var(--gap-2);
  min-height: 34px;
  font-size: var(--type-2);
  border-width: 1px;
}
.act[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
</style>
