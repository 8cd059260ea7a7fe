<script setup lang="ts">
/** What was measured, ways side by side at equal servings: each measure on one scale that all share. */
import type { Schemas } from '../../api/client'

const props = defineProps<{
  measures: Schemas['MeasureTold'][]
  methods: Schemas['MethodView'][]
  pieces: number
}>()
const top = (m: Schemas['MeasureTold']) => Math.max(1e-9, ...Object.values(m.values).flat())
const mean = (v: number[]) => v.reduce((a, b) => a + b, 0) / v.length
const at = (m: Schemas['MeasureTold'], v: number) => `${Math.max(0, Math.min(100, (100 * v) / top(m)))}%`
/** What is alike for all within what one reads off is said in one line. */
const rows = (m: Schemas['MeasureTold']) =>
  props.methods
    .filter((way) => m.values[way.id]?.length)
    .map((way) => ({
      way,
      values: m.values[way.id]!,
      mean: mean(m.values[way.id]!),
      words: m.words[way.id],
      best: m.best === way.id,
    }))
const without = (m: Schemas['MeasureTold']) =>
  props.methods
    .filter((w) => !m.values[w.id]?.length)
    .map((w) => w.tag)
    .join(', ')
const alike = (m: Schemas['MeasureTold']) =>
  props.methods.length > 1 &&
  props.methods.every((w) => m.words[w.id]) &&
  new Set(Object.values(m.words)).size === 1
</script>

<template>
  <section v-if="measures.length" class="measures">
    <h2>Side by side, for {{ pieces }}</h2>
    <div class="cards">
      <section v-for="m in measures" :key="m.key" class="card">
        <h3>{{ m.name }}</h3>
        <p v-if="alike(m)" class="small">All alike: {{ Object.values(m.words)[0] }}.</p>
        <ul v-else>
          <li v-for="r in rows(m)" :key="r.way.id">
            <strong class="tag">{{ r.way.tag }}</strong>
            <span class="track" aria-hidden="true"
              ><span class="fill" :style="{ width: at(m, r.mean), background: r.way.mark.colour }" /><span
                v-for="(v, i) in r.values"
                :key="i"
                class="tick"
                :style="{ left: at(m, v) }"
            /></span>
            <span class="small">{{ r.words }}<strong v-if="r.best"> · beats all others</strong></span>
          </li>
        </ul>
        <p v-if="without(m)" class="small soft">Not measured: {{ without(m) }}</p>
      </section>
    </div>
    <p class="small soft">Bars are means, ticks are single cookings, all from nought.</p>
  </section>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(390px, 100%), 1fr));
  gap: var(--gap-2) var(--gap-6);
}
.card h3 {
  margin: var(--gap-2) 0 var(--gap-0);
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 34px minmax(70px, 130px) 1fr;
  gap: var(--gap-3);
  align-items: center;
  min-height: 26px;
}
.track {
  position: relative;
  height: 14px;
  background: var(--hatch-a);
  border-radius: 3px;
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  border-radius: 3px;
}
.tick {
  position: absolute;
  inset: -2px auto;
  width: 2px;
  margin-left: -1px;
  background: var(--ink);
}
</style>
