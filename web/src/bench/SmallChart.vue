<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Schemas } from '../api/client'

use([
  LineChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  CanvasRenderer,
])
const props = defineProps<{ chart: Schemas['ChartView'] }>()
const LINES = ['solid', 'dashed', 'dotted'] as const
const option = computed(() => {
  const style = getComputedStyle(document.documentElement)
  const colour = (name: string) => style.getPropertyValue(name).trim()
  const [ink, soft, line] = [colour('--ink'), colour('--ink-soft'), colour('--line')]
  const curves = props.chart.series.filter((s) => !s.dots)
  const marks = {
    silent: true,
    symbol: 'none',
    lineStyle: { color: colour('--herb'), type: 'solid' as const },
    label: { color: colour('--herb'), formatter: '{b}', position: 'insideStartTop' as const },
    data: props.chart.marks.map((m) => ({ name: m.name, yAxis: m.value })),
  }
  return {
    animation: false,
    textStyle: { fontFamily: 'Atkinson Hyperlegible', color: ink },
    grid: { left: 52, right: 20, top: 34, bottom: 42 },
    legend: { top: 2, textStyle: { color: ink }, data: props.chart.series.map((s) => s.name) },
    xAxis: {
      type: 'value',
      name: props.chart.x_label,
      nameLocation: 'middle',
      nameGap: 26,
      nameTextStyle: { color: soft },
      axisLabel: { color: ink },
      splitLine: { show: false },
      scale: props.chart.x_label === 'set',
      axisLine: { lineStyle: { color: ink } },
    },
    yAxis: {
      type: 'value',
      name: props.chart.y_label,
      nameTextStyle: { color: soft },
      scale: true,
      axisLabel: { color: ink },
      splitLine: { lineStyle: { color: line } },
    },
    series: props.chart.series.map((s, n) =>
      s.dots
        ? {
            type: 'scatter',
            name: s.name,
            symbolSize: 7,
            itemStyle: { color: colour('--crust') },
            data: s.points,
            ...(n === 0 && { markLine: marks }),
          }
        : {
            type: 'line',
            name: s.name,
            showSymbol: false,
            lineStyle: { width: 2, color: ink, type: LINES[curves.indexOf(s) % 3] },
            itemStyle: { color: ink },
            data: s.points,
            ...(n === 0 && { markLine: marks }),
          },
    ),
  }
})
</script>

<template>
  <VChart
    class="chart"
    :option="option"
    autoresize
    role="img"
    :aria-label="`${chart.y_label} over ${chart.x_label}: ${chart.series.map((s) => s.name).join(', ')}`"
  />
</template>

<style scoped>
.chart {
  height: 280px;
  max-width: 640px;
}
</style>
