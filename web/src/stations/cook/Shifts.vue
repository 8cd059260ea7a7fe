<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { clock, boxFormat, weekday } from '../../bench/dates'
import { quantityText, type Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import { useTrial } from '../useTrial'
import RehearseShift from './RehearseShift.vue'
import { queryKeys } from '../../api/queries/keys'
import Term from '../../guide/Term.vue'
import NextStation from '../NextStation.vue'

const id = String(useRoute().params.trial)
const router = useRouter()
const client = useQueryClient()
const { trial } = useTrial(id)
const path = { params: { path: { trial_id: id } } }
const { data: shifts } = useQuery({
  queryKey: queryKeys.shifts(id),
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/shifts', path)).data!.items,
})
const inTwoHours = new Date(Date.now() + 2 * 3600_000)
inTwoHours.setMinutes(Math.ceil(inTwoHours.getMinutes() / 5) * 5, 0, 0)
const form = reactive({
  name: '',
  serve: inTwoHours,
  window: null as number | null,
  same_age: false,
  people: 1,
  walk: 0,
  simulated: false,
  written_up: false,
  room: null as Quantity,
  weather: '',
  cooks: '',
  speed: 20,
  replicates: {} as Record<string, number>,
})
watch(
  trial,
  (t) => {
    for (const m of t?.methods ?? []) form.replicates[m.id] ??= t?.batches_each ?? 1
  },
  { immediate: true },
)
// What was cooked was most likely cooked yesterday evening.
watch(
  () => form.written_up,
  (past) => {
    const usual = past ? new Date(Date.now() - 86400_000) : new Date(inTwoHours)
    if (past) usual.setHours(18, 30, 0, 0)
    form.serve = usual
  },
)
/** Time to lay things out before the first step [s]. */
const LAY_OUT_S = 600
/** The longest way from now, and some room: the plan says where even that is too soon. */
function soonest() {
  const lasts = (steps: Schemas['StepView'][]) =>
    steps.filter((s) => s.during_offset_s === null).reduce((sum, s) => sum + s.duration_s, 0)
  const longest = Math.max(0, ...(trial.value?.methods ?? []).map((m) => lasts(m.steps)))
  const five = 300_000
  form.serve = new Date(Math.ceil((Date.now() + (longest * 1.15 + LAY_OUT_S) * 1000) / five) * five)
}
const problem = ref('')
const rehearsing = ref('')
async function make() {
  try {
    const { data } = await api.POST('/api/v1/trials/{trial_id}/shifts', {
      ...path,
      body: {
        name: form.name,
        serve_from: form.serve.toISOString(),
        window_s: form.window === null ? null : form.window * 60,
        same_age: form.same_age,
        people: form.people,
        walk_s: form.walk,
        speed: form.simulated ? form.speed : null,
        replicates: form.replicates,
        written_up: form.written_up,
        room_c: form.room,
        weather: form.weather,
        cooks: form.cooks,
      },
    })
    void client.invalidateQueries({ queryKey: queryKeys.shifts(id) })
    void client.invalidateQueries({ queryKey: queryKeys.stations(id) })
    if (data) await router.push(`/trials/${id}/cook/${data.id}`)
  } catch (error) {
    problem.value = words(error)
  }
}
async function remove(shift: string) {
  try {
    await api.DELETE('/api/v1/shifts/{shift_id}', { params: { path: { shift_id: shift } } })
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  }
  await client.invalidateQueries({ queryKey: queryKeys.shifts(id) })
  void client.invalidateQueries({ queryKey: queryKeys.stations(id) })
}
const served = (s: { same_age: boolean; written_up: boolean }) =>
  s.written_up ? 'served' : s.same_age ? 'one after another from' : 'plates meet'
const circumstances = (s: Schemas['ShiftView']) =>
  [
    s.cooks && `cooked by ${s.cooks}`,
    s.room_c !== null && `room ${quantityText('temperature', s.room_c)}`,
    s.weather,
  ]
    .filter(Boolean)
    .join(', ')
function howFar(s: Schemas['ShiftView']): string {
  if (s.ended) return 'ended'
  return s.begun ? 'open' : 'not begun'
}
const whenWords = computed(() => {
  if (form.written_up) return 'Was served at'
  return form.same_age ? 'First plate at' : 'Plates meet at'
})
</script>

<template>
  <main v-if="trial" class="page">
    <section class="say">
      <h1>
        {{
          shifts?.length
            ? 'Go on at a bench, or plan another shift.'
            : 'No shift yet: say when the plates are to meet, and each step is planned back from there.'
        }}
      </h1>
      <NextStation v-if="shifts?.some((s) => s.ended && !s.simulated)" :trial="id" to="taste" />
    </section>
    <table v-if="shifts?.length" class="plain">
      <tbody>
        <tr v-for="s in shifts" :key="s.id">
          <td>
            <strong>{{ s.name }}</strong>
          </td>
          <td>
            {{ served(s) }} {{ weekday(s.serve_from) }} {{ clock(s.serve_from) }}
            <small v-if="s.cooks || s.weather || s.room_c !== null" class="soft">{{
              circumstances(s)
            }}</small>
          </td>
          <td>{{ s.batches }} batches</td>
          <td>
            {{ howFar(s) }}{{ s.simulated ? ', simulated time' : ''
            }}{{ s.written_up ? ', written up afterwards' : '' }}
          </td>
          <td class="row">
            <router-link class="act" :to="`/trials/${id}/cook/${s.id}`">Open the bench</router-link
            ><button
              v-if="!s.begun && !s.simulated && !s.written_up && !s.ended"
              class="act quiet"
              @click="rehearsing = s.id"
            >
              Rehearse</button
            ><button v-if="!s.begun" class="act quiet" @click="remove(s.id)">Remove</button>
          </td>
        </tr>
      </tbody>
    </table>
    <RehearseShift v-if="rehearsing" :trial="id" :shift="rehearsing" @close="rehearsing = ''" />
    <hr class="rule" />
    <h2>Plan a <Term of="shift" /></h2>
    <form class="stack" @submit.prevent="make">
      <div class="row">
        <label class="field"
          >{{ whenWords
          }}<el-date-picker
            v-model="form.serve"
            type="datetime"
            :format="`ddd ${boxFormat()}`"
            :clearable="false"
        /></label>
        <button v-if="!form.written_up" type="button" class="act quiet soon" @click="soonest">
          As soon as can be
        </button>
        <label class="field"
          >Tasted<el-select v-model="form.same_age" class="tasted"
            ><el-option :value="false" label="all together" /><el-option
              :value="true"
              label="each at the same age" /></el-select
        ></label>
        <label class="field"
          >Window, minutes<el-input-number
            v-model="form.window"
            :min="0"
            :max="240"
            controls-position="right"
            :placeholder="form.same_age ? '10 each' : '5'"
        /></label>
        <label class="field"
          >Pairs of hands<el-input-number v-model="form.people" :min="1" :max="4" controls-position="right"
        /></label>
        <label class="field"
          >Walk between stations, s<el-input-number
            v-model="form.walk"
            :min="0"
            :max="600"
            :step="5"
            controls-position="right"
        /></label>
        <label class="field">Name<el-input v-model="form.name" placeholder="as of its day" /></label>
      </div>
      <div class="row">
        <label class="field">Who cooks<el-input v-model="form.cooks" placeholder="you" /></label
        ><label class="field"
          >Room<QuantityInput v-model="form.room" kind="temperature" placeholder="not read" /></label
        ><label class="field grow"
          >Weather, windows, hood<el-input v-model="form.weather" placeholder="not said"
        /></label>
      </div>
      <table class="plain batches">
        <tbody>
          <tr v-for="m in trial.methods" :key="m.id">
            <td><LoafMark :mark="m.mark" :size="30" /></td>
            <td>
              <strong>{{ m.tag }}</strong> {{ m.name }}
            </td>
            <td>
              <label class="row small"
                >batches
                <el-input-number v-model="form.replicates[m.id]" :min="0" :max="20" controls-position="right"
              /></label>
            </td>
          </tr>
        </tbody>
      </table>
      <div class="row">
        <el-checkbox v-model="form.written_up" :disabled="form.simulated"
          >Cooked already: written up from paper</el-checkbox
        ><el-checkbox v-model="form.simulated" :disabled="form.written_up"
          >On simulated time, to rehearse</el-checkbox
        ><label v-if="form.simulated" class="row small"
          >speed
          <el-input-number v-model="form.speed" :min="1" :max="60" controls-position="right" /> times</label
        >
      </div>
      <p v-if="form.simulated" class="soft small">
        Its batches never count as evidence. Stand-ins for food, thermometers, scale and meters are called at
        its bench. A shift that is planned is rehearsed by its own button above.
      </p>
      <p v-if="form.written_up" class="soft small">
        Its bench opens with a table for the times on your paper. Its batches count as evidence, marked as
        written up afterwards.
      </p>
      <p class="soft small">
        Cook each at least twice if you want more than “<Term of="leaning" />, for these cookings”.
      </p>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div>
        <button class="act strong">{{ form.written_up ? 'Write it up' : 'Plan it' }}</button>
      </div>
    </form>
  </main>
</template>

<style scoped>
.soon {
  align-self: end;
}
.batches {
  width: auto;
}
.tasted {
  width: min(220px, 100%);
}
</style>
