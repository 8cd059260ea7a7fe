<script setup lang="ts">
/** What a plan does not keep, named, and what leaving room costs, to be given up by a tap. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import AtWork from '../AtWork.vue'
import Sittings from './Sittings.vue'

const props = defineProps<{ bench: Schemas['BenchView'] }>()
const splittable = computed(() => {
  const { shift, batches, entries } = props.bench
  return (
    shift.same_age && !entries.length && new Set(batches.map((b) => b.method_id)).size > 3 && !shift.simulated
  )
})
const emit = defineEmits<{ leaveRoom: [leave: boolean] }>()
</script>

<template>
  <div v-if="bench.shift.planning" class="warn">
    <AtWork
      kind="plan"
      :subject="bench.shift.id"
      :words="
        bench.plan
          ? 'A new plan is on its way. Until it is here the old one goes on, shifted by what happened'
          : 'The plan is being made'
      "
      :stops="bench.plan ? 'Keep the old one' : 'Stop'"
    />
  </div>
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
  <Sittings v-if="splittable" :bench="bench" />
</template>
