<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, type Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useSession } from '../../session'
import { useScales } from '../useScales'
import { useTrial } from '../useTrial'
import Dots from './Dots.vue'
import FiveClocks from './FiveClocks.vue'
import QuestionPicture from './QuestionPicture.vue'

const id = String(useRoute().params.trial)
const session = useSession()
const { trial } = useTrial(id)
const { data } = useQuery({
  queryKey: ['decision', id],
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/decision', { params: { path: { trial_id: id } } })).data!,
  refetchInterval: (q) => (q.state.data?.state === 'working' ? 1000 : false),
})
const school = ref<Schemas['School']>('weighted_score')
const { data: schools } = useQuery({
  queryKey: ['schools'],
  staleTime: Infinity,
  queryFn: async () => (await api.GET('/api/v1/schools')).data!.items,
})
const axis = computed(() => schools.value?.find((s) => s.key === school.value)?.axis ?? '')
const outcome = computed(() => data.value?.outcome ?? null)
const verdict = computed(() => outcome.value?.verdicts[school.value] ?? null)
const said = computed(() => outcome.value?.answer ?? null)
/** The trial's own question stands in front; a school that was picked besides is told beneath it. */
const leader = computed(() => trial.value?.methods.find((m) => m.id === said.value?.leader) ?? null)
const sentences = computed(() => said.value?.sentences ?? [])
/** How likely a leader is the best is the answer only where that was the question. */
const ASKS_WHICH: Schemas['Asks'][] = ['best', 'varieties', 'branch']
const likely = computed(() =>
  said.value &&
  ASKS_WHICH.includes(said.value.question) &&
  verdict.value?.likely &&
  leader.value?.id === verdict.value.leader
    ? verdict.value.likely
    : '',
)
const otherSchool = computed(() =>
  said.value &&
  ASKS_WHICH.includes(said.value.question) &&
  verdict.value &&
  said.value &&
  verdict.value.leader !== said.value.leader
    ? verdict.value.headline
    : '',
)
const methods = computed(() => trial.value?.methods ?? [])
const day = (at: number) =>
  new Date(at * 1000).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
const of = (m: string) => outcome.value?.methods.find((x) => x.method === m)
const longest = computed(() =>
  Math.max(1, ...(outcome.value?.methods.map((m) => m.servings?.total_s ?? 0) ?? [])),
)
const { scaleOf } = useScales()
const range = (key: Schemas['Scale']): [number, number] => {
  const scale = scaleOf(key)
  return [scale?.low ?? 0, scale?.high ?? Math.max(2, methods.value.length)]
}
/** What the numbers of a question mean, under its name. */
function means(a: Schemas['Attribute']): string {
  const scale = scaleOf(a.scale)
  if (!scale) return ''
  if (scale.ends) return a.high_is_better ? (a.high_words ?? '') : `${a.low_words} (0 is wanted)`
  return scale.low_is_best ? 'order, 1 is best' : scale.name.toLowerCase()
}
const percent = (v: number | undefined | null) =>
  v === undefined || v === null ? '—' : v > 0.995 && v < 1 ? '> 99 %' : `${Math.round(v * 100)} %`
const often = (p: number | undefined) =>
  p === undefined ? '' : p < 0.05 ? 'hardly' : `about ${Math.min(9, Math.round(10 * p))} in 10`
const notes = (m: string) => [
  ...(of(m)?.notes ?? []).slice(-2),
  ...(outcome.value?.comments
    .filter((c) => c.method === m)
    .slice(0, 1)
    .map((c) => `“${c.text}”`) ?? []),
]
const asRows = computed(() => methods.value.length > 6)
</script>

<template>
  <main v-if="trial" class="page decide">
    <section class="say verdict">
      <LoafMark v-if="leader" :mark="leader.mark" :size="58" />
      <div class="grow">
        <h1>
          {{
            said?.headline ??
            (!data || data.state === 'working' ? 'Working it out …' : 'Nothing to decide yet.')
          }}
        </h1>
        <p v-for="s in sentences.slice(0, 2)" :key="s.text">
          {{ s.text }} <span class="soft small">{{ s.stands_on }}</span>
        </p>
      </div>
      <div v-if="likely && leader && verdict?.how_sure !== 'not comparable'" class="share">
        <strong class="mono">{{ likely }}</strong><span class="small soft"
          >about: how likely {{ leader.name }} really is the best<template v-if="outcome?.batch_sd"
            >; batches spread by {{ outcome.batch_sd.toFixed(1) }} points here</template
          ></span
        >
      </div>
    </section>
    <section v-if="outcome?.reread" class="warn stack">
      <p>
        <strong>A new reading of the same answers.</strong> After the codes were opened the questions were
        changed: {{ outcome.reread.changed.join('; ') }}. The verdict above stands on the questions as they
        were asked.
      </p>
      <p>Read so it would be: {{ outcome.reread.verdicts[school]?.headline }}</p>
    </section>
    <QuestionPicture v-if="said?.picture" :picture="said.picture" />
    <section v-if="outcome?.beside.length || outcome?.scope" class="stack">
      <p v-if="outcome.scope" class="small soft">
        The answer above stands on one round: {{ outcome.scope }}.
      </p>
      <p v-for="b in outcome.beside" :key="b.name" :class="{ warn: b.turns }">
        <strong>{{ b.name }}:</strong> {{ b.headline
        }}<template v-if="b.turns">. Here the order turns.</template>
      </p>
    </section>
    <p v-if="otherSchool" class="small">
      By {{ schools?.find((k) => k.key === school)?.name }} it would be: {{ otherSchool }}
    </p>
    <p v-if="data?.state === 'working' && outcome" class="soft small">
      Records changed; a new verdict is being worked out.
    </p>
    <div class="row judged">
      <span class="soft">judged by</span
      ><button
        v-for="k in schools"
        :key="k.key"
        class="act"
        :class="school === k.key ? 'strong' : 'quiet'"
        :aria-pressed="school === k.key"
        @click="school = k.key"
      >
        {{ k.name }}
      </button>
      <span class="grow" /><a class="act quiet" :href="`/api/v1/trials/${id}/archive`">Archive of the trial</a
      ><a class="act quiet" :href="`/api/v1/trials/${id}/tables/answer.csv`">Answers, CSV</a
      ><a class="act quiet" :href="`/api/v1/trials/${id}/tables/entry.csv`">Log, CSV</a>
    </div>
    <div
      v-if="outcome"
      class="scroll"
      role="region"
      tabindex="0"
      aria-label="Methods side by side, scrolls sideways"
    >
      <table class="grid" :class="{ flip: asRows }">
        <thead>
          <tr>
            <td />
            <th v-for="m in methods" :key="m.id" scope="col">
              <span class="row nowrap"
                ><LoafMark :mark="m.mark" :size="34" /><span
                  ><strong>{{ m.tag }}</strong
                  ><br /><span class="small soft">{{ m.name }}</span></span
                ></span
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in outcome.attributes" :key="a.key">
            <th scope="row">
              {{ a.name
              }}<small
                >{{ means(a) }} ·
                {{ scaleOf(a.scale)?.weighs === false ? 'counted, not scored' : `weight ${a.weight}` }}</small
              >
            </th>
            <td v-for="m in methods" :key="m.id">
              <Dots
                :values="
                  outcome.dots.filter((d) => d.method === m.id && d.attribute === a.key).map((d) => d.value)
                "
                :mean="outcome.means[a.key]?.[m.id] ?? null"
                :range="range(a.scale)"
                :colour="m.mark.colour"
              />
              <span v-if="outcome.counted?.[a.key]?.[m.id]" class="small">{{
                outcome.counted?.[a.key]?.[m.id]
              }}</span>
            </td>
          </tr>
          <tr>
            <th scope="row">
              Score<small>{{ axis }}</small>
            </th>
            <td v-for="m in methods" :key="m.id" class="mono figure">
              {{ verdict?.scores[m.id]?.toFixed(1) ?? '—' }}
            </td>
          </tr>
          <tr>
            <th scope="row">
              Five clocks<small
                >for {{ outcome.pieces }}: hands · come-up · cook · wait · wash-up.
                {{
                  trial.done_rule === 'by_clock'
                    ? 'The clock ended each: time was held.'
                    : trial.done_rule === 'until_match'
                      ? `Ended when it matched ${trial.matches || 'a sample'}: time is a result.`
                      : 'The state ended each: time is a result.'
                }}</small
              >
            </th>
            <td v-for="m in methods" :key="m.id">
              <FiveClocks
                v-if="of(m.id)?.servings"
                :servings="of(m.id)!.servings!"
                :longest="longest"
                :colour="m.mark.colour"
              /><span v-else class="soft">not cooked</span>
            </td>
          </tr>
          <tr>
            <th scope="row">
              Energy, yield, cost<small>metered · cooked over raw · for {{ outcome.pieces }}</small>
            </th>
            <td v-for="m in methods" :key="m.id" class="mono small">
              {{
                of(m.id)?.servings?.energy_j != null
                  ? `${(of(m.id)!.servings!.energy_j! / 3.6e6).toFixed(2)} kWh`
                  : 'not metered'
              }}
              · {{ percent(of(m.id)?.cooked_yield) }}<br />{{
                of(m.id)?.servings?.cost != null
                  ? `${of(m.id)!.servings!.cost} ${session.state?.currency}`
                  : 'cost not known'
              }}
            </td>
          </tr>
          <tr>
            <th scope="row">Measured besides<small>losses, shrink, call-backs, nuisance</small></th>
            <td v-for="m in methods" :key="m.id" class="small">
              <p v-for="a in of(m.id)?.also" :key="a">{{ a }}</p>
            </td>
          </tr>
          <tr>
            <th scope="row">Said at the bench<small>cues, notes, tasters</small></th>
            <td v-for="m in methods" :key="m.id" class="small">
              <p v-for="n in notes(m.id)" :key="n">{{ n }}</p>
            </td>
          </tr>
          <tr>
            <th scope="row">
              Best in truth?<small>the chance of it, people and batches both counted</small>
            </th>
            <td v-for="m in methods" :key="m.id">
              <span class="barbox"
                ><i
                  :style="{
                    width: `${100 * (verdict?.shares[m.id] ?? 0)}%`,
                    background: m.mark.colour,
                  }"
              /></span>
              <span class="small">{{ often(verdict?.shares[m.id]) }}</span>
            </td>
          </tr>
          <tr>
            <th scope="row">Batches<small>judged, or kept and set aside</small></th>
            <td v-for="m in methods" :key="m.id" class="small">
              <p v-for="b in of(m.id)?.batches" :key="b.batch">
                {{ b.replicate }}<template v-if="b.served_at">, {{ day(b.served_at) }}</template
                >:
                <strong>{{
                  !b.complete && b.standing === 'judged' ? 'not finished' : b.standing
                }}</strong><template v-if="b.why">, {{ b.why }}</template
                ><template v-if="b.written_up">, written up afterwards</template
                ><template v-if="b.core_met === false">, core not on record</template>
              </p>
            </td>
          </tr>
          <tr v-if="outcome.rescues?.length">
            <th scope="row">Rescued<small>samples of their own, not the method’s result</small></th>
            <td v-for="m in methods" :key="m.id" class="small">
              <p v-for="r in outcome.rescues.filter((x) => x.method === m.id)" :key="r.batch">
                {{ r.finish }}:
                <template v-for="a in outcome.attributes" :key="a.key"
                  ><span v-if="r.means[a.key] !== undefined"
                    >{{ a.name.toLowerCase() }} <span class="mono">{{ r.means[a.key]!.toFixed(1) }}</span>
                  </span></template
                ><span v-if="!Object.keys(r.means).length" class="soft">not tasted</span>
              </p>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <section v-if="verdict" class="stand">
      <h2>What this stands on</h2>
      <ul>
        <li v-for="s in sentences" :key="s.text">
          {{ s.text }} <span class="soft small">{{ s.stands_on }}</span>
        </li>
        <li v-for="b in outcome?.blindness" :key="b">{{ b }}</li>
        <li v-for="s in outcome?.shifts_tell" :key="s">{{ s }}</li>
        <li v-for="g in outcome?.gaps" :key="g">Gap: {{ g }}</li>
      </ul>
      <template v-if="outcome?.choose_another.length"
        ><h2>Choose another when …</h2>
        <ul>
          <li v-for="c in outcome.choose_another" :key="c.method">
            <strong>{{ methods.find((m) => m.id === c.method)?.name }}</strong>: {{ c.when }}
          </li>
        </ul></template
      >
    </section>
  </main>
</template>

<style scoped>
.decide {
  max-width: 1260px;
}
.verdict {
  display: flex;
  gap: 18px;
  align-items: center;
  padding: 12px 18px;
  margin-bottom: 10px;
}
.share {
  text-align: right;
  width: 190px;
  display: grid;
  flex: none;
}
.share strong {
  font-size: 34px;
  line-height: 1.1;
}
.judged {
  margin-bottom: 8px;
}
.judged .act {
  min-height: 44px;
  padding: 6px 14px;
  font-size: 15px;
}
.scroll {
  overflow-x: auto;
}
.grid {
  border-collapse: collapse;
  width: 100%;
  min-width: 860px;
  table-layout: fixed;
}
.grid th,
.grid td {
  border-bottom: 1px solid var(--line);
  padding: 7px 10px;
  text-align: left;
  vertical-align: top;
}
.grid th + td,
.grid td + td,
.grid td + th,
.grid th + th {
  border-left: 1px solid var(--line);
}
.grid th[scope='row'] {
  width: 190px;
  padding-left: 0;
}
.grid thead td {
  width: 190px;
}
.grid small {
  display: block;
  font-weight: 400;
  color: var(--ink-soft);
  font-size: 14px;
}
.nowrap {
  flex-wrap: nowrap;
  gap: 8px;
}
.figure {
  font-size: 20px;
  font-weight: 700;
}
.barbox {
  display: block;
  height: 12px;
  background: var(--line);
  border-radius: 3px;
  overflow: hidden;
  margin: 4px 0;
}
.barbox i {
  display: block;
  height: 100%;
}
.stand {
  margin-top: 16px;
}
.stand ul {
  padding-left: 20px;
}
@media (max-width: 700px) {
  .verdict {
    flex-wrap: wrap;
  }
  .share {
    text-align: left;
    width: 100%;
  }
}
</style>
