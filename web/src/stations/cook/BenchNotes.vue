<script setup lang="ts">
/** What the plan has to say, and what became of it. */
import { computed } from 'vue'
import { api, words } from '../../api/client'
import { clock as clockWords } from '../../bench/dates'
import { useSession } from '../../session'
import PlanNotes from './PlanNotes.vue'
import { useThisBench } from './useBench'

/** Whether anything is left for the hands. */
defineProps<{ asking: boolean }>()
const whole = useThisBench()
const { state, standing, steps, problem, reload, atShift } = whole
const bench = computed(() => whole.bench.value!)
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const path = { params: { path: { shift_id: whole.shift } } }
async function changed(act: () => Promise<unknown>) {
  try {
    await act()
    await reload()
  } catch (error) {
    problem.value = words(error)
  }
}
const leaveRoom = (leave_room: boolean) =>
  changed(() => api.PATCH('/api/v1/shifts/{shift_id}', { ...path, body: { leave_room } }))
const moveWindow = (minutes: number) =>
  changed(() => api.POST('/api/v1/shifts/{shift_id}/window', { ...path, body: { later_min: minutes } }))
/** The last plate, where it is ready after the window as things stand. */
const moved = computed(() => {
  const plan = bench.value.plan
  if (!plan) return null
  // What has begun is told by the fold: nothing else may be left to plan.
  const givenUp = new Set(standing.value.filter((e) => e.kind === 'void').map((e) => e.batch))
  const plates = state.value.runs.filter(
    (r) =>
      r.state !== 'done' &&
      !givenUp.has(r.batch) &&
      steps.value.get(`${r.batch}|${r.step}`)?.phase === 'plate',
  )
  const served = [...Object.values(plan.served), ...plates.map((r) => r.end)]
  const latest = served.length ? Math.max(...served) : 0
  return latest > bench.value.shift.serve_until + 30
    ? { at: latest, by: Math.ceil((latest - bench.value.shift.serve_until) / 60) }
    : null
})
</script>

<template>
  <div class="notes small">
    <PlanNotes :bench="bench" @leave-room="leaveRoom" />
    <p v-if="moved && asking && !bench.shift.ended && !bench.shift.planning" class="warn row">
      <span class="grow">As it stands the last plate is ready at {{ clockWords(moved.at, zone) }}.</span
      ><button class="act quiet" @click="moveWindow(moved.by)">Serve {{ moved.by }} min later</button>
    </p>
    <p v-if="bench.plan" class="soft">
      Longest hold {{ Math.round((bench.plan.longest_hold_s ?? 0) / 60) }} min · plan of
      {{ clockWords(atShift(bench.plan.made_at), zone) }}, {{ bench.plan.proof }}
    </p>
  </div>
</template>

<style scoped>
.notes {
  display: grid;
  gap: var(--gap-2);
}
</style>
