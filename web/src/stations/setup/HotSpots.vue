<script setup lang="ts">
/** What is known of a vessel's hot and cool places, and the points that are being put on its map. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { padApart } from '../../bench/units'
import Chips from '../../ui/Chips.vue'
import QuantityInput from '../../ui/QuantityInput.vue'
import { howKnown, newPoint, untold, whereIs, type HeatPoint, type How } from './heatPoints'
import Term from '../../guide/Term.vue'

const props = defineProps<{ map: Schemas['MapView']; shades: string[] }>()
const how = defineModel<How>('how', { required: true })
/** Null while nothing is being put on the map. */
const points = defineModel<HeatPoint[] | null>('points', { required: true })
const emit = defineEmits<{ begin: []; keep: []; clear: [] }>()
const WAYS: [How, string][] = [
  ['eye', 'By eye'],
  ['thermometer', 'Thermometers'],
  ['toast', 'Slices of toast'],
]
const SAYS: Record<How, string> = {
  eye: 'Touch the map where it runs hotter or cooler, and say by how much.',
  thermometer:
    'Touch the map where each thermometer lies, the middle too; read them all at once, ' +
    'when the appliance has come to rest.',
  toast:
    'Lay slices of one loaf, heat them until the middle is gold, and touch the map where each lay: ' +
    'how brown is it?',
}
const missing = computed(() => points.value?.filter((p) => untold(how.value, p)).length ?? 0)
const few = computed(() => how.value !== 'eye' && (points.value?.length ?? 0) < 3)
const middle = () => points.value?.push(newPoint(props.map.width_m / 2, props.map.depth_m / 2))
const shadeOptions = computed(() => props.shades.map((word, i) => ({ value: i + 1, label: word })))
</script>

<template>
  <h3><Term of="hot spot">Hot and cool spots</Term></h3>
  <template v-if="!points">
    <p class="soft small">
      {{ howKnown(map.spots) || 'None known: every place is taken to be as hot as the next.' }}
    </p>
    <div class="row">
      <button class="act quiet" @click="emit('begin')">
        {{ map.spots.length ? 'Tell them anew' : 'Put them on the map' }}</button><button
        v-if="map.spots.length"
        class="act quiet"
        @click="emit('clear')"
      >
        Clear the spots
      </button>
    </div>
  </template>
  <form v-else class="stack" aria-label="Hot and cool spots" @submit.prevent="emit('keep')">
    <Chips v-model="how" :of="WAYS" />
    <p class="small">{{ SAYS[how] }}</p>
    <ol class="points">
      <li v-for="(p, i) in points" :key="i" class="row">
        <span class="where"
          ><strong>{{ i + 1 }}</strong> {{ whereIs(p) }}</span
        >
        <span v-if="how === 'eye'" class="row"
          ><el-input-number
            :model-value="p.k === undefined ? undefined : padApart.of(p.k)"
            :min="-60"
            :max="60"
            class="k"
            :aria-label="`Point ${i + 1}: hotter than the middle by, in ${padApart.unit}`"
            @update:model-value="
              (v: number | undefined) => (p.k = v === undefined ? undefined : padApart.toSi(v))
            "
          />
          {{ padApart.unit }}</span
        >
        <QuantityInput
          v-else-if="how === 'thermometer'"
          v-model="p.celsius"
          kind="temperature"
          class="k"
          :aria-label="`Point ${i + 1}: temperature`"
        />
        <el-select
          v-else
          v-model="p.shade"
          class="k"
          placeholder="how brown"
          :aria-label="`Point ${i + 1}: how brown`"
          ><el-option v-for="s in shadeOptions" :key="s.value" v-bind="s"
        /></el-select>
        <button
          type="button"
          class="act quiet"
          :aria-label="`Take point ${i + 1} away`"
          @click="points!.splice(i, 1)"
        >
          ×
        </button>
      </li>
    </ol>
    <div class="row">
      <button type="button" class="act quiet" :disabled="points.length >= 20" @click="middle">
        Add one in the middle
      </button>
      <button class="act strong" :disabled="!points.length || missing > 0 || few">Keep these</button>
      <button type="button" class="act quiet" @click="points = null">Not now</button>
    </div>
    <p v-if="few" class="soft small">Three places at least: the middle and some towards the rim.</p>
    <p v-else-if="missing" class="soft small">{{ missing }} still to be told.</p>
    <p v-if="map.spots.length" class="soft small">These then stand instead of what the map has.</p>
  </form>
</template>

<style scoped>
.points {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
.where {
  min-width: 230px;
}
.k {
  width: 150px;
}
</style>
