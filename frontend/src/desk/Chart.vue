<script setup lang="ts">
// A chart drawn by ECharts, as wide as its place; what it shows is told in words to those who can't see it.
import { useElementSize } from '@vueuse/core'
import { BarChart, ScatterChart, type BarSeriesOption, type ScatterSeriesOption } from 'echarts/charts'
import {
  AriaComponent,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TooltipComponent,
  type GridComponentOption,
} from 'echarts/components'
import { init, use, type ComposeOption, type ECharts } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

use([
  AriaComponent,
  BarChart,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  ScatterChart,
  SVGRenderer,
  TooltipComponent,
])

export type ChartOption = ComposeOption<BarSeriesOption | ScatterSeriesOption | GridComponentOption>

const props = defineProps<{ option: ChartOption; label: string; height: number }>()
const place = ref<HTMLElement>()
const { width } = useElementSize(place)
let chart: ECharts | undefined
const common = {
  animation: false,
  textStyle: { fontFamily: "'IBM Plex Mono', monospace", fontSize: 11, color: '#6A645A' },
}

function draw() {
  chart?.setOption({ ...common, ...props.option }, { notMerge: true })
}
onMounted(() => {
  chart = init(place.value, null, { renderer: 'svg' })
  draw()
})
onBeforeUnmount(() => chart?.dispose())
watch(() => props.option, draw)
watch(width, () => chart?.resize())
</script>

<template>
  <div ref="place" class="chart" role="img" :aria-label="label" :style="{ height: `${height}px` }"></div>
</template>

<style scoped>
.chart {
  flex: none;
  width: 100%;
}
</style>
