<script setup lang="ts">
/** One step of a method, typed. */
import { computed } from 'vue'
import type { Method, Schemas } from '../../api/client'
import WorkItOut from '../../bench/WorkItOut.vue'
import { lengthText, massText, quantityText, temperatureText } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import { mayLast, PHASES, type StepRow } from './stepRows'

const r = defineModel<StepRow>({ required: true })
const props = defineProps<{
  number: number
  last: boolean
  method: Method
  appliances: Schemas['ApplianceView'][] | undefined
}>()
const emit = defineEmits<{ up: []; down: []; add: []; remove: [] }>()
const timeText = computed(() =>
  typeof r.value.duration === 'string' ? r.value.duration : quantityText('duration', r.value.duration),
)
const appliance = computed(() => props.appliances?.find((a) => a.id === r.value.appliance_id))
/** Words on the dial that somebody knows the temperature of. */
const dial = computed(() =>
  (appliance.value?.dial ?? []).filter((d) => d.celsius !== null && d.celsius !== undefined),
)
/** Rules that answer how long, by what heats. */
const rules = computed(() => {
  const kind = appliance.value?.kind ?? ''
  const comeUp = r.value.phase === 'come_up'
  if (kind === 'microwave') return ['microwave-power', 'microwave-load', 'weight', 'thickness']
  if (kind === 'pressure_cooker') return comeUp ? ['come-up'] : ['pressure', 'thickness', 'size']
  return comeUp ? ['preheat'] : ['core-time', 'weight', 'thickness', 'size', 'hot-air', 'pan']
})
</script>

<template>
  <div class="row">
    <label class="field what">{{ number }}. What<el-input v-model="r.what" /></label>
    <label class="field kind"
      >Part of the job<el-select v-model="r.phase"
        ><el-option v-for="[v, w] in PHASES" :key="v" :value="v" :label="w" /></el-select
    ></label>
    <label class="field kind"
      >Needs<el-select v-model="r.attention"
        ><el-option value="hands" label="hands" /><el-option
          value="watched"
          label="someone there" /><el-option value="free" label="nobody" /></el-select
    ></label>
    <label class="field short"
      >Lasts<QuantityInput v-model="r.duration" kind="duration" placeholder="12 min" /><WorkItOut
        v-if="['cook', 'come_up', 'wait'].includes(r.phase)"
        :calculators="rules"
        :given="{
          time: timeText,
          mass: massText(method.batch_kg) || '500 g',
          thickness: lengthText(method.piece_thickness_m) || '4 cm',
        }"
        :label="`how long: ${r.what}`"
        @take="(v: string) => (r.duration = v)"
    /></label>
    <label class="field kind"
      >Ends by<el-select v-model="r.end_rule"
        ><el-option value="clock" label="the clock" /><el-option
          value="core"
          label="core temperature" /><el-option value="cue" label="a cue" /><el-option
          value="weight"
          label="weight" /><el-option value="match" label="matching a sample" /></el-select
    ></label>
    <label v-if="r.end_rule === 'core'" class="field short"
      >Core<QuantityInput v-model="r.core" kind="temperature" placeholder="93 °C"
    /></label>
    <label v-if="r.end_rule === 'cue'" class="field"
      >Seen when done<el-input v-model="r.cue" placeholder="golden, sounds hollow"
    /></label>
    <label v-if="r.end_rule === 'weight'" class="field short"
      >Comes down to<QuantityInput v-model="r.weight" kind="mass" placeholder="300 g"
    /></label>
    <label v-if="r.end_rule === 'match'" class="field"
      >Sample on the table<el-input v-model="r.cue" placeholder="the oven’s first tray"
    /></label>
  </div>
  <div class="row">
    <label v-if="['turn', 'prepare', 'load'].includes(r.phase) || r.offset !== null" class="field short"
      >During the step before, after<QuantityInput v-model="r.offset" kind="duration" placeholder="in order"
    /></label>
    <template v-if="['come_up', 'cook'].includes(r.phase)">
      <label class="field kind"
        >Appliance<el-select v-model="r.appliance_id" clearable
          ><el-option v-for="a in appliances" :key="a.id" :value="a.id" :label="a.name" /></el-select
      ></label>
      <label class="field short"
        >Set to<QuantityInput v-model="r.set_point" kind="temperature" placeholder="200 °C" /><span
          v-if="dial.length"
          class="dial"
          ><button
            v-for="d in dial"
            :key="d.word"
            type="button"
            class="word"
            :title="d.measured ? 'measured' : 'not measured'"
            @click.prevent="r.set_point = Number(d.celsius)"
          >
            {{ d.word }} {{ temperatureText(Number(d.celsius)) }}
          </button></span
        ></label
      >
      <label class="field short"
        >Power into food<QuantityInput v-model="r.power" kind="power" placeholder="700 W"
      /></label>
    </template>
    <label v-if="mayLast(r)" class="field short"
      >{{ r.phase === 'cook' ? 'At most' : 'Up to'
      }}<QuantityInput
        v-model="r.longest"
        kind="duration"
        :placeholder="r.phase === 'cook' ? 'not known' : 'no longer'"
    /></label>
    <label v-if="['prepare', 'wait'].includes(r.phase)" class="field short"
      >Days before<el-input-number v-model="r.days" :min="0" :max="30" :controls="false"
    /></label>
    <span class="grow" />
    <button type="button" class="act quiet" :disabled="number === 1" aria-label="Move up" @click="emit('up')">
      ↑
    </button>
    <button type="button" class="act quiet" :disabled="last" aria-label="Move down" @click="emit('down')">
      ↓
    </button>
    <button type="button" class="act quiet" @click="emit('add')">Add below</button>
    <button type="button" class="act quiet" @click="emit('remove')">Remove</button>
  </div>
</template>

<style scoped>
.what {
  flex: 1 1 200px;
}
.kind {
  width: 136px;
}
.short {
  width: 116px;
}
.dial {
  display: flex;
  gap: var(--gap-2);
}
.word {
  background: none;
  border: 0;
  padding: var(--gap-0) 0;
  font: inherit;
  font-size: var(--type-1);
  color: var(--ink-soft);
  text-decoration: underline;
  cursor: pointer;
  white-space: nowrap;
}
</style>
