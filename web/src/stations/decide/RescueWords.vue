<script setup lang="ts">
/** A word from the ladder for each rescue of a screening: a sample of its own, its way keeps its own word. */
import { reactive, ref, watch } from 'vue'
import { api, words as say, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'

const props = defineProps<{ trial: Trial; rescues: Schemas['RescueSample'][] }>()
const emit = defineEmits<{ said: [] }>()
const form = reactive<Record<string, { word: string; note: string }>>({})
watch(
  () => props.rescues,
  (rows) => {
    for (const r of rows) form[r.batch] ??= { word: r.word ?? '', note: r.note ?? '' }
  },
  { immediate: true },
)
const ladder = () => (props.trial.layout.words as string[] | undefined) ?? []
const way = (r: Schemas['RescueSample']) => props.trial.methods.find((m) => m.id === r.method)
const same = (r: Schemas['RescueSample']) =>
  form[r.batch]?.word === (r.word ?? '') && form[r.batch]?.note === (r.note ?? '')
const kept = ref('')
const problem = ref('')
async function save(r: Schemas['RescueSample']) {
  problem.value = ''
  try {
    await api.PUT('/api/v1/trials/{trial_id}/rescues/{batch_id}/word', {
      params: { path: { trial_id: props.trial.id, batch_id: r.batch } },
      body: form[r.batch]!,
    })
    kept.value = r.batch
    emit('said')
  } catch (error) {
    problem.value = say(error)
  }
}
</script>

<template>
  <section class="rescues" aria-label="What was rescued">
    <h2>What was rescued</h2>
    <p class="soft small">
      A finish given to a batch makes a sample of its own. Its word stands beside its way’s and goes on to
      nothing: to try it as a way, add one.
    </p>
    <form v-for="r in rescues" :key="r.batch" class="row" @submit.prevent="save(r)">
      <LoafMark v-if="way(r)" :mark="way(r)!.mark" :size="26" /><span class="what"
        >{{ way(r)?.name }}: {{ r.finish }}</span
      ><el-select
        v-model="form[r.batch]!.word"
        class="word"
        clearable
        :value-on-clear="''"
        placeholder="a word"
        :aria-label="`Word for ${way(r)?.name}, ${r.finish}`"
        ><el-option v-for="w in ladder()" :key="w" :value="w" :label="w" /></el-select
      ><el-input
        v-model="form[r.batch]!.note"
        class="note"
        maxlength="300"
        placeholder="one note"
        :aria-label="`Note on ${way(r)?.name}, ${r.finish}`"
      /><button class="act" :disabled="same(r)" :aria-label="`Save for ${way(r)?.name}, ${r.finish}`">
        Save</button
      ><span v-if="kept === r.batch && same(r)" class="soft small" role="status">kept</span>
    </form>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.rescues {
  margin-top: var(--gap-4);
}
.what {
  min-width: 220px;
}
.word {
  width: 190px;
}
.note {
  width: 240px;
}
</style>
