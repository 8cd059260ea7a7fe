<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'
import { useSession } from '../../session'
import BarredBatch from './BarredBatch.vue'
import PaperBallot from './PaperBallot.vue'

const id = String(useRoute().params.trial)
const session = useSession()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['tastings', id],
  refetchInterval: 5000,
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/tastings', { params: { path: { trial_id: id } } })).data!,
})
const again = () => {
  void client.invalidateQueries({ queryKey: ['tastings', id] })
  void client.invalidateQueries({ queryKey: ['stations', id] })
}
const problem = ref('')
const making = ref(false)
const form = reactive({ name: '', part: '', age: '', tasters: '', also: '', batches: [] as string[] })
function begin() {
  form.batches = data.value?.candidates.filter((c) => c.may).map((c) => c.batch_id) ?? []
  making.value = true
}
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    again()
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
/** "cracker: gluten", one a line; without a colon nobody has checked it, with “none” somebody has. */
const servedWith = (text: string) =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => {
      const [what, rest] = l.includes(':')
        ? [l.slice(0, l.indexOf(':')), l.slice(l.indexOf(':') + 1)]
        : [l, '']
      const named = rest
        .split(',')
        .map((a) => a.trim().toLowerCase())
        .filter(Boolean)
      return { what: what.trim(), allergens: named.filter((a) => a !== 'none'), checked: named.length > 0 }
    })
async function make() {
  const ok = await run(() =>
    api.POST('/api/v1/trials/{trial_id}/tastings', {
      params: { path: { trial_id: id } },
      body: {
        name: form.name,
        part: form.part,
        age: form.age,
        batches: form.batches,
        served_with: servedWith(form.also),
        tasters: form.tasters
          .split(/[\n,;]/)
          .map((t) => t.trim())
          .filter(Boolean),
      },
    }),
  )
  if (ok) making.value = false
}
const handed = ref<{ name: string; got: Schemas['HandedOver'] } | null>(null)
const handOver = (t: string, s: Schemas['SeatView']) =>
  run(async () => {
    const { data } = await api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/hand-overs', {
      params: { path: { tasting_id: t, seat_id: s.id } },
    })
    if (data) handed.value = { name: s.name, got: data }
  })
const printed = ref<{ name: string; qr: string; link: string }[]>([])
/** Links on paper: each is made anew, shown this once, and printed. */
async function printLinks(t: Schemas['TastingView']) {
  printed.value = []
  for (const s of t.seats.filter((x) => !x.finished)) {
    const ok = await run(async () => {
      const { data } = await api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/hand-overs', {
        params: { path: { tasting_id: t.id, seat_id: s.id } },
      })
      if (data) printed.value.push({ name: s.name, qr: data.qr, link: data.link })
    })
    if (!ok) return
  }
  await nextTick()
  window.print()
}
const ballot = ref<{ t: string; s: Schemas['SeatView'] } | null>(null)
const { data: trial } = useQuery({
  queryKey: ['trial', id],
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}', { params: { path: { trial_id: id } } })).data ?? null,
})
async function keepBallot(answers: Schemas['TypedAnswer'][]) {
  const b = ballot.value
  if (
    b &&
    (await run(() =>
      api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/ballots', {
        params: { path: { tasting_id: b.t, seat_id: b.s.id } },
        body: { answers },
      }),
    ))
  )
    ballot.value = null
}
const revoke = (t: string, s: string) =>
  run(() =>
    api.POST('/api/v1/tastings/{tasting_id}/seats/{seat_id}/revoke', {
      params: { path: { tasting_id: t, seat_id: s } },
    }),
  )
const opening = ref<Schemas['TastingView'] | null>(null)
const unfinished = computed(
  () => opening.value?.seats.filter((s) => !s.finished && !s.revoked).map((s) => s.name) ?? [],
)
async function openCodes() {
  const t = opening.value
  if (
    t &&
    (await run(() =>
      api.POST('/api/v1/tastings/{tasting_id}/open', {
        params: { path: { tasting_id: t.id } },
        body: { though_unfinished: unfinished.value.length > 0 },
      }),
    ))
  )
    opening.value = null
}
const key = reactive({ tasting: '', why: 'to plate', shown: {} as Record<string, string> })
async function viewKey() {
  await run(async () => {
    const { data } = await api.POST('/api/v1/tastings/{tasting_id}/key-views', {
      params: { path: { tasting_id: key.tasting } },
      body: { why: key.why },
    })
    key.shown = data?.key ?? {}
  })
}
const sentence = computed(() => {
  const t = data.value?.items[0]
  if (!t) return 'Nothing tasted yet. Codes hide which is which, and every taster gets an order of their own.'
  if (t.opened_at) return `Codes of “${t.name}” were opened; answers are closed and the verdict is at Decide.`
  const done = t.seats.filter((s) => s.finished).length
  const said = 'Answers stay closed to everyone until the codes are opened.'
  return `${done} of ${t.seats.length} tasters are done. ${said}`
})
const owning = ref<{ id: string; words: string; why: string } | null>(null)
async function own() {
  const o = owning.value
  if (
    o &&
    (await run(() =>
      api.POST('/api/v1/batches/{batch_id}/ownerships', {
        params: { path: { batch_id: o.id } },
        body: { why: o.why },
      }),
    ))
  )
    owning.value = null
}
const barred = computed(() => data.value?.candidates.filter((c) => !c.may) ?? [])
const may = computed(() => data.value?.candidates.filter((c) => c.may) ?? [])
</script>

<template>
  <main class="page">
    <section class="say no-print">
      <h1>{{ sentence }}</h1>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div class="row no-print">
      <h2 class="grow">Tastings</h2>
      <button class="act strong" :disabled="may.length < 2" @click="begin">New tasting</button>
    </div>
    <p v-if="data && may.length < 2" class="soft no-print">
      A tasting needs two finished batches that may be eaten.
    </p>
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
          @own="owning = { id: c.batch_id, words: c.words, why: '' }"
        />
      </ul>
    </details>
    <ul v-if="data?.candidates.some((c) => c.owned)" class="barred no-print">
      <li v-for="c in data.candidates.filter((x) => x.owned)" :key="`o${c.batch_id}`" class="small">
        {{ c.words }}: let through by the lead, “{{ c.owned }}”
      </li>
    </ul>
    <section v-for="t in data?.items" :key="t.id" class="tasting">
      <div class="row">
        <h3 class="grow">
          {{ t.name }}&ensp;<span class="soft">{{ [t.part, t.age].filter(Boolean).join(' · ') }}</span>
        </h3>
        <template v-if="!t.opened_at && session.lead"
          ><button
            class="act quiet no-print"
            @click="
              () => {
                key.tasting = t.id
                key.shown = {}
              }
            "
          >
            Key, to plate</button
          ><button class="act no-print" @click="opening = t">Open the codes</button></template
        >
        <button v-if="!t.opened_at" class="act quiet no-print" @click="printLinks(t)">Print links</button>
      </div>
      <p v-if="t.opened_elsewhere" class="warn no-print">
        Its codes were opened in another kitchen. Here its answers count once the lead has opened them here
        too.
      </p>
      <p v-for="c in t.clock" :key="c" class="warn no-print">{{ c }}</p>
      <p v-if="t.link_warning && !t.opened_at" class="warn no-print">{{ t.link_warning }}</p>
      <p v-if="t.opened_at" class="mono small">
        {{
          Object.entries(t.key)
            .map(([c, m]) => `${c} = ${m}`)
            .join('   ')
        }}
      </p>
      <p v-else class="mono">{{ t.codes.join('  ') }}</p>
      <p class="soft small">{{ t.balance }}</p>
      <table class="plain">
        <tbody>
          <tr v-for="s in t.seats" :key="s.id">
            <td>
              <strong>{{ s.name }}</strong>
            </td>
            <td class="mono small">{{ s.order.join(' → ') }}</td>
            <td>
              {{
                s.finished
                  ? 'done'
                  : s.answered_samples
                    ? `${s.answered_samples} of ${t.codes.length} begun`
                    : 'not begun'
              }}
            </td>
            <td class="no-print acts">
              <template v-if="!t.opened_at"
                ><button class="act quiet" @click="handOver(t.id, s)">Hand the link over</button
                ><button class="act quiet" @click="revoke(t.id, s.id)">Make its link void</button
                ><button v-if="session.lead" class="act quiet" @click="ballot = { t: t.id, s }">
                  Paper ballot
                </button></template
              >
              <span v-for="a in s.acts" :key="a" class="soft small block">{{ a }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-for="v in t.key_views" :key="v" class="soft small">Key looked at {{ v }}</p>
    </section>
    <el-dialog v-model="making" title="A new tasting" width="620">
      <form class="stack" @submit.prevent="make">
        <label class="field">Name<el-input v-model="form.name" placeholder="Plain, at the table" /></label>
        <div class="row">
          <label class="field grow"
            >Part<el-input v-model="form.part" placeholder="whole, crust, crumb, with sauce" /></label
          ><label class="field grow"
            >Age when tasted<el-input v-model="form.age" placeholder="10 min after plating"
          /></label>
        </div>
        <label class="field"
          >Tasters, one a line<el-input v-model="form.tasters" name="tasters" type="textarea" :rows="4"
        /></label>
        <el-checkbox-group v-model="form.batches"
          ><el-checkbox
            v-for="c in data?.candidates"
            :key="c.batch_id"
            :value="c.batch_id"
            :disabled="!c.may"
            >{{ c.words }}</el-checkbox
          ></el-checkbox-group
        >
        <label class="field"
          >Served with, one a line, with its allergens<el-input
            v-model="form.also"
            name="served-with"
            type="textarea"
            :rows="2"
            placeholder="cracker: gluten&#10;water: none"
        /></label>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div class="row">
          <button class="act strong">Deal codes and orders</button
          ><button type="button" class="act quiet" @click="making = false">Not now</button>
        </div>
      </form>
    </el-dialog>
    <el-dialog :model-value="!!handed" :title="handed?.name" width="440" @close="handed = null">
      <template v-if="handed"
        ><p>Shown this once: hand it over now. A link made before is void.</p>
        <p v-if="handed.got.warning" class="warn">{{ handed.got.warning }}</p>
        <img class="qr" :src="handed.got.qr" alt="QR of this taster’s link" />
        <p class="small link">
          <a :href="handed.got.link">{{ handed.got.link }}</a>
        </p></template
      >
    </el-dialog>
    <el-dialog
      :model-value="!!ballot"
      :title="`Paper ballot of ${ballot?.s.name}`"
      width="720"
      @close="ballot = null"
    >
      <PaperBallot
        v-if="ballot && trial"
        :seat="ballot.s"
        :attributes="trial.attributes"
        @save="keepBallot"
      />
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    </el-dialog>
    <section class="print-only">
      <figure v-for="l in printed" :key="l.link">
        <img :src="l.qr" :alt="`QR of the link for ${l.name}`" width="130" />
        <figcaption>{{ l.name }}<br />{{ l.link }}</figcaption>
      </figure>
    </section>
    <el-dialog
      :model-value="!!owning"
      :title="`Let through: ${owning?.words}`"
      width="520"
      @close="owning = null"
      ><form v-if="owning" class="stack" @submit.prevent="own">
        <p>
          What is not known counts as not met. If you know better, say how in a sentence: it is kept with your
          name and the time. Local food-safety rules come first.
        </p>
        <label class="field"
          >How you know<el-input
            v-model="owning.why"
            name="own-why"
            type="textarea"
            :rows="2"
            placeholder="Read with a second probe: 78 °C, on the paper sheet"
        /></label>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div><button class="act strong">Own it</button></div>
      </form></el-dialog
    >
    <el-dialog :model-value="!!opening" title="Open the codes?" width="460" @close="opening = null"
      ><p v-if="unfinished.length" class="warn">
        {{ unfinished.join(', ') }} {{ unfinished.length === 1 ? 'has' : 'have' }} not finished. After the
        opening nothing more is taken.
      </p>
      <p>Answers close for good, and everyone sees which code was which.</p>
      <div class="row acts2">
        <button class="act strong" @click="openCodes">
          {{ unfinished.length ? 'Open them all the same' : 'Open them' }}</button><button
          class="act quiet"
          @click="opening = null"
        >
          Not yet
        </button>
      </div></el-dialog
    >
    <el-dialog
      :model-value="!!key.tasting"
      title="Look at the key before the codes are opened"
      width="520"
      @close="key.tasting = ''"
    >
      <form class="stack" @submit.prevent="viewKey">
        <p>Whoever plates needs it; whoever tastes must not see it. Your look is recorded with your name.</p>
        <label class="field">Why<el-input v-model="key.why" /></label>
        <div><button class="act strong">Show the key</button></div>
        <p v-for="(m, c) in key.shown" :key="c" class="mono">{{ c }} = {{ m }}</p>
      </form>
    </el-dialog>
  </main>
</template>

<style scoped>
.tasting {
  border-top: 2px solid var(--ink);
  padding: 12px 0 20px;
  display: grid;
  gap: 8px;
}
.barred {
  margin: 6px 0 14px;
  padding-left: 20px;
}
.acts {
  white-space: nowrap;
}
.block {
  display: block;
}
.acts2 {
  margin-top: 14px;
}
.qr {
  width: 100%;
  max-width: 340px;
  display: block;
  margin: 0 auto;
  background: #fff;
}
.link {
  overflow-wrap: anywhere;
  margin-top: 10px;
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
@media (max-width: 700px) {
  .acts {
    white-space: normal;
  }
}
</style>
