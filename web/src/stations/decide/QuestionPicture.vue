<script setup lang="ts">
/** The picture that answers a trial's question: a ladder, effects of factors, versions in a line, a list. */
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import CurvesPicture from './CurvesPicture.vue'
import { figure } from './figure'

const props = defineProps<{ picture: Schemas['Picture'] }>()
/** On a phone the picture is drawn narrower, so that its words stay as large as all others. */
const narrow = useMediaQuery('(max-width: 700px)')
const W = computed(() => (narrow.value ? 372 : 760))
const H = 250
const PAD = { left: 44, right: 44, top: 16, bottom: 46 }
const marks = computed(() => props.picture.marks ?? [])
const drawn = computed(() => marks.value.filter((m) => m.value !== null && m.value !== undefined))
const span = computed(() => {
  const at = marks.value.flatMap((m) => (m.at === null || m.at === undefined ? [] : [m.at]))
  return [Math.min(...at), Math.max(...at)] as const
})
const x = (at: number) => {
  const [a, b] = span.value
  return PAD.left + ((at - a) / (b - a || 1)) * (W.value - PAD.left - PAD.right)
}
const y = (v: number) => H - PAD.bottom - (v / 10) * (H - PAD.top - PAD.bottom)
const curve = computed(() =>
  (props.picture.curve ?? []).map((p) => `${x(p.at)},${y(Math.max(0, Math.min(10, p.value)))}`).join(' '),
)
const best = computed(() => {
  const { best_from: from, best_to: to } = props.picture
  return from === null || from === undefined || to === null || to === undefined
    ? null
    : { x: x(from), width: Math.max(2, x(to) - x(from)) }
})
/** The widest any range goes from nought: both ways alike. */
const reach = computed(() =>
  Math.max(0.5, ...drawn.value.flatMap((m) => [m.value!, m.low ?? 0, m.high ?? 0].map(Math.abs))),
)
const side = (v: number) => `${50 + (50 * v) / reach.value}%`
const groups = computed(() => {
  const found = new Map<string, Schemas['Mark'][]>()
  for (const m of drawn.value) {
    const name = m.group ?? ''
    found.set(name, [...(found.get(name) ?? []), m])
  }
  return [...found].map(([name, rows]) => ({ name, rows }))
})
/** The frontier, from left to right: between two nothing is promised, so it goes in steps. */
const stands = computed(() =>
  drawn.value
    .filter((m) => m.picked)
    .sort((a, b) => a.at! - b.at!)
    .flatMap((m, n, all) => [
      ...(n ? [`${x(m.at!)},${y(all[n - 1]!.value!)}`] : []),
      `${x(m.at!)},${y(m.value!)}`,
    ])
    .join(' '),
)
/** Of the most that any came to. */
const share = (v: number | null | undefined) =>
  `${(100 * (v ?? 0)) / Math.max(1e-9, ...marks.value.map((m) => m.high ?? m.value ?? 0))}%`
const said = (v: number | null | undefined) => (v === null || v === undefined ? '' : figure(v))
const signed = (v: number | null | undefined) =>
  v === null || v === undefined ? 'not tasted beside it' : `${v > 0 ? '+' : ''}${figure(v)}`.replace('-', '−')
</script>

<template>
  <figure v-if="picture.shape === 'ladder' && drawn.length" class="picture">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Score along ${picture.axis}, rung by rung`">
      <rect
        v-if="best"
        :x="best.x"
        :y="PAD.top"
        :width="best.width"
        :height="H - PAD.top - PAD.bottom"
        class="best"
      />
      <g v-for="v in [0, 5, 10]" :key="v">
        <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(v)" :y2="y(v)" class="rule" />
        <text :x="PAD.left - 8" :y="y(v) + 5" text-anchor="end">{{ v }}</text>
      </g>
      <polyline v-if="curve" :points="curve" class="curve" />
      <g v-for="(m, i) in drawn" :key="m.label">
        <line
          v-if="m.low != null && m.high != null"
          :x1="x(m.at!)"
          :x2="x(m.at!)"
          :y1="y(m.low)"
          :y2="y(m.high)"
          class="range"
        />
        <circle :cx="x(m.at!)" :cy="y(m.value!)" r="6" :class="{ hollow: m.note }" />
        <text
          v-if="!narrow || drawn.length < 5 || i % 2 === (drawn.length - 1) % 2"
          :x="x(m.at!)"
          :y="H - 24"
          text-anchor="middle"
        >
          {{ m.label }}
        </text>
        <text v-if="m.note" :x="x(m.at!)" :y="H - 7" text-anchor="middle" class="note">{{ m.note }}</text>
      </g>
    </svg>
    <figcaption class="small soft">
      Dots are means, thin lines go from the lowest to the highest answer<template v-if="best"
        >; the band is where the best point lies</template
      >.
    </figcaption>
  </figure>
  <CurvesPicture v-else-if="picture.shape === 'curves'" :picture="picture" :narrow="narrow" />
  <div v-else-if="picture.shape === 'effects'" class="effects">
    <section v-for="g in groups" :key="g.name">
      <h3>{{ g.name }}</h3>
      <div v-for="m in g.rows" :key="m.label" class="bar">
        <span class="small">{{ m.label }}</span>
        <span class="track" aria-hidden="true"
          ><span class="fill" :style="{ width: `${10 * Math.max(0, Math.min(10, m.value!))}%` }" /></span
        ><span class="mono small">{{ said(m.value) }}</span>
      </div>
    </section>
  </div>
  <div v-else-if="picture.shape === 'line'" class="effects">
    <p class="small soft">{{ picture.axis }}, points</p>
    <div v-for="m in marks" :key="m.label" class="bar wide">
      <span class="small"
        ><strong v-if="m.picked">{{ m.label }}</strong
        ><template v-else>{{ m.label }}</template
        ><span v-if="m.note" class="soft block">{{ m.note }}</span></span
      >
      <span class="track" aria-hidden="true"
        ><span class="nought" /><span
          v-if="m.low != null && m.high != null"
          class="span"
          :style="{ left: side(m.low), right: `calc(100% - ${side(m.high)})` }" /><span
          v-if="m.value != null"
          class="dot"
          :style="{ left: side(m.value) }" /></span
      ><span class="mono small">{{ m.stands || signed(m.value) }}</span>
    </div>
  </div>
  <figure v-else-if="picture.shape === 'frontier' && drawn.length" class="picture">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Score against ${picture.axis}`">
      <g v-for="v in [0, 5, 10]" :key="v">
        <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(v)" :y2="y(v)" class="rule" />
        <text :x="PAD.left - 8" :y="y(v) + 5" text-anchor="end">{{ v }}</text>
      </g>
      <polyline :points="stands" class="steps" />
      <g v-for="m in drawn" :key="m.label">
        <circle :cx="x(m.at!)" :cy="y(m.value!)" r="7" :class="{ hollow: !m.picked }" />
        <text
          :x="x(m.at!) + (x(m.at!) > W / 2 ? 8 : -8)"
          :y="y(m.value!) - 13"
          :text-anchor="x(m.at!) > W / 2 ? 'end' : 'start'"
        >
          {{ m.label }}
        </text>
      </g>
      <text :x="W - PAD.right" :y="H - 14" text-anchor="end">{{ picture.axis }} →</text>
    </svg>
    <figcaption class="small soft">
      Full dots: nothing else is liked as well for less. Open dots are beaten by one of them.
    </figcaption>
  </figure>
  <div v-else-if="picture.shape === 'measure'" class="effects">
    <p class="small soft">{{ picture.axis }}; {{ picture.scale }}</p>
    <div v-for="m in marks" :key="m.label" class="bar">
      <span class="small"
        ><strong v-if="m.picked">{{ m.label }}</strong
        ><template v-else>{{ m.label }}</template></span
      >
      <span class="track" aria-hidden="true"
        ><span class="fill" :style="{ width: share(m.value) }" /><span
          v-if="m.low !== m.high"
          class="span"
          :style="{ left: share(m.low), right: `calc(100% - ${share(m.high)})` }" /></span
      ><span class="mono small">{{ m.note }}</span>
    </div>
  </div>
  <ol v-else-if="picture.shape === 'list'" class="ways">
    <li v-for="m in marks" :key="m.label" :class="{ kept: m.picked }">
      <strong>{{ m.label }}</strong> <span class="soft small">{{ m.note }}</span>
    </li>
  </ol>
</template>

<style scoped src="./picture.css"></style>

<style scoped>
.note {
  font-size: var(--type-1);
}
.best {
  fill: var(--hatch-a);
}
.steps {
  fill: none;
  stroke: var(--steel);
  stroke-width: 2;
  stroke-dasharray: 2 5;
}
.range {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.hollow {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.effects {
  display: grid;
  gap: var(--gap-2);
  margin-bottom: var(--gap-4);
}
.bar {
  display: grid;
  grid-template-columns: minmax(120px, 220px) minmax(80px, 420px) auto;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-0) 0;
}
.block {
  display: block;
}
.track {
  position: relative;
  height: 18px;
  background: var(--hatch-a);
  border-radius: 3px;
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--steel);
  border-radius: 3px;
}
.nought {
  position: absolute;
  inset: -3px auto -3px 50%;
  border-left: 2px dashed var(--ink);
}
.span {
  position: absolute;
  top: 8px;
  height: 2px;
  background: var(--ink);
}
.dot {
  position: absolute;
  top: 3px;
  width: 12px;
  height: 12px;
  margin-left: -6px;
  border-radius: 50%;
  background: var(--steel);
}
.ways {
  padding-left: var(--gap-5);
  columns: 2 340px;
}
.ways .kept {
  font-weight: 700;
}
</style>
