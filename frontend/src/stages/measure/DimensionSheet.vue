<script setup lang="ts">
// The dimension sheet of an element: its lines, what they come to, and what its make-up asks.
import { computed, ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import type { BlockEdit, Column, Ledger, Row } from '../../desk/ledger/ledger'
import { quantity, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import LinesDialog from './LinesDialog.vue'
import MakeUpInputs from './MakeUpInputs.vue'
import Quantities from './Quantities.vue'
import ReplaceBar from './ReplaceBar.vue'

type Line = Schemas['LineView']
const props = defineProps<{ element: Schemas['ElementView']; line: number | null; readonly?: boolean }>()
const emit = defineEmits<{ look: [line: number | null]; remove: [] }>()
const { save, trySave, tryMake, projectId } = useSave()
const walk = useWalkStore()
const tally = useTally()
const table = ref<Ledger>()
const asking = ref(false)
const column = ref<Schemas['Replacement']['field']>('note')
const chosen = ref<number[]>([])
const moving = ref<'lines' | 'element' | null>(null)
const replacing = ref(false)

const columns = computed<Column<Line>[]>(() => {
  const size = (key: 'length' | 'width' | 'height', label: string): Column<Line> => ({
    key,
    label,
    number: true,
    width: '74px',
    text: (l) => l[key],
    show: (l) =>
      key === 'length' && l.measured_as === 'length'
        ? shown(l.measures, 2)
        : /^[\d.]+$/.test(l[key])
          ? shown(l[key], 2, 4)
          : l[key],
    ref: (l) => `line:${l.id}`,
  })
  return [
    {
      key: 'times',
      label: 'Times',
      number: true,
      width: '66px',
      text: (l) => (l.deduct ? `ddt ${l.times}`.trim() : l.times),
      show: timesShown,
    },
    size('length', 'Length m'),
    size('width', 'Width m'),
    size('height', 'Height m'),
    {
      key: 'squared',
      label: `Squared ${props.element.unit}`,
      number: true,
      width: '94px',
      show: (l) => shown(l.squared),
      ref: (l) => `line:${l.id}`,
    },
    { key: 'note', label: 'Note', wrap: true, text: (l) => l.note, hint: 'type or draw' },
    {
      key: 'source',
      label: 'From',
      wrap: true,
      width: '136px',
      show: (l) => (l.figure ? `${l.figure_shows}, ${l.source}` : l.source),
      title: (l) => `${l.figure_shows} ${l.source}`,
      ref: (l) => (l.figure ? `figure:${l.figure}` : `line:${l.id}`),
    },
  ]
})
function timesShown(l: Line): string {
  const count = l.measured_as === 'times' ? shown(l.measures, 0, 2) : ''
  return [l.deduct ? 'ddt' : '', [l.times.replace(/\/$/, ''), count].filter(Boolean).join('/')]
    .filter(Boolean)
    .join(' ')
}
const rows = computed<Row<Line>[]>(() => [
  ...props.element.lines.map((l): Row<Line> => ({
    id: l.id,
    kind: 'line',
    data: l,
    warn: l.findings.join(' '),
    struck: !l.counted,
  })),
  ...(props.readonly ? [] : [{ id: 'new', kind: 'ghost' } as Row<Line>]),
])

const fieldOf = (key: string, text: string) => {
  if (key !== 'times') return { [key]: text }
  const deduct = /^(ddt|-|−)/i.test(text.trim())
  return { times: text.trim().replace(/^(ddt|-|−)\s*/i, ''), deduct }
}
const commit = (l: Line, key: string, text: string) =>
  trySave((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/lines/{line}', {
        params: { path: { project_id: projectId.value, line: l.id } },
        body: { version: version ?? l.version, ...fieldOf(key, text) },
      }),
    ),
  )
async function add(key: string, text: string): Promise<number | string> {
  return tryMake(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/lines', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: fieldOf(key, text),
      }),
    ),
  )
}
/** Many cells as one change, undone as one. */
async function commitBlock(edits: BlockEdit<Line>[]): Promise<string | null> {
  const lines = edits.map(({ data, fields }) => ({
    line: data?.id ?? null,
    version: data?.version ?? 0,
    ...Object.assign({}, ...Object.entries(fields).map(([key, text]) => fieldOf(key, text))),
  }))
  return trySave(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/lines/block', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { lines },
      }),
    ),
  )
}
const shift = (l: Line, by: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/lines/{line}/move', {
        params: { path: { project_id: projectId.value, line: l.id } },
        body: { by },
      }),
    ),
  )
const removeLine = (l: Line) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/lines/{line}', {
        params: { path: { project_id: projectId.value, line: l.id } },
      }),
    ),
  )

function look(row: Row<Line>, column_: Column<Line>) {
  const { key } = column_
  if (key === 'times' || key === 'length' || key === 'width' || key === 'height' || key === 'note')
    column.value = key
  emit('look', row.data?.id ?? null)
  if (row.data) walk.look(column_.ref?.(row.data) ?? `line:${row.data.id}`)
}
/** What the chosen cells add up to: lengths by themselves, and what they square to by itself. */
function sumsOf(cells: { row: Row<Line>; column: Column<Line> }[]) {
  const sums = new Map<string, number>()
  for (const { row, column } of cells) {
    if (!row.data || !column.number || column.key === 'times') continue
    const squared = column.key === 'squared'
    const value = Number(squared ? row.data.squared : column.show?.(row.data).replaceAll('\u00a0', ''))
    const unit = squared ? props.element.unit : 'm'
    if (Number.isFinite(value)) sums.set(unit, (sums.get(unit) ?? 0) + value)
  }
  return [...sums].map(([unit, sum], at) => ({ label: at ? '' : 'Selected', value: shown(sum), unit }))
}
function select(cells: { row: Row<Line>; column: Column<Line> }[]) {
  chosen.value = [...new Set(cells.flatMap(({ row }) => (row.data ? [row.data.id] : [])))]
  const sums = cells.length > 1 ? sumsOf(cells) : []
  const headline = props.element.quantities.find((q) => q.label === props.element.headline)
  tally.selected = [
    ...sums,
    ...(headline
      ? [{ label: props.element.mark, value: quantity(headline.net, headline.unit), unit: headline.unit }]
      : []),
  ]
}
defineExpose({ focus: () => table.value?.activateRow(props.element.lines[0]?.id ?? 'new', 0) })
function leaveMakeUp() {
  asking.value = false
  table.value?.focus()
}
watch(asking, (now) => now && (walk.folded = false))
watch(
  () => props.element,
  () => select([]),
  { immediate: true },
)
watch(
  [() => props.line, table],
  () => props.line !== null && table.value?.activateRow(props.line, undefined, true),
)
</script>

<template>
  <section
    class="dimension-sheet"
    :aria-label="`Dimension sheet of ${element.mark}`"
    @keydown.ctrl.h.prevent="replacing = true"
  >
    <div class="desk-head">
      <b>{{ element.mark }}, dimension sheet</b>
      <button class="plain link" :aria-expanded="asking" @click="asking = !asking">
        Make-up: {{ element.made_by }}
      </button>
      <span v-if="element.says.length" class="found" :title="element.says.join('\n')"
        >{{ element.says[0] }}{{ element.says.length > 1 ? ` (+${element.says.length - 1})` : '' }}</span
      >
      <span class="push"></span>
      <Menu v-if="!readonly" v-slot="{ close }" label="Element" right>
        <button class="plain" @click="((replacing = true), close())">
          Find and replace <kbd>Ctrl H</kbd>
        </button>
        <button class="plain" :disabled="!chosen.length" @click="((moving = 'lines'), close())">
          Move or copy {{ chosen.length === 1 ? 'the line' : `${chosen.length} lines` }} to another element
        </button>
        <button class="plain" @click="((moving = 'element'), close())">
          Copy {{ element.mark }} to a location
        </button>
        <button
          class="plain"
          title="With its lines and figures; undo brings it back"
          @click="(emit('remove'), close())"
        >
          Delete {{ element.mark }}
        </button>
      </Menu>
    </div>
    <ReplaceBar
      v-if="replacing"
      :element="element.id"
      :mark="element.mark"
      :field="column"
      @close="((replacing = false), table?.focus())"
    />
    <LinesDialog v-if="moving" :element="element" :lines="chosen" :what="moving" @close="moving = null" />
    <div class="lines">
      <LedgerTable
        ref="table"
        :label="`Dimension lines of ${element.mark}`"
        :columns="columns"
        :rows="rows"
        :commit="commit"
        :add="add"
        :remove="removeLine"
        :commit-block="commitBlock"
        :shift="shift"
        :readonly="readonly"
        @look="look"
        @select="select"
      />
    </div>
    <Teleport defer to="#beside" :disabled="walk.folded">
      <Quantities :element="element" :readonly="readonly ?? false" />
    </Teleport>
    <Teleport v-if="asking" defer to="#in-place">
      <MakeUpInputs :element="element" :readonly="readonly ?? false" @close="leaveMakeUp" />
    </Teleport>
  </section>
</template>

<style scoped>
.dimension-sheet {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.lines {
  display: flex;
  flex: 1;
  min-height: 0;
}
.found {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--accent-ink);
}
</style>
