<script setup lang="ts">
/** A tasting that is being laid: rounds, people, what is served with it. */
import { computed, ref, watch } from 'vue'
import { api, type Schemas } from '../../api/client'
import { useSession } from '../../session'
import { asSent, names, newRound, servedWith, whatShows } from './draft'
import RoundForm from './RoundForm.vue'
import SessionPlan from './SessionPlan.vue'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{
  trial: string
  list: Schemas['TastingList']
  attributes: Schemas['AttributeView'][]
  /** Ingredients of which nobody has said what allergens are in them. */
  unchecked: string[]
  run: (act: () => Promise<unknown>) => Promise<boolean>
  problem: string
}>()
const emit = defineEmits<{ close: [] }>()
const ahead = props.list.candidates.filter((c) => c.later).map((c) => c.batch_id)
const ready = props.list.candidates.filter((c) => c.may).map((c) => c.batch_id)
/** What waits for its heat is laid ready; with nothing to come, what is cooked. */
const may = ahead.length > 1 ? ahead : ready
const rounds = ref([newRound(may)])
const protocol = ref<Schemas['Protocol']>('plated')
const later = computed(() => rounds.value.some((r) => r.batches.some((b) => ahead.includes(b))))
const name = ref('')
/** Who sat here last is likely to sit here again: one touch, never by itself. */
const last = props.list.panelists.reduce((at, p) => (p.last && p.last > at ? p.last : at), '')
const again = props.list.panelists.filter((p) => p.last && p.last === last)
const seated = ref<string[]>([])
const fresh = ref('')
const session = useSession()
/** Who is alone sits here; a guess at which is which, asked last, shows whether the cups were lost. */
watch(protocol, (now, before) => {
  if (now === 'plated') return
  if (before === 'plated' && session.me && now === 'alone') seated.value = [session.me.person_id]
  if (rounds.value.length === 1 && (rounds.value[0]?.batches.length ?? 0) > 1)
    rounds.value.push({ ...newRound(rounds.value[0]!.batches), test: 'match_labels', break_min: 2 })
})
const also = ref('')
const oneWay = ref(false)
const known = computed(() => props.list.panelists)
const body = computed<Schemas['NewTasting']>(() => ({
  name: name.value,
  batches: [],
  part: '',
  age: '',
  rounds: rounds.value.map(asSent),
  panelists: seated.value,
  tasters: names(fresh.value),
  served_with: servedWith(also.value),
  one_way: oneWay.value,
  protocol: protocol.value,
  cups: whatShows(rounds.value),
  later: later.value,
}))
async function make() {
  const path = { params: { path: { trial_id: props.trial } } }
  const ok = await props.run(() =>
    api.POST('/api/v1/trials/{trial_id}/tastings', { ...path, body: body.value }),
  )
  if (ok) emit('close')
}
</script>

<template>
  <form class="stack" @submit.prevent="make">
    <label class="field">Name<el-input v-model="name" placeholder="Plain, at the table" /></label>
    <RoundForm
      v-for="(_, i) in rounds"
      :key="i"
      v-model="rounds[i]!"
      :number="i + 1"
      :several="rounds.length > 1"
      :candidates="list.candidates"
      :tests="list.tests"
      :attributes="attributes"
      @remove="rounds.splice(i, 1)"
    />
    <div>
      <button type="button" class="act quiet" @click="rounds.push(newRound(may))">
        Another round (a part, with its sauce, a guess)
      </button>
    </div>
    <label v-if="known.length" class="field"
      >Tasters who have sat here before<el-select
        v-model="seated"
        multiple
        filterable
        placeholder="tap a name"
        ><el-option v-for="p in known" :key="p.id" :value="p.id" :label="p.name" /></el-select
    ></label>
    <div v-if="again.length && !seated.length">
      <button type="button" class="act quiet small" @click="seated = again.map((p) => p.id)">
        Those of last time: {{ again.map((p) => p.name).join(', ') }}
      </button>
    </div>
    <label class="field"
      >New tasters, one a line<el-input v-model="fresh" name="tasters" type="textarea" :rows="3"
    /></label>
    <label class="field"
      >Served with, one a line, with its allergens<el-input
        v-model="also"
        name="served-with"
        type="textarea"
        :rows="2"
        placeholder="cracker: gluten&#10;water: none"
    /></label>
    <fieldset class="plates">
      <legend>Who brings plates and codes together?</legend>
      <el-radio-group v-model="protocol">
        <el-radio value="plated">Somebody plates by the key, or two by half of it each</el-radio>
        <el-radio value="alone">Nobody: I am alone, and lose the cups by shuffling them</el-radio>
        <el-radio value="helper">A helper swaps the plates while I look away, and says after</el-radio>
      </el-radio-group>
    </fieldset>
    <div>
      <el-checkbox v-model="oneWay">Nobody may go back to a sample</el-checkbox>
    </div>
    <SessionPlan :trial="trial" :body="body" />
    <p v-if="unchecked.length" class="warn">
      Nobody has said what allergens are in {{ unchecked.join(', ') }}, and tasters will be told so. Say it
      first at <router-link :to="`/trials/${trial}/setup`">Set up, Lots and amounts</router-link>.
    </p>
    <FormFoot :problem="problem" @close="emit('close')">{{
      later ? 'Lay it ready' : 'Deal codes and orders'
    }}</FormFoot>
  </form>
</template>

<style scoped>
.plates {
  border: 0;
  padding: 0;
  margin: 0;
}
.plates .el-radio-group {
  display: grid;
}
.plates .el-radio {
  white-space: normal;
  margin-right: 0;
}
</style>
