<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../../api/client'
import Parts from '../../bench/Parts.vue'
import { useTrial } from '../useTrial'
import Amounts from './Amounts.vue'
import AsDone from './AsDone.vue'
import Differences from './Differences.vue'
import FoodAndPiece from './FoodAndPiece.vue'
import Hazards from './Hazards.vue'
import HeldEqual from './HeldEqual.vue'
import Jobs from './Jobs.vue'
import Marks from './Marks.vue'
import Offers from './Offers.vue'
import PieceDealing from './PieceDealing.vue'
import Places from './Places.vue'
import Readiness from './Readiness.vue'
import UsedByEye from './UsedByEye.vue'
import { queryKeys } from '../../api/queries/keys'
import NextStation from '../NextStation.vue'

const id = String(useRoute().params.trial)
const { trial, problem, busy, edit } = useTrial(id)
const { data: fair, isFetched: settled } = useQuery({
  queryKey: queryKeys.fairness(id),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/fairness', { params: { path: { trial_id: id } } })).data!,
})
const parts = computed(() => [
  {
    key: 'differences',
    name: 'What differs',
    note: fair.value?.open_count ? String(fair.value.open_count) : '',
  },
  { key: 'lots', name: 'Lots and amounts' },
  { key: 'pieces', name: 'Pieces' },
  { key: 'places', name: 'Places' },
  { key: 'marks', name: 'Marks to print' },
  { key: 'job', name: 'The whole job' },
  { key: 'ready', name: 'Readiness' },
  { key: 'hazards', name: 'Hazards' },
  { key: 'done', name: 'As done' },
])
</script>

<template>
  <main v-if="trial" class="page wide">
    <section class="say">
      <h1>
        {{
          trial.methods.length < 2
            ? 'Add at least two methods at Ask; then what differs between them is shown here.'
            : fair?.sentence
        }}
      </h1>
      <p v-if="fair && trial.methods.length > 1" class="claim">{{ fair.claim }}</p>
      <p v-for="s in fair?.shifts" :key="s" class="warn">{{ s }}</p>
      <NextStation v-if="fair && trial.methods.length > 1" :trial="trial.id" to="cook" />
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <!-- Not before the sentence above it, or all of this moves down under a quick hand. -->
    <Parts v-if="settled" v-slot="{ here }" :parts="parts">
      <template v-if="here === 'differences'">
        <Differences v-if="fair" :trial="trial" :fair="fair" :edit="edit" :busy="busy" :problem="problem" />
        <hr class="rule" />
        <Offers :trial="trial" :edit="edit" :busy="busy" />
        <HeldEqual :key="`h${trial.version}`" :trial="trial" :edit="edit" :busy="busy" />
        <p class="soft small foot">
          Appliances, their powers and offsets are kept at <router-link to="/kitchen">Kitchen</router-link>.
        </p>
      </template>
      <template v-else-if="here === 'lots'"
        ><FoodAndPiece :key="`p${trial.version}`" :trial="trial" :edit="edit" /><UsedByEye
          :key="`e${trial.version}`"
          :trial="trial"
          :edit="edit" /><Amounts :key="trial.version" :trial="trial" :edit="edit"
      /></template>
      <PieceDealing v-else-if="here === 'pieces'" :trial="trial" />
      <Places v-else-if="here === 'places'" :trial="trial" />
      <Marks v-else-if="here === 'marks'" :trial="trial" />
      <Jobs v-else-if="here === 'job'" :trial="trial" />
      <Readiness v-else-if="here === 'ready'" :trial="trial" :edit="edit" />
      <Hazards v-else-if="here === 'hazards'" :trial="trial" :edit="edit" />
      <AsDone v-else-if="here === 'done'" :trial="trial" />
    </Parts>
  </main>
</template>

<style scoped>
.wide {
  max-width: 1320px;
}
.claim {
  margin-top: var(--gap-1);
}
.foot {
  margin-top: var(--gap-4);
}
</style>
