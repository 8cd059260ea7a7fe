<script setup lang="ts">
/** What a plan does not keep, named, and what leaving room costs, to be given up by a tap. */
import type { Schemas } from '../../api/client'

defineProps<{ bench: Schemas['BenchView'] }>()
const emit = defineEmits<{ leaveRoom: [leave: boolean] }>()
</script>

<template>
  <p v-if="bench.shift.planning && bench.plan" class="warn" role="status">
    A new plan is on its way. Until it is here the old one goes on, shifted by what happened.
  </p>
  <p v-for="n in bench.plan?.notes" :key="n" class="warn">{{ n }}</p>
  <p v-if="bench.plan?.room" class="row soft">
    <span class="grow">{{ bench.plan.room }}</span><button
      class="act quiet"
      @click="emit('leaveRoom', false)"
    >
      Leave no room
    </button>
  </p>
  <p v-else-if="!bench.shift.leave_room" class="row soft">
    <span class="grow">No room is left: what takes longer than planned comes late.</span
    ><button class="act quiet" @click="emit('leaveRoom', true)">Leave room</button>
  </p>
</template>
