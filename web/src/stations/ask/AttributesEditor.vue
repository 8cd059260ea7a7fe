<script setup lang="ts">
import { ref } from 'vue'
import { useScales } from '../useScales'
import { api, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const rows = ref(
  props.trial.attributes.map(
    (a) => ({ ...a }) as Omit<Trial['attributes'][number], 'id'> & { id: string | null },
  ),
)
const { scales, scaleOf } = useScales()
const changed = ref(false)
const listed = (text: string) =>
  text
    .split(',')
    .map((w) => w.trim())
    .filter(Boolean)
function add() {
  rows.value.push({
    id: null,
    name: '',
    scale: 'intensity',
    weight: 1,
    low_words: '',
    high_words: '',
    high_is_better: true,
    words: [],
  })
  changed.value = true
}
const save = () =>
  props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/attributes', {
      params: { path: { trial_id: props.trial.id } },
      headers,
      body: { items: rows.value },
    }),
  )
</script>

<template>
  <div class="rows" @input="changed = true" @change="changed = true">
    <div v-for="(a, i) in rows" :key="i" class="att">
      <label class="field name"
        >Attribute<el-input
          v-model="a.name"
          :name="`attribute-${i}`"
          placeholder="crust"
          @input="changed = true"
      /></label>
      <label class="field scale"
        >Scale<el-select v-model="a.scale" @change="changed = true"
          ><el-option v-for="k in scales" :key="k.key" :value="k.key" :label="k.name" /></el-select
      ></label>
      <template v-if="scaleOf(a.scale)?.ends">
        <label class="field"
          >At 0<el-input v-model="a.low_words" placeholder="thick" @input="changed = true"
        /></label>
        <label class="field"
          >At 10<el-input v-model="a.high_words" placeholder="thin and crisp" @input="changed = true"
        /></label>
        <label class="field end"
          >Wanted end<el-select v-model="a.high_is_better" @change="changed = true"
            ><el-option :value="true" label="10" /><el-option :value="false" label="0" /></el-select
        ></label>
      </template>
      <label v-if="scaleOf(a.scale)?.own_words" class="field words"
        >Words, from the lowest, with commas<el-input
          :model-value="a.words.join(', ')"
          :name="`words-${i}`"
          placeholder="raw, firm, tender, falling apart"
          @change="(text: string) => (a.words = listed(text))"
          @input="changed = true"
      /></label>
      <p v-if="scaleOf(a.scale)?.weighs === false" class="soft small weight">counted, not scored</p>
      <label v-else class="field weight"
        >Weight<el-input-number
          v-model="a.weight"
          :min="0"
          :max="100"
          :step="0.5"
          :controls="false"
          @change="changed = true"
      /></label>
      <button
        type="button"
        class="act quiet"
        :aria-label="`Remove ${a.name || 'attribute'}`"
        @click="
          () => {
            rows.splice(i, 1)
            changed = true
          }
        "
      >
        Remove
      </button>
    </div>
    <div class="row">
      <button type="button" class="act quiet" @click="add">Add an attribute</button
      ><button type="button" class="act strong" :disabled="!changed" @click="save">Save attributes</button>
    </div>
  </div>
</template>

<style scoped>
.rows {
  display: grid;
  gap: var(--gap-3);
  margin-top: var(--gap-2);
}
.att {
  display: flex;
  gap: var(--gap-3);
  align-items: end;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--line);
  padding-bottom: var(--gap-3);
}
.name {
  width: 170px;
}
.scale {
  width: 220px;
}
.weight {
  width: 80px;
}
.words {
  flex: 1;
  min-width: 260px;
}
.end {
  width: 90px;
}
.att .field:nth-child(3),
.att .field:nth-child(4) {
  width: 170px;
}
.weight :deep(.el-input-number) {
  width: 80px;
}
</style>
