<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type Schemas } from '../../api/client'
import { useSession } from '../../session'
import AskWhy from './AskWhy.vue'
import BarredBatch from './BarredBatch.vue'
import HandedOver from './HandedOver.vue'
import KeyToPlate from './KeyToPlate.vue'
import NewTasting from './NewTasting.vue'
import NobodyPlates from './NobodyPlates.vue'
import OpenCodes from './OpenCodes.vue'
import PaperBallot from './PaperBallot.vue'
import SamePeople from './SamePeople.vue'
import SeatTable from './SeatTable.vue'
import TastingCard from './TastingCard.vue'
import { howFar } from './tastingWords'
import { useTastings } from './useTastings'
import NextStation from '../NextStation.vue'

type Tasting = Schemas['TastingView']
type Seat = Schemas['SeatView']
const id = String(useRoute().params.trial)
const session = useSession()
const { data, trial, run, problem } = useTastings(id)
const making = ref(false)
const of = (t: string, s: string) => ({ params: { path: { tasting_id: t, seat_id: s } } })
const at = (t: string) => ({ params: { path: { tasting_id: t } } })
const handed = ref<{ name: string; got: Schemas['HandedOver'] } | null>(null)
const newLink = (t: string, s: Seat) =>
  api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/hand-overs', of(t, s.id))
const handOver = (t: string, s: Seat) =>
  run(async () => {
    const { data } = await newLink(t, s)
    if (data) handed.value = { name: s.name, got: data }
  })
const printed = ref<{ name: string; qr: string; link: string }[]>([])
/** Links on paper: each is made anew, shown this once, and printed. */
async function printLinks(t: Tasting) {
  printed.value = []
  for (const s of t.seats.filter((x) => !x.finished && !x.revoked)) {
    const ok = await run(async () => {
      const { data } = await newLink(t.id, s)
      if (data) printed.value.push({ name: s.name, qr: data.qr, link: data.link })
    })
    if (!ok) return
  }
  await nextTick()
  window.print()
}
const ballot = ref<{ t: Tasting; s: Seat } | null>(null)
async function keepBallot(lines: Schemas['TypedLine'][]) {
  const b = ballot.value!
  const path = of(b.t.id, b.s.id)
  if (
    await run(() =>
      api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/ballots', { ...path, body: { lines } }),
    )
  )
    ballot.value = null
}
/** A table of answers: seat, round, code, question, answer, words. */
async function bringTable(t: Tasting, file: File) {
  const body = await file.text()
  await run(() =>
    api.POST('/api/v1/tastings/{tasting_id}/table', {
      ...at(t.id),
      body: body as never,
      bodySerializer: (text: unknown) => text as string,
      headers: { 'Content-Type': 'text/csv' },
    }),
  )
}
const revoke = (t: string, s: Seat) =>
  run(() => api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/revoke', of(t, s.id)))
const leave = (t: string, s: Seat) =>
  run(() => api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/leave', of(t, s.id)))
const serve = (t: Tasting) => run(() => api.POST('/api/v1/tastings/{tasting_id}/serve', at(t.id)))
const router = useRouter()
/** Who is alone tastes here: their own link, made anew, in this tab. */
const tasteNow = (t: Tasting, s: Seat) =>
  run(async () => {
    const { data } = await newLink(t.id, s)
    if (data) await router.push(new URL(data.link).pathname)
  })
const turnOver = (t: Tasting, cups: Schemas['CupRead'][]) =>
  run(() =>
    api.POST('/api/v1/tastings/{tasting_id}/turned-over', {
      ...at(t.id),
      body: { cups, though_unfinished: false },
    }),
  )
const opening = ref<Tasting | null>(null)
async function openCodes(though_unfinished: boolean) {
  const body = { though_unfinished }
  if (await run(() => api.POST('/api/v1/tastings/{tasting_id}/open', { ...at(opening.value!.id), body })))
    opening.value = null
}
const key = ref('')
const asking = ref<{ title: string; says: string; code: boolean; codes: string[]; act: Asked } | null>(null)
type Asked = (why: string, code: string) => Promise<unknown>
const askStop = (t: Tasting) =>
  (asking.value = {
    title: 'Stop everyone?',
    says:
      'Every taster’s page says at once to put everything aside. ' +
      'The seal is broken on record and nothing of this tasting is judged.',
    code: false,
    codes: [],
    act: (why) => api.POST('/api/v1/tastings/{tasting_id}/stop', { ...at(t.id), body: { why } }),
  })
const askSpoilt = (t: Tasting) =>
  (asking.value = {
    title: 'A sample was spoilt',
    says: 'Dropped, or its code swapped: its answers are kept and not judged.',
    code: true,
    codes: t.rounds.flatMap((r) => r.codes),
    act: (why, code) =>
      api.POST('/api/v1/tastings/{tasting_id}/spoilt', { ...at(t.id), body: { why, code } }),
  })
const askLate = (t: Tasting) =>
  (asking.value = {
    title: 'Somebody comes late',
    says: 'A seat and an order of their own; the balance is worked out again.',
    code: false,
    codes: [],
    act: (name) =>
      api.POST('/api/v1/tastings/{tasting_id}/seats', { ...at(t.id), body: { person_id: null, name } }),
  })
async function answered(why: string, code: string) {
  if (await run(() => asking.value!.act(why, code))) asking.value = null
}
const unchecked = computed(
  () => trial.value?.ingredients.filter((i) => !i.allergens_checked).map((i) => i.name) ?? [],
)
const sentence = computed(() => howFar(data.value?.items[0]))
const OWNING =
  'What is not known counts as not met. If you know better, say how in a sentence: ' +
  'it is kept with your name and the time. Local food-safety rules come first.'
const owning = ref<{ id: string; words: string } | null>(null)
async function own(why: string) {
  const path = { params: { path: { batch_id: owning.value!.id } } }
  if (await run(() => api.POST('/api/v1/batches/{batch_id}/ownerships', { ...path, body: { why } })))
    owning.value = null
}
const barred = computed(() => data.value?.candidates.filter((c) => !c.may && !c.later) ?? [])
const owned = computed(() => data.value?.candidates.filter((c) => c.owned) ?? [])
const chosen = computed(() => data.value?.candidates.filter((c) => c.may || c.later) ?? [])
</script>

<template>
  <main class="page">
    <section class="say no-print">
      <h1>{{ sentence }}</h1>
      <NextStation v-if="data?.items[0]?.opened_at" :trial="id" to="decide" />
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row no-print">
      <h2 class="grow">Tastings</h2>
      <button class="act strong" :disabled="chosen.length < 2" @click="making = true">New tasting</button>
    </div>
    <p v-if="data && chosen.length < 2" class="soft no-print">
      A tasting needs two batches: finished ones that may be eaten, or planned ones that it is laid ready for.
    </p>
    <SamePeople v-if="session.lead && data?.same_person.length" :pairs="data.same_person" :run="run" />
    <details v-if="barred.length" :open="!data?.items.length" class="no-print">
      <summary>
        {{ barred.length }} {{ barred.length === 1 ? 'batch is' : 'batches are' }} not for tasting
      </summary>
      <ul class="barred">
        <BarredBatch
          v-for="c in barred"
          :key="c.batch_id"
          :batch="c"
          :lead="session.lead"
          :run="run"
          @own="owning = { id: c.batch_id, words: c.words }"
        />
      </ul>
    </details>
    <ul v-if="owned.length" class="barred no-print">
      <li v-for="c in owned" :key="`o${c.batch_id}`" class="small">
        {{ c.words }}: let through by the lead, “{{ c.owned }}”
      </li>
    </ul>
    <TastingCard
      v-for="t in data?.items"
      :key="t.id"
      :tasting="t"
      :lead="session.lead"
      @key="key = t.id"
      @serve="serve(t)"
      @open="opening = t"
      @print="printLinks(t)"
      @stop="askStop(t)"
      @late="askLate(t)"
      @spoilt="askSpoilt(t)"
      @table="(file) => bringTable(t, file)"
    >
      <NobodyPlates
        v-if="t.protocol !== 'plated' && !t.opened_at && !t.stopped"
        :tasting="t"
        :problem="problem"
        @taste="(seat) => tasteNow(t, seat)"
        @over="(cups) => turnOver(t, cups)"
      />
      <SeatTable
        :tasting="t"
        :lead="session.lead"
        @hand="(s) => handOver(t.id, s)"
        @revoke="(s) => revoke(t.id, s)"
        @leave="(s) => leave(t.id, s)"
        @ballot="(s) => (ballot = { t, s })"
      />
    </TastingCard>
    <el-dialog v-model="making" title="A new tasting" width="720" top="4vh">
      <NewTasting
        v-if="making && data"
        :trial="id"
        :list="data"
        :attributes="trial?.attributes ?? []"
        :unchecked="unchecked"
        :run="run"
        :problem="problem"
        @close="making = false"
      />
    </el-dialog>
    <HandedOver v-if="handed" :name="handed.name" :got="handed.got" @close="handed = null" />
    <el-dialog
      :model-value="!!ballot"
      :title="`Paper ballot of ${ballot?.s.name}`"
      width="720"
      @close="ballot = null"
    >
      <PaperBallot v-if="ballot" :seat="ballot.s" :rounds="ballot.t.rounds" @save="keepBallot" />
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    </el-dialog>
    <AskWhy
      v-if="owning"
      :title="`Let through: ${owning.words}`"
      :says="OWNING"
      label="How you know"
      hint="Read with a second probe: 78 °C, on the paper sheet"
      act="Own it"
      :problem="problem"
      @why="own"
      @close="owning = null"
    />
    <AskWhy
      v-if="asking"
      :title="asking.title"
      :says="asking.says"
      :label="asking.title === 'Somebody comes late' ? 'Name' : 'Why'"
      :codes="asking.codes"
      :act="asking.title === 'Somebody comes late' ? 'Give them a seat' : 'Do it'"
      :problem="problem"
      @why="answered"
      @close="asking = null"
    />
    <section class="print-only">
      <figure v-for="l in printed" :key="l.link">
        <img :src="l.qr" :alt="`QR of the link for ${l.name}`" width="130" />
        <figcaption>{{ l.name }}<br />{{ l.link }}</figcaption>
      </figure>
    </section>
    <OpenCodes v-if="opening" :tasting="opening" @open="openCodes" @close="opening = null" />
    <KeyToPlate v-if="key" :tasting="key" :lead="session.lead" :run="run" @close="key = ''" />
  </main>
</template>

<style scoped>
.barred {
  margin: var(--gap-2) 0 var(--gap-4);
  padding-left: var(--gap-5);
}
.print-only {
  display: none;
}
@media print {
  .no-print {
    display: none !important;
  }
  .print-only {
    display: block;
  }
}
</style>
