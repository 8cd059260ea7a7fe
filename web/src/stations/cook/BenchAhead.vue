<script setup lang="ts">
/** What lies ahead of a shift, under its card: doubted probes, washing, ready cores, circuits. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { clock as clockWords } from '../../bench/dates'
import { countdown } from '../../bench/units'
import { useSession } from '../../session'
import BenchMissing from './BenchMissing.vue'
import { useThisBench } from './useBench'

type Outlook = Schemas['OutlookView']
const props = defineProps<{ outlook: Outlook | undefined; doubts: Map<string, string> }>()
const emit = defineEmits<{
  probes: []
  readAgain: [batch: string]
  washed: []
  measure: [missing: Schemas['Unmeasured']]
}>()
const { bench, batches, standing, tick, log } = useThisBench()
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const ended = computed(() => bench.value?.shift.ended ?? false)
const going = computed(() => (ended.value ? [] : (props.outlook?.batches ?? [])))
const ahead = computed(() => going.value.filter((b) => b.forecast?.sentence && b.forecast.target_c))
const advised = computed(() => going.value.filter((b) => b.advice))
const zones = computed(() =>
  going.value.filter((b) => b.zone_spent_s >= 60 && (b.zone_use_by || b.zone_late)),
)
const circuits = computed(() =>
  ended.value
    ? []
    : (props.outlook?.planned.filter(
        (c) => c.over || c.unknown || props.outlook?.running.some((r) => r.circuit === c.circuit),
      ) ?? []),
)
/** What a circuit carries as it is now, where that is other than the heaviest moment of the plan. */
const asIs = (c: { circuit: string; sentence: string }) => {
  const is = props.outlook?.running.find((r) => r.circuit === c.circuit)?.sentence
  return is && is !== c.sentence ? ` As it is: ${is.replace(/^Circuit [^:]+: /, '')}` : ''
}
const tagOf = (id: string) => batches.value.get(id)?.tag ?? ''
const entryOf = (id: string) => standing.value.find((e) => e.id === id)
</script>

<template>
  <div class="ahead small">
    <p v-for="[b, d] in doubts" :key="b" class="warn row">
      <span class="grow"
        ><strong>{{ tagOf(b) }}</strong> {{ d }}</span
      ><button class="act quiet" @click="emit('probes')">Probes</button>
    </p>
    <p v-for="b in advised" :key="`r${b.batch}`" class="warn advised">
      <span
        ><strong>{{ tagOf(b.batch) }}</strong> {{ b.advice }}
        <strong v-if="b.read_again_at" class="mono">{{ countdown(b.read_again_at - tick) }}</strong></span
      ><button class="act quiet" @click="emit('readAgain', b.batch)">Read again</button>
    </p>
    <BenchMissing v-if="!ended" :missing="outlook?.unmeasured ?? []" @measure="emit('measure', $event)" />
    <p v-if="outlook?.carrying.length" class="warn row">
      <span class="grow"
        >On raw food, and not washed since: <strong>{{ outlook.carrying.join(', ') }}</strong>. Wash it hot,
        or take another, before it touches what is ready.</span
      ><button class="act quiet" @click="emit('washed')">Washed</button>
    </p>
    <p v-for="t in outlook?.twice" :key="t.first + t.second" class="warn">
      <strong>{{ tagOf(t.batch) }}</strong> {{ t.what.replace('_', ' ') }} was logged twice, at
      {{ entryOf(t.first) ? clockWords(entryOf(t.first)!.at, zone) : '' }} and on another device at
      {{ entryOf(t.second) ? clockWords(entryOf(t.second)!.at, zone) : '' }}.
      <button v-if="entryOf(t.second)" class="act quiet" @click="log(t.batch, 'undone', {}, t.second)">
        Keep the first</button
      ><button v-if="entryOf(t.first)" class="act quiet" @click="log(t.batch, 'undone', {}, t.first)">
        Keep the second
      </button>
    </p>
    <template v-for="b in ahead" :key="b.batch"
      ><p>{{ b.forecast!.sentence }}</p>
      <p v-if="b.forecast!.pull">{{ b.forecast!.pull }}</p></template
    >
    <p v-if="zones.length">
      Between cold and hot:
      <span v-for="(b, i) in zones" :key="b.batch" :class="{ late: !!b.zone_late }" :title="b.zone"
        >{{ i ? '; ' : '' }}{{ tagOf(b.batch) }} <span class="mono">{{ countdown(b.zone_spent_s) }}</span>{{
          b.zone_late ? ', past the figure entered' : `, use or chill by ${clockWords(b.zone_use_by!, zone)}`
        }}</span
      >.
    </p>
    <p v-for="c in circuits" :key="c.circuit" :class="{ warn: c.over, soft: !c.over }">
      {{ c.sentence }}{{ asIs(c) }}<template v-if="c.over"> {{ outlook?.codes_first }}</template>
    </p>
    <p v-if="outlook && !outlook.reckoning" class="soft">Ready-times are being worked out …</p>
  </div>
</template>

<style scoped>
.advised {
  display: grid;
  gap: var(--gap-2);
  justify-items: start;
}
.ahead {
  display: grid;
  gap: var(--gap-2);
  margin: var(--gap-3) 0 var(--gap-1);
}
.late {
  color: var(--beet);
  font-weight: 700;
}
</style>
