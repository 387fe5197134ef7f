<script setup lang="ts">
// Where a price comes from: each quote over its time, from the day it was given to the day it lapses, as high as it
// is; the price taken, the own norm, and the day prices hold on.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import Chart from '../../desk/Chart.vue'
import type { ChartOption } from '../../desk/charts'
import { day, shown } from '../../desk/numbers'

// The table stands before the chart is there.
const props = defineProps<{
  quotes: Schemas['QuoteView'][]
  price: string | null | undefined
  norm: { low: string | null; high: string | null }
}>()
const { data: project } = useProject()
const RIVER = '#1D6670'
const QUIET = '#6A645A'
const DAY = 86_400_000
const quoted = computed(() => props.quotes.filter((q) => q.per_unit))
const normed = computed(() => {
  const told = [props.norm.low, props.norm.high].filter((v) => v !== null).map(Number)
  return told.length === 1 ? [told[0] * 0.9, told[0] * 1.1] : told
})
const values = computed(() => [...quoted.value.map((q) => Number(q.per_unit)), ...normed.value])
const low = computed(() => Math.min(...values.value))
const high = computed(() => Math.max(...values.value))
const margin = computed(() => (high.value - low.value || high.value || 1) * 0.12)
const at = (iso: string) => new Date(`${iso}T00:00:00Z`).getTime()
const held = computed(() => (project.value ? at(project.value.price_date) : 0))
const first = computed(() => Math.min(held.value, ...quoted.value.map((q) => at(q.quoted_on))))
const last = computed(() =>
  Math.max(held.value + 30 * DAY, ...quoted.value.map((q) => at(q.valid_to ?? q.quoted_on))),
)
/** How old a quote was on the day prices hold on. */
const age = (q: Schemas['QuoteView']) => Math.round((held.value - at(q.quoted_on)) / DAY)
const told = (q: Schemas['QuoteView']) =>
  `${q.supplier} ${shown(q.per_unit, 2, 4)}, ${day(q.quoted_on)}, ` +
  (q.validity === 'not yet' ? 'not yet valid' : `${age(q)} days old`) +
  (q.validity === 'lapsed' ? ', lapsed' : q.used ? ', used' : '')
const holds = (q: Schemas['QuoteView']) => q.validity === 'valid'
const colour = (q: Schemas['QuoteView']) => (holds(q) ? RIVER : QUIET)
const option = computed<ChartOption>(() => ({
  grid: { left: 52, right: 150, top: 20, bottom: 22 },
  xAxis: {
    type: 'time',
    min: first.value,
    max: last.value,
    splitNumber: 4,
    axisLabel: { hideOverlap: true, formatter: '{MMM} {yy}' },
    splitLine: { show: false },
    axisLine: { lineStyle: { color: '#E3DCCF' } },
  },
  yAxis: {
    type: 'value',
    min: low.value - margin.value,
    max: high.value + margin.value,
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
      labelLayout: { moveOverlap: 'shiftY', hideOverlap: true },
      data: quoted.value.map((q) => ({
        name: told(q),
        value: [at(q.quoted_on), Number(q.per_unit)],
        itemStyle: { color: q.used ? RIVER : '#FFFFFF', borderColor: colour(q), borderWidth: 1 },
        label: {
          show: true,
          position: 'left',
          distance: 6,
          color: QUIET,
          formatter: shown(q.per_unit, 2, 4),
        },
      })),
      ...(normed.value.length && {
        markArea: {
          silent: true,
          itemStyle: { color: '#4B774022' },
          label: { show: true, position: 'insideBottomRight', color: '#4B7740', fontSize: 11 },
          data: [[{ name: 'own norm', yAxis: normed.value[0] }, { yAxis: normed.value[1] }]],
        },
      }),
      markLine: {
        symbol: 'none',
        silent: true,
        label: { show: false },
        data: [
          ...quoted.value.map((q) => [
            {
              coord: [at(q.quoted_on), Number(q.per_unit)],
              lineStyle: { color: colour(q), type: holds(q) ? ('solid' as const) : ('dashed' as const) },
            },
            { coord: [q.valid_to ? at(q.valid_to) : last.value, Number(q.per_unit)] },
          ]),
          {
            xAxis: held.value,
            label: {
              show: true,
              position: 'end' as const,
              color: QUIET,
              formatter: `price date ${day(project.value?.price_date ?? null)}`,
            },
            lineStyle: { color: QUIET, type: 'dotted' as const },
          },
          ...(props.price
            ? [
                {
                  yAxis: Number(props.price),
                  label: {
                    show: true,
                    position: 'end' as const,
                    color: '#8A5119',
                    formatter: `${shown(props.price, 2, 4)} taken`,
                  },
                  lineStyle: { color: '#B86F24', type: 'solid' as const, width: 2 },
                },
              ]
            : []),
        ] as never,
      },
    },
  ],
}))
</script>

<template>
  <div class="spread">
    <Chart
      :option="option"
      :label="`Quotes from ${shown(low, 2, 4)} to ${shown(high, 2, 4)}${price ? `, taken ${shown(price, 2, 4)}` : ''}: ${quoted.map(told).join('; ')}`"
      :height="128"
    />
  </div>
</template>

<style scoped>
.spread {
  flex: none;
  max-width: 760px;
  height: 128px;
}
</style>
