<script setup lang="ts">
/** What is said of a method as a whole: its name and tag, and what one batch is. */
import { reactive } from 'vue'
import { api, type Method, type Trial } from '../../api/client'
import type { Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; method: Method; edit: Edit }>()
const words = reactive({
  name: props.method.name,
  tag: props.method.tag,
  batch: props.method.batch_kg as Quantity,
  piece: props.method.piece_kg as Quantity,
  start: props.method.start_c as Quantity,
  pieces: props.method.pieces_per_batch,
  hold: props.method.hold_limit_s as Quantity,
})
const saveWords = () =>
  props.edit((_, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
      params: { path: { trial_id: props.trial.id, method_id: props.method.id } },
      headers,
      body: {
        name: words.name,
        tag: words.tag.toUpperCase(),
        batch_kg: words.batch,
        piece_kg: words.piece,
        start_c: words.start,
        pieces_per_batch: words.pieces,
        hold_limit_s: words.hold,
      },
    }),
  )
</script>

<template>
  <div class="row">
    <label class="field">Name<el-input v-model="words.name" /></label>
    <label class="field tag">Tag<el-input v-model="words.tag" maxlength="2" /></label>
    <label class="field tag"
      >Pieces a batch<el-input-number v-model="words.pieces" :min="1" :max="1000" :controls="false"
    /></label>
    <label class="field short"
      >Food in a batch<QuantityInput v-model="words.batch" kind="mass" placeholder="360 g"
    /></label>
    <label class="field short"
      >One piece<QuantityInput v-model="words.piece" kind="mass" placeholder="60 g"
    /></label>
    <label class="field short"
      >May wait, done<QuantityInput v-model="words.hold" kind="duration" placeholder="no limit"
    /></label>
    <label class="field short"
      >Starts at<QuantityInput v-model="words.start" kind="temperature" placeholder="20 °C"
    /></label>
    <button type="button" class="act quiet self-end" @click="saveWords">Save these</button>
  </div>
</template>

<style scoped>
.short {
  width: 130px;
}
.tag {
  width: 90px;
}
.tag :deep(.el-input-number) {
  width: 90px;
}
.self-end {
  align-self: end;
}
</style>
