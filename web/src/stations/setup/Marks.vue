<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial }>()
const { data } = useQuery({
  queryKey: queryKeys.labelStocks(),
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/label-stocks')).data!,
})
const stock = ref('flags-a4')
const copies = ref(1)
const paper = ref('A4')
const labels = computed(
  () => `/api/v1/trials/${props.trial.id}/labels.pdf?stock=${stock.value}&copies=${copies.value}`,
)
const maps = computed(() => `/api/v1/trials/${props.trial.id}/maps.pdf?paper=${paper.value}`)
</script>

<template>
  <section class="stack">
    <h2>Marks of this trial</h2>
    <p class="soft">
      Each can be drawn with a marker on foil, tape or a flag, needs no colour, and is no other one turned or
      mirrored. Never cut them into the food: that changes it and gives it away.
    </p>
    <div class="marks">
      <div v-for="m in trial.methods" :key="m.id" class="one">
        <LoafMark :mark="m.mark" :size="trial.methods.length > 12 ? 40 : 64" /><strong>{{ m.tag }}</strong
        ><span class="small">{{ m.name }}</span
        ><span class="small soft">{{ m.mark.name }}</span>
      </div>
    </div>
    <h2>Print</h2>
    <div class="row">
      <label class="field"
        >Flags, tape, labels<el-select v-model="stock" class="w" aria-label="Labels"
          ><el-option
            v-for="s in data?.items"
            :key="s.key"
            :value="s.key"
            :label="s.name" /></el-select></label
      ><label class="field"
        >Of each<el-input-number v-model="copies" :min="1" :max="20" :controls="false" /></label
      ><a class="act strong end" :href="labels" target="_blank" rel="noopener">Labels as PDF</a>
    </div>
    <div class="row">
      <label class="field"
        >Maps of places<el-select v-model="paper" class="s" aria-label="Paper"
          ><el-option v-for="p in data?.papers" :key="p" :value="p" :label="p" /></el-select></label
      ><a class="act end" :href="maps" target="_blank" rel="noopener">Maps as PDF</a>
    </div>
  </section>
</template>

<style scoped>
.marks {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
  gap: var(--gap-4);
}
.one {
  display: grid;
  justify-items: center;
  text-align: center;
  gap: var(--gap-0);
}
.w {
  width: 330px;
}
.s {
  width: 140px;
}
.end {
  align-self: end;
}
</style>
