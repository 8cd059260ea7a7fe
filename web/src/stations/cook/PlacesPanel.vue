<script setup lang="ts">
/** Where each piece lies, at the bench: as laid, after the half-way turn, and after each hand-over. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Mark } from '../../api/client'
import PlaceMap from '../setup/PlaceMap.vue'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: string; marks: Record<string, Mark> }>()
const emit = defineEmits<{ close: [] }>()
const { data } = useQuery({
  queryKey: queryKeys.maps(props.trial),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/maps', { params: { path: { trial_id: props.trial } } })).data!
      .items,
})
const at = ref(0)
const turned = ref(false)
const map = computed(() => data.value?.[at.value])
</script>

<template>
  <el-dialog :model-value="true" width="720" title="Where each piece lies" @close="emit('close')">
    <div v-if="map" class="stack">
      <div class="row">
        <button
          v-for="(m, i) in data"
          :key="m.id"
          class="act"
          :class="{ quiet: i !== at }"
          @click="
            () => {
              at = i
              turned = false
            }
          "
        >
          {{ m.name }}</button><span class="grow" /><button
          class="act"
          :aria-pressed="turned"
          @click="turned = !turned"
        >
          {{ turned ? 'As laid' : 'After the turn' }}
        </button>
      </div>
      <PlaceMap :map="map" :places="turned ? map.turned : map.places" :marks="marks" :size="640" />
      <p class="soft small">front: the cook stands here. {{ map.dealt_how }}</p>
    </div>
    <p v-else>No map was drawn for this trial. Draw one at Set up, under Places.</p>
  </el-dialog>
</template>
