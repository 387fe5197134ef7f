<script setup lang="ts">
// What makes up the bill, drawn: by section and kind of cost; and the few items that make most of the money.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useMost, useReport } from '../../api/bill'
import type { Schemas } from '../../api/client'
import Chart from '../../desk/Chart.vue'
import type { ChartOption } from '../../desk/charts'
import { money, shown } from '../../desk/numbers'

const props = defineProps<{ bill: Schemas['BillOutline']; projectId: number }>()
const router = useRouter()
const which = computed(() => (props.bill.kind === 'own' ? null : props.bill.id))
const { data: most } = useMost(which)
const { data: report } = useReport(() => ({
  by: 'section,cost',
  bill: which.value,
  adjustments: '',
  subcontract: true,
}))
const INK = ['#1D6670', '#B86F24', '#4B7740', '#8A7A5C', '#6C5B7B', '#9C4A3C']
const tables = computed(() => report.value?.tables ?? [])
const rowsOf = (by: string) =>
  (tables.value.find((t) => t.by === by)?.rows ?? []).filter((row) => Number(row.amount) > 0)
const bars = (by: string): ChartOption => {
  const rows = [...rowsOf(by)].sort((a, b) => Number(b.amount) - Number(a.amount)).slice(0, 12)
  return {
    grid: { left: 170, right: 110, top: 6, bottom: 22 },
    xAxis: { type: 'value', axisLabel: { formatter: (v: number) => shown(v / 1000, 0) + ' k' } },
    yAxis: {
      type: 'category',
      inverse: true,
      data: rows.map((row) => row.name),
      axisLabel: { width: 155, overflow: 'truncate', color: '#23211D' },
    },
    series: [
      {
        type: 'bar',
        data: rows.map((row) => Number(row.amount)),
        barWidth: 13,
        itemStyle: { color: by === 'section' ? INK[0] : INK[1] },
        label: {
          show: true,
          position: 'right',
          formatter: ({ value }: { value: unknown }) => money(Number(value)),
          color: '#23211D',
        },
      },
    ],
  } as ChartOption
}
const go = (item: number) =>
  router.push({
    path: `/projects/${props.projectId}/bill`,
    query: { ...(which.value ? { bill: String(which.value) } : {}), at: `item:${item}` },
  })
</script>

<template>
  <div class="desk-head">
    <b>What makes up {{ bill.title }}</b>
  </div>
  <div v-if="most && report" class="scroll" tabindex="0" role="region" aria-label="What makes up the bill">
    <section>
      <h3>
        {{ most.items.length }} of {{ most.of }} items make {{ shown(most.share * 100, 0) }} % of the money
      </h3>
      <table>
        <tbody>
          <tr v-for="item in most.items" :key="item.item.id">
            <td class="num">{{ item.item.ref }}</td>
            <td>
              <NButton text class="laid" @click="go(item.item.id)">{{ item.item.description }}</NButton>
            </td>
            <td class="num">{{ money(item.item.amount) }}</td>
            <td class="share">
              <span class="before" :style="{ width: `${(item.together - item.share) * 100}%` }"></span
              ><span class="own" :style="{ width: `${item.share * 100}%` }"></span>
            </td>
            <td class="num">{{ shown(item.together * 100, 1) }} %</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-for="by in ['section', 'cost']" :key="by">
      <h3>{{ by === 'section' ? 'By section' : 'By kind of cost' }}, {{ bill.currency }}</h3>
      <Chart
        v-if="rowsOf(by).length"
        :option="bars(by)"
        :height="Math.min(rowsOf(by).length, 12) * 24 + 34"
        :label="`What the bill comes to by ${by}: ${rowsOf(by)
          .map((row) => `${row.name} ${money(row.amount)}`)
          .join(', ')}`"
      />
    </section>
  </div>
</template>

<style scoped>
section {
  padding: 10px 12px 4px;
}
h3 {
  padding-bottom: 4px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 2px 8px;
  border-bottom: 1px solid var(--rule);
}
.num {
  text-align: right;
}
td.num:first-child {
  text-align: left;
}
.share {
  width: 30%;
  white-space: nowrap;
  font-size: 0;
}
.before,
.own {
  display: inline-block;
  height: 11px;
}
.before {
  background: var(--main-soft);
}
.own {
  background: var(--main);
}
</style>
