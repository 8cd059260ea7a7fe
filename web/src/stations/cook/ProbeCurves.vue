<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import { useQuery } from '@tanstack/vue-query'
import { api, sendFile, words } from '../../api/client'
import { clock, boxFormat } from '../../bench/dates'
import { useSession } from '../../session'
import type { Bench } from './useBench'
import { queryKeys } from '../../api/queries/keys'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, CanvasRenderer])
const props = defineProps<{ bench: Bench; zone?: string }>()
const emit = defineEmits<{ changed: [] }>()
const us = useSession().us
const show = (v: number | null) => (v === null ? null : us ? v * 1.8 + 32 : v)
const { data: live } = useQuery({
  queryKey: queryKeys.probeCurves(props.bench.shift.id),
  retry: false,
  refetchInterval: () => (props.bench.shift.ended ? false : 10_000),
  queryFn: async () =>
    (
      await api.GET('/api/v1/shifts/{shift_id}/probes', {
        params: { path: { shift_id: props.bench.shift.id }, query: { curves: true } },
      })
    ).data!.curves,
})
const all = computed(() => [
  ...props.bench.curves,
  ...(live.value ?? []).map((c) => ({ batch: c.batch, name: c.where, points: c.points })),
])
const option = computed(() => {
  const ink = getComputedStyle(document.documentElement).getPropertyValue('--ink').trim()
  const line = getComputedStyle(document.documentElement).getPropertyValue('--line').trim()
  return {
    animation: false,
    textStyle: { fontFamily: 'Atkinson Hyperlegible', color: ink },
    grid: { left: 50, right: 20, top: 46, bottom: 30 },
    legend: { top: 4, textStyle: { color: ink } },
    xAxis: {
      type: 'time',
      axisLabel: { color: ink, formatter: (v: number) => clock(v / 1000, props.zone) },
      axisLine: { lineStyle: { color: ink } },
    },
    yAxis: {
      type: 'value',
      scale: true,
      axisLabel: { color: ink, formatter: us ? '{value} °F' : '{value} °C' },
      splitLine: { lineStyle: { color: line } },
    },
    series: all.value.map((c) => {
      const b = props.bench.batches.find((x) => x.id === c.batch)
      return {
        type: 'line',
        showSymbol: false,
        name: `${b?.tag}${(b?.replicate ?? 1) > 1 ? ` ${b?.replicate}` : ''} ${c.name}`,
        lineStyle: { width: 2, color: b?.mark.colour, type: c.name === 'core' ? 'solid' : 'dashed' },
        itemStyle: { color: b?.mark.colour },
        data: c.points.map(([t, v]) => [(t ?? 0) * 1000, show(v)]),
      }
    }),
  }
})
interface Preview {
  saved: boolean
  unit: string
  unit_stated: boolean
  why_unit: string
  rows: number
  seconds: number
  starts_at: number | null
  channels: Record<string, [number, number]>
}
const batch = ref(props.bench.batches[0]?.id ?? '')
const file = ref<File | null>(null)
const unit = ref('')
const startsAt = ref<Date | null>(null)
const preview = ref<Preview | null>(null)
const problem = ref('')
async function read(confirm: boolean) {
  if (!file.value) {
    problem.value = 'Choose a file first.'
    return
  }
  const query = new URLSearchParams({ name: file.value.name.slice(0, 100), confirm: String(confirm) })
  if (unit.value) query.set('unit', unit.value)
  if (startsAt.value) query.set('starts_at', String(startsAt.value.getTime() / 1000))
  try {
    preview.value = (await sendFile(
      'POST',
      `/api/v1/batches/${batch.value}/probe-logs?${query}`,
      file.value,
    )) as Preview
    problem.value = ''
    if (preview.value.saved) emit('changed')
    else unit.value = preview.value.unit
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <div class="stack">
    <VChart v-if="all.length" class="chart" :option="option" autoresize />
    <p v-else class="soft">No probe log yet.</p>
    <h3>Bring in a probe log (CSV)</h3>
    <div class="row">
      <label class="field"
        >Of which batch<el-select v-model="batch" style="width: 210px"
          ><el-option
            v-for="b in bench.batches"
            :key="b.id"
            :value="b.id"
            :label="`${b.tag} ${b.name}${b.replicate > 1 ? `, batch ${b.replicate}` : ''}`" /></el-select
      ></label>
      <input
        type="file"
        accept=".csv,.tsv,.txt,text/csv"
        aria-label="Probe log"
        @change="
          (event: Event) => {
            file = (event.target as HTMLInputElement).files?.[0] ?? null
            preview = null
          }
        "
      />
      <button class="act" @click="read(false)">Read it</button>
    </div>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <div v-if="preview && !preview.saved" class="warn stack">
      <p>
        {{ preview.rows }} readings over {{ Math.round(preview.seconds / 60) }} min.
        <span v-for="(r, n) in preview.channels" :key="n"
          >{{ n }}: {{ r[0].toFixed(1) }} to {{ r[1].toFixed(1) }} °C.
        </span>
      </p>
      <p>
        Unit {{ preview.unit_stated ? '' : 'guessed' }}: <strong>°{{ preview.unit }}</strong> ({{
          preview.why_unit
        }}).
      </p>
      <div class="row">
        <el-radio-group v-model="unit" @change="read(false)"
          ><el-radio value="C">°C</el-radio><el-radio value="F">°F</el-radio></el-radio-group
        >
        <label v-if="preview.starts_at === null" class="field"
          >First reading was taken at<el-date-picker v-model="startsAt" type="datetime" :format="boxFormat()"
        /></label>
      </div>
      <div><button class="act strong" @click="read(true)">Right, keep it</button></div>
    </div>
    <p v-if="preview?.saved" class="warn">Kept and drawn.</p>
  </div>
</template>

<style scoped>
.chart {
  height: 340px;
}
</style>
