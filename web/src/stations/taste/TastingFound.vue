<script setup lang="ts">
/** What the rounds of an opened tasting tell, each with its picture. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Schemas } from '../../api/client'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ tasting: Schemas['TastingView'] }>()
const { data } = useQuery({
  queryKey: queryKeys.found(props.tasting.id),
  refetchInterval: (q) => (q.state.data && q.state.data.state !== 'fresh' ? 1500 : false),
  queryFn: async () =>
    (
      await api.GET('/api/v1/tastings/{tasting_id}/found', {
        params: { path: { tasting_id: props.tasting.id } },
      })
    ).data!,
})
const titled = computed(() =>
  (data.value?.rounds ?? []).map((r) => {
    const round = props.tasting.rounds.find((t) => t.position === r.position)
    return {
      ...r,
      title: [round?.name || round?.test_name, round?.part, round?.condition].filter(Boolean).join(' · '),
      lines: r.found.lines ?? [],
      groups: groups(r.found.bars ?? []),
      luck: r.found.bars?.some((b) => b.luck != null),
      spread: r.found.bars?.some((b) => b.low != null),
    }
  }),
)
type Bar = Schemas['Bar']
function groups(bars: Bar[]): { name: string; bars: Bar[] }[] {
  const found: { name: string; bars: Bar[] }[] = []
  for (const bar of bars) {
    const last = found.at(-1)
    if (last && last.name === (bar.group ?? '')) last.bars.push(bar)
    else found.push({ name: bar.group ?? '', bars: [bar] })
  }
  return found
}
/** Where a value lies on a bar that goes from the least to the most. */
const share = (value: number, b: Bar) =>
  `${Math.max(0, Math.min(100, (100 * (value - (b.least ?? 0))) / (b.most - (b.least ?? 0) || 1)))}%`
</script>

<template>
  <p v-if="data?.state === 'working'" class="soft" role="status">Working it out …</p>
  <section v-for="r in titled" :key="r.position" class="round">
    <p class="soft small">{{ r.title }}</p>
    <h3>{{ r.found.headline }}</h3>
    <div v-for="g in r.groups" :key="g.name" class="bars">
      <p v-if="g.name" class="small">
        <strong>{{ g.name }}</strong>
      </p>
      <div v-for="b in g.bars" :key="b.label" class="bar">
        <span class="small label">{{ b.label }}</span>
        <span class="track" aria-hidden="true"
          ><span class="fill" :style="{ width: share(b.value, b) }" /><span
            v-if="b.luck !== null && b.luck !== undefined"
            class="luck"
            :style="{ left: share(b.luck, b) }" /><span
            v-if="b.low !== null && b.low !== undefined && b.high !== null && b.high !== undefined"
            class="range"
            :style="{ left: share(b.low, b), right: `calc(100% - ${share(b.high, b)})` }" /></span
        ><span class="mono small">{{ b.words }}</span>
      </div>
    </div>
    <p v-if="r.luck" class="soft small">The dashed line is what luck gives.</p>
    <p v-if="r.spread" class="soft small">The thin line goes from the lowest to the highest answer.</p>
    <ul v-if="r.lines.length" class="small">
      <li v-for="l in r.lines" :key="l">{{ l }}</li>
    </ul>
    <p v-if="r.found.settle" class="small">
      <strong>{{ r.found.settle }}</strong>
    </p>
  </section>
  <ul v-if="data?.blindness.length || data?.table.length" class="small">
    <li v-for="b in data?.blindness" :key="b" :class="{ warn: data?.not_blind }">{{ b }}</li>
    <li v-for="l in data?.table" :key="l">{{ l }}</li>
  </ul>
  <p v-if="data?.changed" class="soft small">
    {{ data.changed }} {{ data.changed === 1 ? 'answer was' : 'answers were' }} changed after more bites; the
    last one counts, the first is kept.
  </p>
</template>

<style scoped>
.round {
  border-left: 4px solid var(--line-strong);
  padding: var(--gap-0) 0 var(--gap-0) var(--gap-4);
  margin: var(--gap-3) 0;
  display: grid;
  gap: var(--gap-2);
}
h3 {
  margin: 0;
  font-size: var(--type-4);
}
.bar {
  display: grid;
  grid-template-columns: minmax(110px, 190px) minmax(80px, 360px) auto;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-0) 0;
}
.label {
  overflow-wrap: anywhere;
}
.track {
  position: relative;
  height: 16px;
  background: var(--hatch-a);
  border-radius: 3px;
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--steel);
  border-radius: 3px;
}
.luck {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px dashed var(--ink);
}
.range {
  position: absolute;
  top: 7px;
  height: 2px;
  background: var(--ink);
}
ul {
  margin: 0;
  padding-left: var(--gap-5);
}
</style>
