<script setup lang="ts">
// The schedule summed up: by size, by location, by member with its kg/m³ beside the usual band, fabric by kind.
import { NDataTable, type DataTableColumns } from 'naive-ui'
import { computed, h, ref, watch } from 'vue'
import { useSummary } from '../../api/bars'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { massHere, tonnesHere } from './masses'

const props = defineProps<{ schedule: Schemas['ScheduleView'] }>()
const { data: summary } = useSummary()
const sums = ref<HTMLElement>()
/** A table too wide for its place is scrolled by keys too. */
watch(
  [summary, sums],
  () =>
    sums.value
      ?.querySelectorAll<HTMLElement>('.n-scrollbar-container, .n-data-table-base-table-body')
      .forEach((each) => (each.tabIndex = 0)),
  { flush: 'post' },
)
type Size = Schemas['SizeView']
type Line = Schemas['SummaryLine'] & { ratio?: number | null; band?: number[] | null }
const number = { align: 'right' as const, className: 'num' }
const kg = massHere(0).unit
const sizeColumns = computed<DataTableColumns<Size>>(() => [
  { title: 'Size', key: 'size', render: (s) => `${s.grade}${s.size}`, width: 70 },
  { title: 'Bars', key: 'number', ...number, render: (s) => shown(s.number, 0) },
  { title: `Length ${unitHere('m')}`, key: 'length', ...number, render: (s) => shown(lengthHere(s.length)) },
  { title: kg, key: 'mass', ...number, render: (s) => massHere(s.mass).text },
  { title: tonnesHere(0).unit, key: 't', ...number, render: (s) => tonnesHere(s.mass).text },
])
const bySize = (): DataTableColumns<Line> =>
  (summary.value?.sizes ?? []).map((size, at) => ({
    title: `${size.grade}${size.size}`,
    key: size.size,
    ...number,
    minWidth: 60,
    render: (line: Line) => (line.masses[at] ? massHere(line.masses[at]).text : ''),
  }))
const whole: DataTableColumns<Line>[number] = {
  title: `All, ${kg}`,
  key: 'mass',
  ...number,
  minWidth: 80,
  render: (line) => h('b', massHere(line.mass).text),
}
const locationColumns = computed<DataTableColumns<Line>>(() => [
  { title: 'Location', key: 'name', minWidth: 150 },
  ...bySize(),
  whole,
])
const memberColumns = computed<DataTableColumns<Line>>(() => [
  { title: 'Member', key: 'name', minWidth: 80, render: (line) => h('b', line.name) },
  ...bySize(),
  whole,
  {
    title: 'kg/m³',
    key: 'ratio',
    ...number,
    minWidth: 58,
    render: (line) => (line.ratio ? shown(line.ratio, 0) : ''),
  },
  {
    title: 'usual',
    key: 'band',
    minWidth: 110,
    render: (line) => (line.band ? h(Band, { ratio: line.ratio ?? 0, band: line.band }) : ''),
  },
])
const members = computed<Line[]>(() =>
  (summary.value?.members ?? []).map((line) => {
    const head = props.schedule.members.find((m) => m.id === line.element)
    return { ...line, ratio: head?.ratio ?? null, band: head?.band ?? null }
  }),
)
type Fabric = Schemas['FabricView']
const fabricColumns: DataTableColumns<Fabric> = [
  { title: 'Fabric', key: 'kind' },
  { title: 'With laps m²', key: 'area', ...number, render: (f) => shown(f.area) },
  { title: 'Sheets', key: 'sheets', ...number, render: (f) => shown(f.sheets, 0) },
  { title: 'kg', key: 'mass', ...number, render: (f) => massHere(f.mass).text },
]
/** Where a ratio lies in the band usual for its kind. */
function Band({ ratio, band }: { ratio: number; band: number[] }) {
  const [low, high] = band
  const span = high * 1.2
  const off = ratio < low || ratio > high
  return h('span', { class: ['band', { off }], title: `${low} to ${high} kg/m³ is usual` }, [
    h('svg', { width: 56, height: 12, 'aria-hidden': true }, [
      h('line', { x1: 0, x2: 56, y1: 6, y2: 6, class: 'base' }),
      h('line', { x1: (low / span) * 56, x2: (high / span) * 56, y1: 6, y2: 6, class: 'usual' }),
      h('circle', { cx: Math.min(ratio / span, 1) * 56, cy: 6, r: 3 }),
    ]),
    ` ${low}–${high}`,
  ])
}
</script>

<template>
  <div v-if="summary" ref="sums" class="sums scroll" tabindex="0">
    <div class="pair">
      <section>
        <h3>By size</h3>
        <NDataTable :columns="sizeColumns" :data="summary.sizes" size="small" :bordered="false" />
      </section>
      <section v-if="summary.fabrics.length">
        <h3>Fabric</h3>
        <NDataTable :columns="fabricColumns" :data="summary.fabrics" size="small" :bordered="false" />
      </section>
    </div>
    <h3>By location</h3>
    <NDataTable :columns="locationColumns" :data="summary.locations" size="small" :bordered="false" />
    <h3>By member</h3>
    <NDataTable
      :columns="memberColumns"
      :data="members"
      size="small"
      :bordered="false"
      :virtual-scroll="members.length > 200"
      :max-height="members.length > 200 ? 420 : undefined"
    />
  </div>
</template>

<style scoped>
.sums {
  flex: 1;
  padding: 4px 12px 20px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  gap: 24px;
}
h3 {
  margin: 14px 0 4px;
  color: var(--quiet);
}
:deep(.n-data-table-td),
:deep(.n-data-table-th) {
  padding-inline: 7px;
}
:deep(.band) {
  white-space: nowrap;
  color: var(--quiet);
}
:deep(.base) {
  stroke: var(--rule);
  stroke-width: 2;
}
:deep(.usual) {
  stroke: var(--good);
  stroke-width: 4;
}
:deep(circle) {
  fill: var(--ink);
}
:deep(.off) {
  color: var(--bad);
  font-weight: 600;
}
</style>
