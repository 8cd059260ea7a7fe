<script setup lang="ts">
/** A vessel's measures: a new map, or the vessel that pieces are handed over to. */
import { reactive } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Quantity } from '../../bench/units'
import type { MapBody } from './useMaps'

const props = defineProps<{ trial: Trial; from: Schemas['MapView'] | null; handOver: boolean }>()
const emit = defineEmits<{ make: [body: MapBody]; away: [] }>()
const VESSELS: MapBody['kind'][] = ['tray', 'basket', 'rack', 'grill', 'pot', 'plate']
const piece = props.from?.piece_m ?? props.trial.methods[0]?.piece_thickness_m ?? 0.05
const tray = { name: 'Tray', kind: 'tray' as MapBody['kind'], round: false, width: 0.38, depth: 0.3 }
const plate = { name: 'Plate', kind: 'plate' as MapBody['kind'], round: true, width: 0.28, depth: 0.28 }
const began = props.handOver ? plate : tray
const form = reactive({
  name: began.name,
  kind: began.kind,
  round: began.round,
  width: began.width as Quantity,
  depth: began.depth as Quantity,
  piece: piece as Quantity,
  spacing: (props.handOver ? 0.005 : 0.01) as Quantity,
})
const make = () =>
  emit('make', {
    name: form.name,
    kind: form.kind,
    round: form.round,
    width_m: form.width ?? '',
    depth_m: form.depth ?? '',
    piece_m: form.piece ?? '',
    spacing_m: form.spacing,
    places: null,
    spots: [],
  })
</script>

<template>
  <form class="row new" @submit.prevent="make">
    <label class="field">Name<el-input v-model="form.name" name="map-name" /></label>
    <label class="field"
      >Vessel<el-select v-model="form.kind" class="s" aria-label="Vessel"
        ><el-option v-for="v in VESSELS" :key="v" :value="v" :label="v" /></el-select
    ></label>
    <el-checkbox v-model="form.round" class="end">round</el-checkbox>
    <label class="field">Width<QuantityInput v-model="form.width" kind="length" class="s" /></label
    ><label class="field">Depth<QuantityInput v-model="form.depth" kind="length" class="s" /></label>
    <label class="field">A piece is<QuantityInput v-model="form.piece" kind="length" class="s" /></label
    ><label class="field">Air between<QuantityInput v-model="form.spacing" kind="length" class="s" /></label>
    <button class="act strong end">{{ handOver ? 'Hand over' : 'Draw it' }}</button><button
      type="button"
      class="act quiet end"
      @click="emit('away')"
    >
      Not now
    </button>
  </form>
</template>

<style scoped>
.s {
  width: 110px;
}
.end {
  align-self: end;
}
.new {
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  padding: var(--gap-3);
}
</style>
