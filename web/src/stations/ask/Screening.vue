<script setup lang="ts">
/**
 * A screening on one sheet: ways in by keyboard or paste, a word from the ladder each, the best few on to a
 * closer trial.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words as say, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'
import { sideWord } from '../../bench/dates'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const router = useRouter()
const { data: techniques } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const path = { params: { path: { trial_id: props.trial.id } } }
const ladder = computed(() => (props.trial.layout.words as string[] | undefined) ?? [])
const table = ref('')
const base = ref('oven')
const adding = ref(!props.trial.methods.length)
const rows = reactive(
  Object.fromEntries(
    props.trial.methods.map((m) => [m.id, { word: m.verdict_word, note: m.verdict_note }]),
  ) as Record<string, { word: string; note: string }>,
)
const changed = ref(false)
const here = ref(0)
const body = ref<HTMLElement>()
async function add() {
  if (
    await props.edit((_, headers) =>
      api.POST('/api/v1/trials/{trial_id}/ways', {
        ...path,
        headers,
        body: { table: table.value, base_technique: base.value },
      }),
    )
  ) {
    table.value = ''
    adding.value = false
  }
}
const save = async () => {
  if (
    await props.edit((_, headers) =>
      api.PUT('/api/v1/trials/{trial_id}/screening-verdicts', {
        ...path,
        headers,
        body: { items: Object.entries(rows).map(([method_id, r]) => ({ method_id, ...r })) },
      }),
    )
  ) {
    changed.value = false
    void look()
  }
}
async function onKey(e: KeyboardEvent, i: number) {
  const id = props.trial.methods[i]?.id
  if (!id) return
  const n = Number(e.key)
  if (n >= 1 && n <= ladder.value.length) {
    rows[id]!.word = ladder.value[n - 1]!
    changed.value = true
    here.value = Math.min(i + 1, props.trial.methods.length - 1)
  } else if (e.key === 'ArrowDown') here.value = Math.min(i + 1, props.trial.methods.length - 1)
  else if (e.key === 'ArrowUp') here.value = Math.max(i - 1, 0)
  else if (e.key === 'Backspace' || e.key === 'Delete') {
    rows[id]!.word = ''
    changed.value = true
  } else return
  e.preventDefault()
  await nextTick()
  body.value?.querySelectorAll<HTMLElement>('[data-row]')[here.value]?.focus()
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
const judged = computed(() => Object.values(rows).filter((r) => r.word).length)
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
    <form v-if="adding" class="stack" @submit.prevent="add">
      <label class="field"
        >One way a line: name, technique, note — parted by tabs (as pasted from a table) or
        semicolons<el-input
          v-model="table"
          name="ways"
          type="textarea"
          :rows="7"
          :placeholder="`Milk from the start; ${sideWord('Hob', 'Stovetop')}, boil; stirred often`"
      /></label>
      <div class="row">
        <label class="field"
          >Lines without a technique are<el-select v-model="base" aria-label="Technique for lines without one"
            ><el-option
              v-for="t in techniques"
              :key="t.key"
              :value="t.key"
              :label="t.name" /></el-select></label
        ><button class="act strong end" :disabled="!table.trim()">Add them</button>
      </div>
    </form>
    <p class="soft small">
      A key from <kbd class="key">1</kbd> to <kbd class="key">{{ ladder.length }}</kbd> gives the word and
      goes on, <kbd class="key">↑</kbd> <kbd class="key">↓</kbd> move:
      {{ ladder.map((w, i) => `${i + 1} ${w}`).join(' · ') }}. By the cook alone and not blind.
    </p>
    <ol ref="body" class="sheet">
      <li v-for="(m, i) in trial.methods" :key="m.id" :class="{ here: here === i }">
        <button
          type="button"
          data-row
          class="way"
          :aria-label="`${m.name}: ${rows[m.id]?.word || 'not judged'}`"
          @focus="here = i"
          @keydown="onKey($event, i)"
        >
          <LoafMark :mark="m.mark" :size="22" /><strong>{{ m.tag }}</strong
          ><span class="grow">{{ m.name }}</span>
        </button>
        <span class="words"
          ><button
            v-for="(w, n) in ladder"
            :key="w"
            type="button"
            :aria-pressed="rows[m.id]?.word === w"
            :title="w"
            @click="
              () => {
                rows[m.id]!.word = rows[m.id]!.word === w ? '' : w
                changed = true
              }
            "
          >
            {{ n + 1 }}
          </button></span
        >
        <span class="word">{{ rows[m.id]?.word }}</span>
        <input
          v-model="rows[m.id]!.note"
          class="note"
          placeholder="one note"
          :aria-label="`Note on ${m.name}`"
          @input="changed = true"
        />
      </li>
    </ol>
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
.sheet {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
.sheet li {
  display: grid;
  grid-template-columns: minmax(220px, 1.3fr) auto 150px minmax(140px, 1fr);
  gap: var(--gap-3);
  align-items: center;
  border-bottom: 1px solid var(--line);
}
.sheet li.here {
  background: var(--paper);
}
.way {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  min-height: 36px;
  padding: var(--gap-0) var(--gap-2);
  cursor: pointer;
}
.words {
  display: flex;
}
.words button {
  width: 34px;
  min-height: 34px;
  font: 400 var(--type-2) var(--mono);
  border: 1px solid var(--line-strong);
  border-left-width: 0;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}
.words button:first-child {
  border-left-width: 1px;
}
.words button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
.note {
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  font: inherit;
  font-size: var(--type-2);
  color: inherit;
  min-height: 34px;
  width: 100%;
}
.note:focus {
  border-bottom-color: var(--line-strong);
}
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
@media (max-width: 800px) {
  .sheet li {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-1);
    padding: var(--gap-2) 0;
  }
  .words button {
    flex: 1;
    min-height: 44px;
  }
  .word,
  .note {
    grid-column: 1 / -1;
    padding-left: var(--gap-2);
  }
}
</style>
