<script setup lang="ts">
// The dimension sheet of an element: its lines, what they come to, and what its make-up asks.
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useMakeUps, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import type { BlockEdit, Column, Ledger, Row } from '../../desk/ledger/ledger'
import { quantity, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import LinesDialog from './LinesDialog.vue'
import ReplaceBar from './ReplaceBar.vue'
import Sketch from './Sketch.vue'

type Line = Schemas['LineView']
const props = defineProps<{ element: Schemas['ElementView']; line: number | null; readonly?: boolean }>()
const emit = defineEmits<{ look: [line: number | null]; remove: [] }>()
const { save, trySave, tryMake, projectId } = useSave()
const { data: makeups } = useMakeUps()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
const table = ref<Ledger>()
const tab = ref<'lines' | 'makeup'>('lines')
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

function look(row: Row<Line>, column: Column<Line>) {
  emit('look', row.data?.id ?? null)
  if (row.data) walk.look(column.ref?.(row.data) ?? `line:${row.data.id}`)
}
function select(cells: { row: Row<Line>; column: Column<Line> }[]) {
  chosen.value = [...new Set(cells.flatMap(({ row }) => (row.data ? [row.data.id] : [])))]
  const numbers = cells.map(({ row, column }) =>
    row.data && column.number && column.key !== 'times'
      ? Number(column.key === 'squared' ? row.data.squared : (column.text?.(row.data) ?? ''))
      : NaN,
  )
  const sum = numbers.filter((n) => Number.isFinite(n)).reduce((a, b) => a + b, 0)
  const headline = props.element.quantities.find((q) => q.label === props.element.headline)
  tally.selected = [
    ...(cells.length > 1
      ? [
          {
            label: 'Selected',
            value: shown(sum),
            unit: cells.every((c) => c.column.key === 'squared') ? props.element.unit : 'm',
          },
        ]
      : []),
    ...(headline
      ? [{ label: props.element.mark, value: quantity(headline.net, headline.unit), unit: headline.unit }]
      : []),
  ]
}
watch(
  () => props.element,
  () => select([]),
  { immediate: true },
)
watch(
  [() => props.line, table],
  () => props.line !== null && table.value?.activateRow(props.line, undefined, true),
)

const entry = (input: Schemas['InputView'], value: string) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, inputs: { [input.key]: value } },
      }),
    ),
  )
const change = (body: { mark?: string; description?: string; makeup?: string }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, ...body },
      }),
    ),
  )
const intoBill = () =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/bill', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
      }),
    ),
  )
const unlinked = computed(() =>
  props.element.quantities.some((q) => q.billed && q.item === null && q.net !== 0),
)
</script>

<template>
  <section
    class="dimension-sheet"
    :aria-label="`Dimension sheet of ${element.mark}`"
    @keydown.ctrl.h.prevent="replacing = true"
  >
    <div class="desk-head">
      <b>{{ element.mark }}</b>
      <div role="tablist" class="tabs">
        <button role="tab" class="plain" :aria-selected="tab === 'lines'" @click="tab = 'lines'">
          Dimension sheet
        </button>
        <button role="tab" class="plain" :aria-selected="tab === 'makeup'" @click="tab = 'makeup'">
          Make-up: {{ element.made_by }}
        </button>
      </div>
      <span v-if="element.says.length" class="found" :title="element.says.join('\n')"
        >{{ element.says[0] }}{{ element.says.length > 1 ? ` (+${element.says.length - 1})` : '' }}</span
      >
      <span class="push"></span>
      <NButton v-if="!readonly && unlinked" type="primary" size="small" @click="intoBill"
        >Into the bill</NButton
      >
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
    <ReplaceBar v-if="replacing" :element="element.id" :mark="element.mark" @close="replacing = false" />
    <LinesDialog v-if="moving" :element="element" :lines="chosen" :what="moving" @close="moving = null" />
    <div v-show="tab === 'lines'" class="lines">
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
    <div v-if="tab === 'makeup'" class="scroll inputs">
      <label class="field"
        ><span>Mark</span
        ><EntryField :value="element.mark" :disabled="readonly" @change="change({ mark: $event })"
      /></label>
      <label class="field"
        ><span>Description</span
        ><EntryField
          :value="element.description"
          :disabled="readonly"
          @change="change({ description: $event })"
      /></label>
      <label class="field">
        <span>Make-up</span>
        <ChoiceField :value="element.makeup" :disabled="readonly" :choose="(makeup) => change({ makeup })">
          <option v-for="m in makeups" :key="m.key" :value="m.key">{{ m.name }}</option>
        </ChoiceField>
      </label>
      <label
        v-for="input in element.inputs"
        :key="input.key"
        class="field"
        :class="{ own: input.entered, wide: input.words }"
        :title="input.hint"
      >
        <span
          >{{ input.label }}<i v-if="input.unit">&nbsp;{{ input.unit }}</i></span
        >
        <ChoiceField
          v-if="input.choices.length"
          :value="input.entry"
          :disabled="readonly"
          :choose="(choice) => entry(input, choice)"
        >
          <option v-for="choice in input.choices" :key="choice" :value="choice">{{ choice }}</option>
        </ChoiceField>
        <EntryField
          v-else
          :value="input.entry"
          :disabled="readonly"
          :class="{ num: !input.words }"
          @change="entry(input, $event)"
        />
      </label>
      <Sketch :parts="element.sketch" />
      <p class="about quiet">
        {{ element.about }} Entries that differ from the make-up's own are in bold; empty one to take the
        make-up's back.
      </p>
    </div>
    <div class="quantities">
      <div v-for="q in element.quantities" :key="q.output" class="quantity">
        <button
          class="plain"
          :title="`Show how ${q.label.toLowerCase()} comes about`"
          @click="walk.look(`quantity:${element.id}:${q.output}`)"
        >
          <span class="link">{{ q.label }}</span> <b class="num">{{ quantity(q.net, q.unit) }}</b>
          <span class="quiet">{{ q.unit }}</span>
        </button>
        <span class="quiet">{{
          q.waste ? `${quantity(q.gross, q.unit)} with ${shown(q.waste, 0, 2)} % waste` : 'no waste'
        }}</span>
        <button
          v-if="q.item"
          class="plain link"
          @click="router.push(`/projects/${projectId}/bill?at=item-quantity:${q.item}`)"
        >
          item {{ q.item_ref }}
        </button>
        <span v-else-if="q.pack" class="quiet">{{ q.pack }}</span>
        <span v-else class="quiet">{{ q.billed ? 'not in the bill' : 'material' }}</span>
      </div>
    </div>
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
.tabs {
  display: flex;
  gap: 14px;
}
.tabs button {
  padding: 4px 0;
  color: var(--quiet);
}
.tabs button[aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -2px var(--accent);
}
.found {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--accent-ink);
}
.inputs {
  display: grid;
  flex: 1;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  align-content: start;
  gap: 8px 14px;
  padding: 10px 12px;
}
.inputs input,
.inputs select {
  height: 26px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  background: var(--panel);
  color: var(--ink);
  font-size: 13px;
}
.inputs .field {
  justify-content: end; /* a label of two lines keeps the fields of its row level */
}
.inputs .field > span {
  line-height: 1.25;
}
.own input,
.own select {
  font-weight: 600;
}
.wide {
  grid-column: span 2;
}
i {
  font-style: normal;
}
.about {
  grid-column: 1 / -1;
  margin: 0;
}
.quantities {
  border-top: 1px solid var(--ink);
  max-height: 45%;
  overflow: auto;
}
.quantity {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) 110px;
  gap: 12px;
  align-items: center;
  min-height: 26px;
  padding: 0 12px;
  border-bottom: 1px solid var(--rule);
}
.quantity > button:first-child {
  display: grid;
  grid-template-columns: 1fr 90px 34px;
  gap: 8px;
}
.quantity b {
  text-align: right;
}
</style>
