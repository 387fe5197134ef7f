<script setup lang="ts">
// The sections of a route, one key to the next: each drawn, what is counted of it shown or hidden, and the table by
// chainage that it stands in.
import { NButton, NCheckbox } from 'naive-ui'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { readTable, useRouteTable, useSections } from '../../api/ground'
import { useProjectId } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import { writeBlock, type Column, type Row } from '../../desk/ledger/ledger'
import { shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import LegendEntry from './LegendEntry.vue'
import RouteDrawing from './RouteDrawing.vue'
import { hatchOf, type Way } from './routes'
import { areaShown, cubicHere, squareHere } from './units'

const props = defineProps<{ way: Way; made: string; at: number }>()
const emit = defineEmits<{ go: [at: number]; papers: [names: string[], chosen: string[]] }>()
const walk = useWalkStore()
const project = useProjectId()
const here = computed(() => props.at)
const { data: page } = useSections(
  () => props.way.id,
  () => props.made,
  here,
)
/** The table follows once a key that is held down rests. */
const rested = refDebounced(here, 80)
const { data: table, error } = useRouteTable(
  () => props.way.id,
  () => props.made,
  rested,
)
const section = computed(() => page.value?.sections.find((s) => s.at === props.at) ?? null)
/** What was drawn last stays until the next is there. */
const drawn = ref(section.value)
watch(section, (now) => now && (drawn.value = now), { immediate: true })
const hidden = ref(new Set<string>())
function toggle(name: string) {
  const now = new Set(hidden.value)
  if (!now.delete(name)) now.add(name)
  hidden.value = now
}
const told = (name: string) => name[0].toUpperCase() + name.slice(1)

interface Line {
  id: number
  at: number
  chainage: number
  areas: (number | null)[]
  volumes: (number | null)[]
  running: number[]
}
const asked = ref({ areas: true, volumes: true, running: false })
const left = ref(new Set<string>())
const names = computed(() => table.value?.names ?? [])
const chosen = computed(() =>
  names.value.map((name, n) => ({ name, n })).filter(({ name }) => !left.value.has(name)),
)
function choose(name: string) {
  const now = new Set(left.value)
  if (!now.delete(name)) now.add(name)
  left.value = now
}
const UNITS: Record<string, [string, (v: number) => number, (v: number) => number]> = {
  'm³': ['m²', squareHere, cubicHere],
  'm²': ['m', lengthHere, squareHere],
  m: ['nr', (v) => v, lengthHere],
}
const columns = computed<Column<Line>[]>(() => {
  const found: Column<Line>[] = [
    { key: 'chainage', label: `Chainage ${unitHere('m')}`, number: true, width: '96px', show: (r) => shown(lengthHere(r.chainage)) },
  ] // prettier-ignore
  for (const { name, n } of chosen.value) {
    const whole = table.value?.units[n] ?? 'm³'
    const [across, area, volume] = UNITS[whole]
    const ref_ = (r: Line) => `route-section:${props.way.id}:${r.at}:${table.value?.keys[n]}`
    const of = (key: string, label: string, show: (r: Line) => string): Column<Line> =>
      ({ key: `${key} ${name}`, label, number: true, width: '84px', show, ref: ref_ }) // prettier-ignore
    if (asked.value.areas)
      found.push(of('area', `${told(name)} ${unitHere(across)}`, (r) => (r.areas[n] === null ? '' : shown(area(r.areas[n]!), across === 'nr' ? 0 : 3, 3)))) // prettier-ignore
    if (asked.value.volumes)
      found.push(of('volume', asked.value.areas ? unitHere(whole) : `${told(name)} ${unitHere(whole)}`, (r) => (r.volumes[n] === null ? '' : shown(volume(r.volumes[n]!), 2, 2)))) // prettier-ignore
    if (asked.value.running)
      found.push(of('running', `up to here ${unitHere(whole)}`, (r) => shown(volume(r.running[n]), 2, 2)))
  }
  return found
})
const lines = (of: NonNullable<typeof table.value>): Line[] =>
  of.chainages.map((chainage, n) => ({
    id: of.first + n + 1,
    at: of.first + n,
    chainage,
    areas: of.areas.map((each) => each[n]),
    volumes: of.volumes.map((each) => each[n]),
    running: of.running.map((each) => each[n]),
  }))
const rows = computed<Row<Line>[]>(() => (table.value ? lines(table.value).map((r) => ({ id: r.id, kind: 'line', data: r })) : [])) // prettier-ignore
const totals = computed(() => {
  const cells: Record<string, string> = {}
  table.value?.totals.forEach((whole, n) => {
    const name = names.value[n]
    cells[`volume ${name}`] = shown(UNITS[table.value!.units[n]][2](whole), 2, 2)
  })
  return cells
})
const withTotals = computed<Row<Line>[]>(() => [
  ...rows.value,
  { id: 'whole', kind: 'total', label: '', cells: { chainage: 'whole', ...totals.value } },
])
const grid = ref<{ activateRow: (id: number, column?: number, quietly?: boolean) => void }>()
watch([rested, rows], () => grid.value?.activateRow(rested.value + 1, undefined, true), {
  flush: 'post',
  immediate: true,
})
function look(row: Row<Line>, column: Column<Line>) {
  if (!row.data) return
  if (row.data.at !== props.at) emit('go', row.data.at)
  if (column.ref) walk.look(column.ref(row.data))
}
const copied = ref('')
/** The whole table, as it is chosen, onto the clipboard. */
async function copy() {
  const all: Line[] = []
  for (let first = 0; first < props.way.chainages.length; first += 400)
    all.push(...lines(await readTable(project.value, props.way.id, first, 400)))
  const head = columns.value.map((c) => c.label)
  const cells = all.map((row) => columns.value.map((c) => c.show!(row).replace(/\u00a0/g, '')))
  await navigator.clipboard.writeText(writeBlock([head, ...cells]))
  copied.value = `${all.length} rows copied`
  setTimeout(() => (copied.value = ''), 3000)
}
</script>

<template>
  <RouteDrawing
    v-if="drawn"
    class="drawing"
    :shapes="drawn.shapes"
    :finished="drawn.finished"
    :formation="drawn.formation"
    :ground="drawn.ground"
    :layers="way.layers"
    :hidden="hidden"
    :label="`Section at ${shown(lengthHere(drawn.chainage))} ${unitHere('m')}`"
  />
  <p v-else-if="page || error" class="quiet nothing">{{ error?.message ?? 'There is no section yet.' }}</p>
  <p v-if="drawn" class="legend">
    <LegendEntry
      v-for="s in drawn.shapes"
      :key="s.name"
      :name="told(s.name)"
      :hatch="hatchOf(s.name, way.layers)"
      :hidden="hidden.has(s.name)"
      :area="areaShown(s.area)"
      @toggle="toggle(s.name)"
    />
    <span class="quiet">{{ unitHere('m²') }}</span>
    <span class="push"></span>
    <span v-if="copied" class="quiet" role="status">{{ copied }}</span>
    <Menu v-memo="[columns, left, asked]" label="Columns" right>
      <NCheckbox v-model:checked="asked.areas" size="small">what there is at each section</NCheckbox>
      <NCheckbox v-model:checked="asked.volumes" size="small">from the section before</NCheckbox>
      <NCheckbox v-model:checked="asked.running" size="small">up to here</NCheckbox>
      <NCheckbox
        v-for="name in names"
        :key="name"
        size="small"
        :checked="!left.has(name)"
        @update:checked="choose(name)"
        >{{ told(name) }}</NCheckbox
      >
    </Menu>
    <Menu v-memo="[names, chosen]" label="Out" right>
      <template #default="{ close }">
        <NButton text @click="(close(), copy())">Copy the table</NButton>
        <NButton
          text
          @click="
            (close(),
            emit(
              'papers',
              names,
              chosen.map((c) => c.name),
            ))
          "
          >PDF, workbook, CSV or drawing…</NButton
        >
      </template>
    </Menu>
  </p>
  <LedgerTable
    v-if="page || error"
    ref="grid"
    v-memo="[columns, withTotals]"
    class="table"
    :label="`Table of ${way.mark} by chainage`"
    :columns="columns"
    :rows="withTotals"
    readonly
    @look="look"
  />
</template>

<style scoped>
.drawing {
  flex: 1 1 50%;
}
.legend {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  margin: 0;
  padding: 3px 12px;
  border-top: 1px solid var(--rule);
}
.push {
  margin-left: auto;
}
.table {
  flex: 1 1 40%;
  min-height: 0;
}
.nothing {
  padding: 8px 14px;
}
</style>
