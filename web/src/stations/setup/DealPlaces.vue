<script setup lang="ts">
/** Places dealt to methods, and one place given by hand. */
import { reactive, ref, watch } from 'vue'
import type { Schemas, Trial } from '../../api/client'

const props = defineProps<{
  trial: Trial
  /** The place that was picked on the map, and its number; null where none was. */
  place: Schemas['PlaceView'] | null
  number: number
}>()
const emit = defineEmits<{ deal: [body: Schemas['PlaceDealIn']]; put: [tag: string, piece: number] }>()
const each = ref(6)
const how = ref<'balanced' | 'random'>('balanced')
const who = ref(props.trial.methods.slice(0, 6).map((m) => m.id))
const give = reactive({ tag: '', piece: 1 })
watch(
  () => props.number,
  () => {
    if (props.place) Object.assign(give, { tag: props.place.tag, piece: props.place.piece || 1 })
  },
)
const deal = () =>
  emit('deal', { how: how.value, method_ids: who.value, pieces_each: each.value, seed: null })
const put = () => emit('put', give.tag, give.tag ? give.piece : 0)
</script>

<template>
  <h3>Deal the places</h3>
  <el-select v-model="who" multiple collapse-tags :max-collapse-tags="6" aria-label="Methods that lie in it"
    ><el-option v-for="m in trial.methods" :key="m.id" :value="m.id" :label="m.tag"
  /></el-select>
  <div class="row">
    <label class="field"
      >Pieces each<el-input-number
        v-model="each"
        :min="1"
        :max="200"
        :controls="false"
        class="s"
        aria-label="Pieces of each method" /></label
    ><el-radio-group v-model="how"
      ><el-radio value="balanced">Balanced over hot spots</el-radio
      ><el-radio value="random">At random</el-radio></el-radio-group
    ><button class="act strong" :disabled="!who.length" @click="deal">Deal</button>
  </div>
  <template v-if="place"
    ><h3>Place {{ number + 1 }}</h3>
    <div class="row">
      <el-select v-model="give.tag" class="s" clearable placeholder="empty" aria-label="Whose piece"
        ><el-option v-for="m in trial.methods" :key="m.id" :value="m.tag" :label="m.tag" /></el-select
      ><el-input-number
        v-model="give.piece"
        :min="1"
        :max="2000"
        :controls="false"
        class="s"
        aria-label="Piece number"
      /><button class="act quiet" @click="put">Put it there</button>
    </div></template
  >
</template>

<style scoped>
.s {
  width: 110px;
}
</style>
