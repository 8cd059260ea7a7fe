<script setup lang="ts">
/** From a question to a trial that can be set up, in one dialog. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import QuantityInput from '../ui/QuantityInput.vue'
import Toggles from '../ui/Toggles.vue'
import { useNewTrial } from './useNewTrial'
import FormFoot from '../ui/FormFoot.vue'

const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { form, kinds, kind, safety, offered, proposed, chosen, judgeable, judged, why, problem, ...acts } =
  useNewTrial()
const more = ref(false)
const busy = ref(false)
async function make() {
  if (busy.value) return
  busy.value = true
  const id = await acts.make()
  busy.value = false
  if (id) await router.push(`/trials/${id}/ask`)
}
</script>

<template>
  <el-dialog :model-value="true" title="A new trial" width="860" top="3vh" @close="emit('close')">
    <form class="stack" @submit.prevent="make">
      <label class="field"
        >What are you finding out?<el-input
          v-model="form.question"
          name="question"
          type="textarea"
          :rows="2"
          placeholder="Which way gives a thin crust and a moist crumb within the hour?"
      /></label>
      <div class="pair">
        <label class="field"
          >Dish<el-input v-model="form.dish" name="dish" placeholder="filled yeast buns"
        /></label>
        <label class="field"
          >Short title (if other than the dish)<el-input v-model="form.title" name="title"
        /></label>
      </div>
      <fieldset class="wants">
        <legend>What do you want to know?</legend>
        <el-radio-group v-model="form.kind" aria-label="What do you want to know?">
          <el-radio v-for="k in kinds" :key="k.kind" :value="k.kind"
            >{{ k.wants }} <span class="soft small">{{ k.name }}: {{ k.what }}</span></el-radio
          >
        </el-radio-group>
        <p v-if="kind" class="soft small">It asks Decide: {{ kind.asks.decide }}</p>
      </fieldset>
      <div v-if="kind && !kind.laid_out" class="wants">
        <p class="name">Which ways</p>
        <Toggles
          label="Which ways"
          :of="offered.here.map((t) => [t.key, t.name])"
          :on="form.techniques"
          @toggle="acts.take"
        />
        <template v-if="offered.others.length">
          <button
            v-if="!more && offered.here.some((t) => t.appliance_kind)"
            type="button"
            class="act quiet small others"
            @click="more = true"
          >
            {{ offered.others.length }} more, which this kitchen has no appliance for
          </button>
          <Toggles
            v-else
            label="Ways that this kitchen has no appliance for"
            :of="offered.others.map((t) => [t.key, t.name])"
            :on="form.techniques"
            @toggle="acts.take"
          />
        </template>
        <p class="soft small">
          Each comes with its usual steps and this kitchen’s own appliance, where it has one; all of it can be
          changed.
        </p>
      </div>
      <p v-else-if="kind" class="soft small">Its ways come from its layout, which is asked next.</p>
      <div v-if="form.techniques.length && !kind?.laid_out" class="pair three">
        <label class="field"
          >Pieces in a batch<el-input-number
            v-model="form.pieces"
            :min="1"
            :max="10000"
            controls-position="right"
            placeholder="6"
        /></label>
        <label class="field"
          >One piece weighs<QuantityInput v-model="form.piece" kind="mass" placeholder="not said"
        /></label>
        <label class="field"
          >Done at a core of<QuantityInput
            v-model="form.core"
            kind="temperature"
            placeholder="as the way ends"
        /></label>
      </div>
      <label v-if="form.techniques.length && !kind?.laid_out" class="field"
        >What goes into a batch of each, one a line<el-input
          v-model="form.ingredients"
          name="ingredients"
          type="textarea"
          :rows="3"
          placeholder="500 g cauliflower&#10;15 g oil&#10;4 g salt"
      /></label>
      <div>
        <label class="field"
          >Kind of food, for safety<el-select
            v-model="form.food_class"
            placeholder="not said yet"
            name="food-class"
            @change="chosen.food = true"
            ><el-option v-for="f in safety?.foods" :key="f.key" :value="f.key" :label="f.name" /></el-select
        ></label>
        <p v-if="why" class="soft small proposed">Proposed {{ why }}. Look whether it is so.</p>
      </div>
      <div v-if="judgeable.length" class="wants">
        <p class="name">What is judged</p>
        <Toggles
          label="What is judged"
          :of="judgeable.map((j) => [j.name, `${j.name}: ${j.low_words} … ${j.high_words}`])"
          :on="judged.map((j) => j.name)"
          @toggle="acts.strike"
        />
        <p class="soft small">
          {{
            proposed?.earlier
              ? `As in “${proposed.earlier}”.`
              : 'Proposed by dish and ways; strike out what you do not ask.'
          }}
          Weights and words are changed at “Judged on”.
        </p>
      </div>
      <FormFoot :problem="problem" :disabled="busy" @close="emit('close')">Begin</FormFoot>
    </form>
  </el-dialog>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: var(--gap-3);
}
.wants {
  border: 0;
  padding: 0;
  margin: 0;
}
.wants .name {
  margin: 0 0 var(--gap-1);
}
.wants .name,
.wants legend {
  font-weight: 700;
}
.wants .el-radio-group {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: var(--gap-0) var(--gap-4);
}
.wants .el-radio {
  white-space: normal;
  margin-right: 0;
  height: auto;
  min-height: 44px;
  padding: var(--gap-1) 0;
  line-height: 1.3;
}
.wants .el-radio .small {
  display: block;
}
.wants p {
  margin: var(--gap-1) 0 0;
}
.others {
  margin-top: var(--gap-2);
}
.proposed {
  margin: var(--gap-1) 0 0;
}
</style>
