<script setup lang="ts">
// Where the quotes lie beside each other, and where the price taken lies among them.
import { computed, defineAsyncComponent } from 'vue'
import type { Schemas } from '../../api/client'
import type { ChartOption } from '../../desk/Chart.vue'
import { shown } from '../../desk/numbers'

// The table stands before the chart is there.
const Chart = defineAsyncComponent(() => import('../../desk/Chart.vue'))
const props = defineProps<{
  quotes: Schemas['QuoteView'][]
  price: string | null | undefined
  norm: { low: string | null; high: string | null }
}>()
const quoted = computed(() => props.quotes.filter((q) => q.per_unit))
const normed = computed(() => [props.norm.low, props.norm.high].filter((v) => v !== null).map(Number))
const values = computed(() => [...quoted.value.map((q) => Number(q.per_unit)), ...normed.value])
const low = computed(() => Math.min(...values.value))
const high = computed(() => Math.max(...values.value))
const inOrder = computed(() => [...quoted.value].sort((a, b) => Number(a.per_unit) - Number(b.per_unit)))
const option = computed<ChartOption>(() => ({
  grid: { left: 56, right: 56, top: 22, bottom: 36 },
  xAxis: {
    type: 'value',
    min: low.value === high.value ? low.value - 1 : low.value,
    max: low.value === high.value ? high.value + 1 : high.value,
    axisLabel: { show: false },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLine: { show: false },
  },
  yAxis: {
    type: 'value',
    min: -1,
    max: 1,
    axisLabel: { show: false },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLine: { show: false },
  },
  tooltip: { trigger: 'item', formatter: '{b}' },
  series: [
    {
      type: 'scatter',
      symbolSize: 9,
      labelLayout: { moveOverlap: 'shiftX' },
      data: inOrder.value.map((q, at) => ({
        name: `${q.supplier} ${shown(q.per_unit, 2, 4)}${q.lapsed ? ', lapsed' : ''}`,
        value: [Number(q.per_unit), 0],
        itemStyle: q.lapsed
          ? { color: '#FFFFFF', borderColor: '#6A645A', borderWidth: 1 }
          : { color: '#1D6670' },
        label: {
          show: true,
          position: at % 2 ? 'bottom' : 'top',
          distance: 6,
          color: '#6A645A',
          formatter: `${shown(q.per_unit, 2, 4)}${q.lapsed ? ' lapsed' : ''}`,
        },
      })),
      ...(normed.value.length && {
        markArea: {
          silent: true,
          itemStyle: { color: '#4B774022' },
          label: { show: true, position: 'bottom', distance: 14, color: '#4B7740', fontSize: 11 },
          data: [
            [
              { name: 'own norm', xAxis: normed.value.length > 1 ? normed.value[0] : normed.value[0] * 0.9 },
              { xAxis: normed.value.length > 1 ? normed.value[1] : normed.value[0] * 1.1 },
            ],
          ],
        },
      }),
      markLine: {
        symbol: 'none',
        silent: true,
        label: { show: false },
        data: [
          [
            { coord: [low.value, 0], lineStyle: { color: '#E3DCCF', type: 'solid' } },
            { coord: [high.value, 0] },
          ],
          ...(props.price
            ? [
                {
                  xAxis: Number(props.price),
                  lineStyle: { color: '#B86F24', type: 'solid' as const, width: 2 },
                },
              ]
            : []),
        ],
      },
    },
  ],
}))
</script>

<template>
  <div class="spread">
    <Chart
      :option="option"
      :label="`Quotes from ${shown(low, 2, 4)} to ${shown(high, 2, 4)}${price ? `, taken ${shown(price, 2, 4)}` : ''}`"
      :height="78"
    />
  </div>
</template>

<style scoped>
.spread {
  flex: none;
  max-width: 640px;
  height: 78px;
}
</style>
