<script setup lang="ts">
/**
 * A screening on one sheet: ways in by keyboard or paste, a word from the ladder each, the best few on to a
 * closer trial.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words as say, type Trial } from '../../api/client'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'
import PasteWays from './PasteWays.vue'
import ScreeningSheet, { type WayWords } from './ScreeningSheet.vue'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const router = useRouter()
const { data: techniques } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const path = { params: { path: { trial_id: props.trial.id } } }
const ladder = computed(() => (props.trial.layout.words as string[] | undefined) ?? [])
const adding = ref(!props.trial.methods.length)
const rows = ref<Record<string, WayWords>>(
  Object.fromEntries(props.trial.methods.map((m) => [m.id, { word: m.verdict_word, note: m.verdict_note }])),
)
const changed = ref(false)
const save = async () => {
  if (
    await props.edit((_, headers) =>
      api.PUT('/api/v1/trials/{trial_id}/screening-verdicts', {
        ...path,
        headers,
        body: { items: Object.entries(rows.value).map(([method_id, r]) => ({ method_id, ...r })) },
      }),
    )
  ) {
    changed.value = false
    void look()
  }
}
const few = ref(4)
const best = ref<{ method_ids: string[]; sentence: string } | null>(null)
const problem = ref('')
async function look() {
  best.value =
    (
      await api.GET('/api/v1/trials/{trial_id}/best-few', {
        params: { path: { trial_id: props.trial.id }, query: { few: few.value } },
      })
    ).data ?? null
}
void look()
async function closer() {
  const ids = best.value!.method_ids
  const only = ids.length === 1 ? props.trial.methods.find((m) => m.id === ids[0]) : undefined
  try {
    const { data } = await api.POST('/api/v1/trials/{trial_id}/copies', {
      ...path,
      body: {
        kind: 'side_by_side',
        title: `${props.trial.title}, ${only ? only.name : `the best ${ids.length}`}`,
        question: '',
        method_ids: ids,
      },
    })
    if (data) await router.push(`/trials/${data.id}/ask`)
  } catch (error) {
    problem.value = say(error)
  }
}
const judged = computed(() => Object.values(rows.value).filter((r) => r.word).length)
const words = ref(ladder.value.join(', '))
const saveWords = () =>
  props.edit((_, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/layout', {
      ...path,
      headers,
      body: {
        screening: {
          words: words.value
            .split(',')
            .map((w) => w.trim())
            .filter(Boolean),
        },
      },
    }),
  )
</script>

<template>
  <section class="stack">
    <div class="row">
      <h2 class="grow">{{ judged }} of {{ trial.methods.length }} judged</h2>
      <button class="act quiet" @click="adding = !adding">Add ways</button
      ><button class="act strong" :disabled="!changed" @click="save">Save the words</button>
    </div>
    <PasteWays
      v-if="adding"
      :trial="trial"
      :edit="edit"
      :techniques="techniques ?? []"
      @added="adding = false"
    />
    <ScreeningSheet v-model="rows" :trial="trial" :ladder="ladder" @changed="changed = true" />
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div v-if="best" class="row closer">
      <span class="grow">{{ best.sentence }}</span><label class="row"
        >Best
        <el-input-number
          v-model="few"
          :min="1"
          :max="12"
          :controls="false"
          class="n"
          aria-label="How many go on"
          @change="look" /></label
      ><button class="act strong" :disabled="!best.method_ids.length || changed" @click="closer">
        Closer trial with {{ best.method_ids.length === 1 ? 'this one' : `these ${best.method_ids.length}` }}
      </button>
    </div>
    <form class="row" @submit.prevent="saveWords">
      <label class="field grow">The ladder of words, worst first<el-input v-model="words" /></label
      ><button class="act quiet end">Save the ladder</button>
    </form>
  </section>
</template>

<style scoped>
.end {
  align-self: end;
}
.n {
  width: 70px;
}
.closer {
  border-top: 2px solid var(--ink);
  padding-top: var(--gap-3);
}
</style>
