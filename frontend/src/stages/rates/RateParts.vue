<script setup lang="ts">
// What makes up a rate: one bar in its groups' shares.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import Chart from '../../desk/Chart.vue'
import type { ChartOption } from '../../desk/charts'
import { money } from '../../desk/numbers'

// The table stands before the chart is there.
const props = defineProps<{ groups: Schemas['GroupTotal'][]; rate: string | null | undefined }>()
const colours: Record<string, string> = {
  labour: '#1D6670',
  plant: '#8FB3B5',
  material: '#B86F24',
  sundries: '#E9CBA4',
  subcontract: '#6A645A',
}
const told = computed(() => props.groups.map((g) => `${g.group} ${money(g.unit_price)}`).join(', '))
const option = computed<ChartOption>(() => ({
  grid: { left: 0, right: 0, top: 0, bottom: 0 },
  xAxis: {
    type: 'value',
    show: false,
    max: props.groups.reduce((sum, group) => sum + Number(group.unit_price), 0) || 1,
  },
  yAxis: { type: 'category', data: [''], show: false },
  tooltip: { trigger: 'item', formatter: '{a} {c}' },
  series: props.groups.map((group) => ({
    type: 'bar',
    stack: 'rate',
    name: group.group,
    barWidth: 18,
    itemStyle: { color: colours[group.group] },
    data: [Number(group.unit_price)],
  })),
}))
</script>

<template>
  <div class="parts">
    <div class="bar"><Chart :option="option" :label="`Made up of ${told}`" :height="18" /></div>
    <span v-for="group in groups" :key="group.group"
      ><i class="key" :style="{ background: colours[group.group] }"></i>{{ group.group }}
      <b class="num">{{ money(group.unit_price) }}</b></span
    >
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  padding: 12px 12px 8px;
}
.bar {
  width: 100%;
  height: 18px;
  background: var(--rule);
}
.key {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
}
b {
  font-weight: 400;
}
span {
  color: var(--quiet);
}
</style>
