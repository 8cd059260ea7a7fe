<script setup lang="ts">
/** A few ways side by side: what people said, what it took, what was noted. */
import { computed } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useScales } from '../useScales'
import Dots from './Dots.vue'
import FiveClocks from './FiveClocks.vue'
import { oftenSaid } from './often'
import { figure } from './figure'
import { clock, shortDay } from '../../bench/dates'

const props = defineProps<{
  trial: Trial
  outcome: Schemas['Outcome']
  verdict: Schemas['Verdict'] | null
  axis: string
}>()
const methods = computed(() => props.trial.methods)
/** Of one person's answers there is none. */
const chances = computed(() => Object.keys(props.verdict?.shares ?? {}).length > 0)
const tasted = computed(() => Object.keys(props.verdict?.scores ?? {}).length > 0)
const of = (m: string) => props.outcome.methods.find((x) => x.method === m)
const longest = computed(() =>
  Math.max(1, ...(props.outcome.methods.map((m) => m.servings?.total_s ?? 0) ?? [])),
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
const notes = (m: string) => [
  ...(of(m)?.notes ?? []).slice(-2),
  ...(props.outcome.comments
    .filter((c) => c.method === m)
    .slice(0, 1)
    .map((c) => `“${c.text}”`) ?? []),
]
const dots = (m: string, a: string) =>
  props.outcome.dots.filter((d) => d.method === m && d.attribute === a).map((d) => d.value)
const rescues = (m: string) => props.outcome.rescues.filter((r) => r.method === m)
type Told = Schemas['MethodOutcome']['batches'][number]
/** When a batch was served: by its time too where another of one number was served on that day. */
function served(b: Told, all: Told[] = []): string {
  const day = shortDay(b.served_at)
  const alike = all.filter((o) => o.replicate === b.replicate && shortDay(o.served_at) === day)
  return alike.length > 1 ? `${day}, ${clock(b.served_at)}` : day
}
/** What ended the cooking of each, and what the time is then. */
const ended = computed(() => {
  if (props.trial.done_rule === 'by_clock') return 'The clock ended each: time was held.'
  if (props.trial.done_rule === 'until_match')
    return `Ended when it matched ${props.trial.matches || 'a sample'}: time is a result.`
  return 'The state ended each: time is a result.'
})
</script>

<template>
  <div class="scroll" role="region" tabindex="0" aria-label="Methods side by side, scrolls sideways">
    <table class="grid">
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
              :values="dots(m.id, a.key)"
              :mean="outcome.means[a.key]?.[m.id] ?? null"
              :range="range(a.scale)"
              :colour="m.mark.colour"
            />
            <span v-if="outcome.counted?.[a.key]?.[m.id]" class="small">{{
              outcome.counted?.[a.key]?.[m.id]
            }}</span>
          </td>
        </tr>
        <tr v-if="tasted">
          <th scope="row">
            Score<small>{{ axis }}</small>
          </th>
          <td v-for="m in methods" :key="m.id" class="mono figure">
            {{ verdict?.scores[m.id] === undefined ? '—' : figure(verdict.scores[m.id]!) }}
          </td>
        </tr>
        <tr>
          <th scope="row">
            Five clocks<small
              >for {{ outcome.pieces }}: hands · come-up · cook · wait · wash-up. {{ ended }}</small
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
        <tr v-if="methods.some((m) => of(m.id)?.also?.length)">
          <th scope="row">Measured besides<small>losses, shrink, nuisance</small></th>
          <td v-for="m in methods" :key="m.id" class="small">
            <p v-for="a in of(m.id)?.also" :key="a">{{ a }}</p>
          </td>
        </tr>
        <tr v-if="methods.some((m) => notes(m.id).length)">
          <th scope="row">Said at the bench<small>cues, notes, tasters</small></th>
          <td v-for="m in methods" :key="m.id" class="small">
            <p v-for="n in notes(m.id)" :key="n">{{ n }}</p>
          </td>
        </tr>
        <tr v-if="chances">
          <th scope="row">Best in truth?<small>the chance of it, people and batches both counted</small></th>
          <td v-for="m in methods" :key="m.id">
            <span class="barbox"
              ><i
                :style="{
                  width: `${100 * (verdict?.shares[m.id] ?? 0)}%`,
                  background: m.mark.colour,
                }"
            /></span>
            <span class="small">{{ oftenSaid(verdict?.shares[m.id]) }}</span>
          </td>
        </tr>
        <tr>
          <th scope="row">Batches<small>judged, or kept and set aside</small></th>
          <td v-for="m in methods" :key="m.id" class="small">
            <p v-for="b in of(m.id)?.batches" :key="b.batch">
              {{ b.replicate }}<template v-if="b.served_at">, {{ served(b, of(m.id)?.batches) }}</template
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
            <p v-for="r in rescues(m.id)" :key="r.batch">
              {{ r.finish }}:
              <template v-for="a in outcome.attributes" :key="a.key"
                ><span v-if="r.means[a.key] !== undefined"
                  >{{ a.name.toLowerCase() }} <span class="mono">{{ figure(r.means[a.key]!) }}</span>
                </span></template
              ><span v-if="!Object.keys(r.means).length" class="soft">not tasted</span>
            </p>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
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
  padding: var(--gap-2) var(--gap-3);
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
  font-size: var(--type-2);
}
.nowrap {
  flex-wrap: nowrap;
  gap: var(--gap-2);
}
.figure {
  font-size: var(--type-4);
  font-weight: 700;
}
.barbox {
  display: block;
  height: 12px;
  background: var(--line);
  border-radius: 3px;
  overflow: hidden;
  margin: var(--gap-1) 0;
}
.barbox i {
  display: block;
  height: 100%;
}
</style>
