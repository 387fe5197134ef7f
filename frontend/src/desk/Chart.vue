<script setup lang="ts">
// A chart drawn by ECharts, as wide as its place; what it shows is told in words to those who can't see it. It
// has its place before there is anything to draw with.
import { useElementSize } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { ChartOption, chartIn } from './charts'

const props = defineProps<{ option: ChartOption; label: string; height: number }>()
const place = ref<HTMLElement>()
const { width } = useElementSize(place)
let chart: ReturnType<typeof chartIn> | undefined
const common = {
  animation: false,
  textStyle: { fontFamily: "'IBM Plex Mono', monospace", fontSize: 11, color: '#6A645A' },
}

function draw() {
  chart?.setOption({ ...common, ...props.option }, { notMerge: true })
}
onMounted(async () => {
  const { chartIn } = await import('./charts')
  if (!place.value) return
  chart = chartIn(place.value)
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
