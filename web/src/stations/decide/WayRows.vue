<script setup lang="ts">
/** Many ways in rows: what each came to, best first or as one sorts them. */
import { computed, ref } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import KeptPhoto from '../cook/KeptPhoto.vue'
import { oftenSaid } from './often'
import { figure } from './figure'

const props = defineProps<{
  trial: Trial
  outcome: Schemas['Outcome']
  verdict: Schemas['Verdict'] | null
  axis: string
}>()
/** Best first as the question has it; of a screening by its words. */
const listed = computed(() =>
  props.outcome.answer.picture?.shape === 'list' ? (props.outcome.answer.picture.marks ?? []) : [],
)
const sort = ref(listed.value.length ? 'word' : 'score')
const find = ref('')
/** Shown beside the score where anything of them was measured. */
const BESIDE = ['total_s', 'hands_s', 'energy_j', 'cooked_yield']
const beside = computed(() => props.outcome.measures.filter((m) => BESIDE.includes(m.key)))
const mean = (v: number[] | undefined) => (v?.length ? v.reduce((a, b) => a + b, 0) / v.length : Infinity)
const rows = computed(() =>
  props.trial.methods.map((m, n) => ({
    m,
    n,
    place: listed.value.findIndex((x) => x.label === m.name),
    kept: listed.value.some((x) => x.label === m.name && x.picked),
    score: props.verdict?.scores[m.id] ?? null,
    likely: props.verdict?.shares[m.id],
    measured: props.outcome.measures.length,
    batches: props.outcome.methods.find((x) => x.method === m.id)?.batches ?? [],
  })),
)
type Row = (typeof rows.value)[number]
const ORDERS: Record<string, (a: Row, b: Row) => number> = {
  score: (a, b) => (b.score ?? -1) - (a.score ?? -1),
  laid: () => 0,
  word: (a, b) => a.place - b.place,
  name: (a, b) => a.m.name.localeCompare(b.m.name),
}
const shown = computed(() => {
  const by =
    ORDERS[sort.value] ??
    ((a: Row, b: Row) => {
      const m = props.outcome.measures.find((x) => x.key === sort.value)
      return mean(m?.values[a.m.id]) - mean(m?.values[b.m.id])
    })
  const words = find.value.trim().toLowerCase()
  const said = (r: Row) => `${r.m.tag} ${r.m.name} ${r.m.verdict_word} ${r.m.verdict_note}`.toLowerCase()
  return rows.value.filter((r) => said(r).includes(words)).sort((a, b) => by(a, b) || a.n - b.n)
})
/** One photo a way, the newest of the face that most of them have: all on one crop. */
const face = computed(() => {
  const count: Record<string, number> = {}
  for (const m of props.outcome.methods)
    for (const f of new Set((m.photos ?? []).map((p) => p.face))) count[f] = (count[f] ?? 0) + 1
  return Object.entries(count).sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]))[0]?.[0]
})
const photo = (id: string) =>
  props.outcome.methods
    .find((m) => m.method === id)
    ?.photos?.filter((p) => p.face === face.value)
    .at(-1)
const rescued = (id: string) => (props.outcome.rescues ?? []).filter((r) => r.method === id && r.word)
const tasted = computed(() => rows.value.some((r) => r.score !== null))
const aside = (r: Row) => r.batches.filter((b) => !['judged', 'rescue'].includes(b.standing)).length
const finished = (r: Row) => r.batches.filter((b) => b.standing === 'rescue').length
const judged = (r: Row) => r.batches.filter((b) => b.standing === 'judged' && b.complete).length
function cooked(r: Row): string {
  const n = judged(r)
  if (n) return `${n} judged`
  return r.m.verdict_word ? 'not in the log' : 'not cooked'
}
</script>

<template>
  <section class="ways" :class="{ tasted, pictured: face !== undefined }">
    <div class="row no-print">
      <label class="row"
        >Sorted by<el-select v-model="sort" aria-label="Sorted by" class="by"
          ><el-option v-if="listed.length" value="word" label="word" /><el-option
            v-if="tasted"
            value="score"
            label="score" /><el-option
            v-for="m in beside"
            :key="m.key"
            :value="m.key"
            :label="m.name" /><el-option value="name" label="name" /><el-option
            value="laid"
            label="as laid out" /></el-select></label
      ><label class="row">Only with<el-input v-model="find" placeholder="a word" class="by" /></label
      ><span class="soft small"
        >{{ shown.length }} of {{ trial.methods.length
        }}<template v-if="tasted"> · score: {{ axis }}</template></span
      >
    </div>
    <ul>
      <li v-for="r in shown" :key="r.m.id" :class="{ kept: r.kept }">
        <LoafMark :mark="r.m.mark" :size="26" />
        <span class="name"
          ><strong>{{ r.m.tag }}</strong> {{ r.m.name
          }}<span v-if="r.m.verdict_word" class="soft small block"
            >{{ r.m.verdict_word
            }}<template v-if="r.m.verdict_note"> · {{ r.m.verdict_note }}</template></span
          ><span v-for="x in rescued(r.m.id)" :key="x.batch" class="soft small block"
            >rescued by {{ x.finish }}: {{ x.word }}<template v-if="x.note"> · {{ x.note }}</template></span
          ></span
        >
        <span v-if="face !== undefined" class="seen"
          ><KeptPhoto
            v-if="photo(r.m.id)"
            :key="photo(r.m.id)!.photo"
            :trial="trial.id"
            :photo="photo(r.m.id)!.photo"
            :alt="`${r.m.name}, ${face || 'whole'}, batch ${photo(r.m.id)!.replicate}`"
            thumb
          /><span v-else class="soft small">no photo{{ face ? ` of its ${face}` : '' }}</span></span
        >
        <span v-if="tasted" class="score">
          <template v-if="r.score !== null"
            ><span class="track" aria-hidden="true"
              ><span
                class="fill"
                :style="{ width: `${10 * Math.min(10, r.score)}%`, background: r.m.mark.colour }" /></span
            ><span class="mono">{{ figure(r.score) }}</span></template
          ><span v-else class="soft small">not tasted</span>
        </span>
        <span class="small"
          ><span v-for="m in beside" :key="m.key" class="block"
            >{{ m.name }} {{ m.words[r.m.id] ?? 'not measured' }}</span
          ></span
        >
        <span class="small soft"
          >{{ oftenSaid(r.likely) && r.score !== null ? `best in truth: ${oftenSaid(r.likely)}` : ''
          }}<span class="block"
            >{{ cooked(r) }}{{ aside(r) ? `, ${aside(r)} set aside` : ''
            }}{{ finished(r) ? `, ${finished(r)} rescued` : '' }}</span
          ></span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
/* What goes on. */
.kept .name {
  font-weight: 700;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 30px minmax(160px, 2fr) minmax(150px, 1.4fr) minmax(110px, 1fr);
  gap: var(--gap-1) var(--gap-4);
  align-items: center;
  border-bottom: 1px solid var(--line);
  padding: var(--gap-2) 0;
}
@media (min-width: 701px) {
  .tasted li {
    grid-template-columns: 30px minmax(160px, 2fr) minmax(150px, 220px) minmax(150px, 1.4fr) minmax(
        110px,
        1fr
      );
  }
  .pictured li {
    grid-template-columns: 30px minmax(160px, 2fr) 84px minmax(150px, 1.4fr) minmax(110px, 1fr);
  }
  .tasted.pictured li {
    grid-template-columns:
      30px minmax(160px, 2fr) 84px minmax(150px, 220px) minmax(150px, 1.4fr)
      minmax(110px, 1fr);
  }
}
.seen :deep(img) {
  display: block;
  width: 84px;
  height: 63px;
  object-fit: cover;
  border-radius: 6px;
}
.by {
  width: 170px;
}
.block {
  display: block;
}
.score {
  display: grid;
  grid-template-columns: 1fr 36px;
  gap: var(--gap-2);
  align-items: center;
}
.track {
  height: 14px;
  background: var(--hatch-a);
  border-radius: 3px;
}
.fill {
  display: block;
  height: 100%;
  border-radius: 3px;
}
@media (max-width: 700px) {
  .ways li {
    grid-template-columns: 30px 1fr;
  }
  li > :nth-child(n + 3) {
    grid-column: 2;
  }
}
</style>
