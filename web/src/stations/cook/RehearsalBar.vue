<script setup lang="ts">
/** A shift on simulated time: its stand-ins are called and sent away, and what it showed is read. */
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, words } from '../../api/client'
import { usePractice } from '../practice/usePractice'
import RehearsalReport from './RehearsalReport.vue'
import RehearseForm from './RehearseForm.vue'
import SimulatedClock from './SimulatedClock.vue'
import { useThisBench } from './useBench'
import { useRehearsal, type Wish } from './useRehearsal'

const { bench, clock, tick, shift, trial, problem: benchProblem } = useThisBench()
const props = defineProps<{ zone?: string }>()
const router = useRouter()
const { rehearsal, problem, going, start, end, look } = useRehearsal(shift)
const { isOne: practice } = usePractice(ref(trial))
const asking = ref(false)
const reading = ref(false)
const ended = computed(() => bench.value!.shift.ended)
// What is all done needs nobody any more.
const left = computed(() => rehearsal.value?.state !== 'over' || !!rehearsal.value.report?.skipped.length)
const said = computed(() => {
  const r = rehearsal.value
  if (!r?.state) return 'No stand-ins yet.'
  if (r.state === 'waiting') return 'The stand-ins come as soon as there is a plan.'
  if (r.state === 'running') return r.hands ? 'A stand-in cooks.' : 'You cook; stand-ins read and weigh.'
  return r.state === 'over' ? 'The rehearsal is over.' : r.problem
})
const first = computed<Wish>(() => ({
  hands: rehearsal.value?.hands ?? true,
  mishaps: rehearsal.value?.mishaps ?? [],
}))
async function go(wish: Wish) {
  if (await start(wish)) asking.value = false
}
async function read() {
  await look()
  reading.value = true
}
// What it showed is what it was for.
watch(
  () => rehearsal.value?.state,
  (now, before) => {
    if (before === 'running' && now === 'over') void read()
  },
)
async function forReal() {
  try {
    const { data } = await api.POST('/api/v1/shifts/{shift_id}/for-real', {
      params: { path: { shift_id: shift } },
    })
    if (data) await router.push(`/trials/${trial}/cook/${data.id}`)
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <section class="rehearsal" aria-label="Rehearsal">
    <SimulatedClock
      :shift="shift"
      :rate="clock.rate"
      :now="tick"
      :zone="props.zone"
      @problem="benchProblem = $event"
    />
    <p role="status">{{ said }}</p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row">
      <button v-if="going" class="act quiet" @click="end">End the rehearsal</button>
      <button v-else-if="!ended && left" class="act" @click="asking = true">
        {{ rehearsal?.state ? 'Go on with stand-ins' : 'Call stand-ins' }}
      </button>
      <button v-if="rehearsal?.report" class="act quiet" @click="read">What it shows</button>
      <router-link v-if="practice && !going && !left" class="act strong" :to="`/trials/${trial}/taste`"
        >Go on: taste it</router-link
      >
    </div>
    <el-dialog v-model="asking" title="Rehearse" width="560">
      <RehearseForm
        v-if="asking"
        :possible="rehearsal?.possible ?? []"
        :problem="problem"
        :first="first"
        @go="go"
        @close="asking = false"
      />
    </el-dialog>
    <el-dialog v-model="reading" title="What the rehearsal showed" width="760" top="4vh">
      <RehearsalReport v-if="rehearsal?.report" :report="rehearsal.report" :zone="props.zone" />
      <div class="row actions">
        <router-link v-if="practice" class="act strong" :to="`/trials/${trial}/taste`"
          >Go on: taste it</router-link
        >
        <button v-else class="act strong" @click="forReal">Cook it for real</button
        ><button class="act quiet" @click="reading = false">Back to the bench</button>
      </div>
    </el-dialog>
  </section>
</template>

<style scoped>
.rehearsal {
  display: grid;
  gap: var(--gap-2);
}
.rehearsal p {
  margin: 0;
}
.rehearsal > .row .act {
  min-height: 44px;
  padding: 0 var(--gap-3);
  font-size: var(--type-2);
}
.actions {
  margin-top: var(--gap-4);
}
</style>
