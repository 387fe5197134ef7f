<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useBill, useBuildUps, useProject, useSave } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import type { Column, Ledger, Row } from '../../desk/ledger/ledger'
import { money, quantity, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import { until } from '@vueuse/core'
import AdjustmentList from './AdjustmentList.vue'
import ItemQuantity from './ItemQuantity.vue'
import { useBillItems } from './items'

type Item = Schemas['ItemView']
const route = useRoute()
const walk = useWalkStore()
const tally = useTally()
const { save, trySave, tryMake, projectId } = useSave()
const { data: project } = useProject()
const { data: bill } = useBill()
const { data: rates } = useBuildUps()
const table = ref<Ledger>()
const chosen = ref<number | null>(null)
const section = ref<number | null>(null)
const title = ref('')
const readonly = computed(() => project.value?.role === 'viewer')
const { items, seen, at: itemAt, placeOf, known } = useBillItems(bill)
const item = computed(() => {
  if (chosen.value === null) return null
  return [...items.value.values()].find((i) => i.id === chosen.value) ?? known(chosen.value) ?? null
})
/** The place in the bill's order of each section's first item. */
const starts = computed(() => {
  let passed = 0
  return (bill.value?.sections ?? []).map((s) => (passed += s.holds) - s.holds)
})

walk.offer('bill')

const groups = computed(() => [
  {
    key: 'sections',
    title: 'Sections',
    empty: 'none yet',
    entries: (bill.value?.sections ?? []).map((s) => ({
      id: s.id,
      mark: s.ref,
      name: s.title,
      value: money(s.total),
      unit: '',
      to: `/projects/${projectId.value}/bill?at=section:${s.id}`,
    })),
  },
])
const kinds = [
  { value: 'measured', label: 'measured' },
  { value: 'provisional', label: 'provisional sum' },
  { value: 'prime_cost', label: 'prime cost sum' },
  { value: 'lump_sum', label: 'lump sum' },
  { value: 'rate_only', label: 'rate only' },
  { value: 'heading', label: 'heading' },
]
const brief: Record<string, string> = {
  provisional: 'prov.',
  prime_cost: 'p. cost',
  lump_sum: 'lump',
  rate_only: 'rate only',
  heading: 'heading',
}
const sums = ['provisional', 'prime_cost', 'lump_sum']
const ratesFor = (data: Item | null) => [
  { value: '', label: 'no rate' },
  ...(rates.value ?? [])
    .filter((r) => !data || r.unit === data.unit)
    .map((r) => ({ value: String(r.id), label: `${r.name}, ${money(r.rate)}` })),
]
const columns = computed<Column<Item>[]>(() => [
  { key: 'ref', label: 'Item', width: '46px', show: (i) => i.ref },
  {
    key: 'description',
    label: 'Description',
    wrap: true,
    text: (i) => i.description,
    title: (i) => i.description,
    hint: 'type a description to add an item',
  },
  {
    key: 'unit',
    label: 'Unit',
    width: '40px',
    text: (i) => i.unit,
    show: (i) => (sums.includes(i.kind) || i.kind === 'heading' ? '' : i.unit),
  },
  {
    key: 'typed_quantity',
    label: 'Quantity',
    number: true,
    width: '88px',
    text: (i) => i.typed_quantity,
    show: (i) =>
      sums.includes(i.kind) || i.kind === 'heading'
        ? ''
        : `${i.typed_quantity ? '✎ ' : ''}${quantity(i.quantity, i.unit)}`,
    title: (i) =>
      i.typed_quantity
        ? `Typed: ${i.typed_reason}`
        : `From ${i.links} quantity line${i.links === 1 ? '' : 's'}`,
    editable: (i) => i.links === 0 && (i.kind === 'measured' || i.kind === 'rate_only'),
    ref: (i) => `item-quantity:${i.id}`,
  },
  {
    key: 'build_up',
    label: 'Rate',
    number: true,
    width: '82px',
    text: (i) => (i.build_up ? String(i.build_up) : ''),
    show: (i) =>
      i.rate !== null ? money(i.rate) : sums.includes(i.kind) || i.kind === 'heading' ? '' : 'no rate',
    title: (i) => i.build_up_name || 'F2 picks a rate',
    choices: ratesFor,
    ref: (i) => (i.build_up ? `build-up:${i.build_up}` : `item:${i.id}`),
  },
  {
    key: 'typed_amount',
    label: `Amount ${project.value?.currency ?? ''}`,
    number: true,
    width: '104px',
    text: (i) => i.typed_amount,
    editable: (i) => sums.includes(i.kind),
    show: (i) => (i.kind === 'heading' ? '' : i.kind === 'rate_only' ? 'rate only' : money(i.amount)),
    title: (i) => (sums.includes(i.kind) ? 'The amount of a sum is typed' : ''),
    ref: (i) => `item:${i.id}`,
  },
  {
    key: 'kind',
    label: 'Kind',
    width: '66px',
    text: (i) => i.kind,
    show: (i) => (i.kind === 'measured' ? '' : brief[i.kind]),
    title: (i) => kinds.find((k) => k.value === i.kind)?.label ?? '',
    choices: kinds,
  },
])
const rows = computed<Row<Item>[]>(() => {
  if (!bill.value) return []
  const last = section.value ?? bill.value.sections.at(-1)?.id
  const body = bill.value.sections.flatMap((s, n): Row<Item>[] => [
    {
      id: `section-${s.id}`,
      kind: 'head',
      label: s.ref,
      cells: { description: s.title, typed_amount: money(s.total) },
      ref: `section:${s.id}`,
      level: s.depth,
    },
    ...Array.from({ length: s.holds }, (_, k) => lineAt(starts.value[n] + k)),
    ...(s.id === last && !readonly.value ? [{ id: 'new', kind: 'ghost' } as Row<Item>] : []),
  ])
  const foot: Row<Item>[] = [
    {
      id: 'items',
      kind: 'total',
      label: '',
      cells: { description: 'Sum of the items', typed_amount: money(bill.value.items_total) },
      ref: 'bill',
    },
    ...bill.value.adjustments.map((a): Row<Item> => ({
      id: `adjustment-${a.id}`,
      kind: 'step',
      label: '',
      cells: {
        description: `${a.name}, on the ${a.base_words}`,
        build_up: `${shown(a.percent, 0, 4)} %`,
        typed_amount: money(a.adds),
      },
      ref: 'bill',
    })),
    {
      id: 'total',
      kind: 'total',
      label: '',
      cells: {
        description: `Total, ${project.value?.currency ?? ''}`,
        typed_amount: money(bill.value.total),
      },
      ref: 'bill',
    },
  ]
  if (Number(bill.value.resting))
    foot.push({
      id: 'resting',
      kind: 'step',
      label: '',
      cells: {
        description: 'of it rests on figures that are being worked out',
        typed_amount: money(bill.value.resting),
      },
      ref: 'bill',
    })
  return [...body, ...foot]
})

/** A line of the table: empty until its item was read. */
function lineAt(place: number): Row<Item> {
  const i = items.value.get(place)
  if (!i) return { id: `waiting-${place}`, kind: 'line' }
  return {
    id: i.id,
    kind: 'line',
    data: i,
    warn: i.waiting
      ? 'Its quantity is being worked out.'
      : Number(i.amount) === 0 && !['heading', 'rate_only'].includes(i.kind)
        ? 'It adds nothing yet.'
        : '',
    struck: i.kind === 'rate_only',
  }
}
/** The rows in view, as places in the bill's order. */
function see(from: number, to: number) {
  let place = 0
  let first = -1
  rows.value.slice(0, to).forEach((row, at) => {
    if (row.kind !== 'line') return
    if (at >= from && first < 0) first = place
    place += 1
  })
  const now = { from: Math.max(first, 0), to: Math.max(place - 1, 0) }
  if (now.from !== seen.value.from || now.to !== seen.value.to) seen.value = now
}

// Walking to an item or section: put the cursor there.
watch(
  [() => route.query.at, () => Boolean(bill.value), table],
  () => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    const columnOf: Record<string, number> = { item: 5, 'item-quantity': 3 }
    if (kind in columnOf && bill.value) void goTo(Number(id), columnOf[kind])
    if (kind === 'section') section.value = Number(id)
  },
  { immediate: true, flush: 'post' },
)

/** Put the cursor on an item, wherever in the bill it stands. */
async function goTo(id: number, column: number) {
  const place = await placeOf(id).catch(() => -1)
  if (place < 0) return
  if (!items.value.has(place)) seen.value = { from: place, to: place }
  await until(() => items.value.has(place)).toBe(true, { timeout: 5000 })
  table.value?.activateRow(id, column)
}

const body = (key: string, text: string) =>
  key === 'build_up' ? { build_up: text ? Number(text) : null } : { [key]: text }
const commit = (i: Item, key: string, text: string) => {
  if (key === 'typed_quantity' && text && !i.typed_reason) {
    reasonFor.value = { item: i, text }
    return Promise.resolve('Say below where this quantity comes from.')
  }
  return trySave((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/items/{item}', {
        params: { path: { project_id: projectId.value, item: i.id } },
        body: { version: version ?? i.version, ...body(key, text) },
      }),
    ),
  )
}
const reasonFor = ref<{ item: Item; text: string } | null>(null)
const reason = ref('')
async function typeQuantity() {
  const now = reasonFor.value
  if (!now) return
  const done = await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/items/{item}', {
        params: { path: { project_id: projectId.value, item: now.item.id } },
        body: { version: version ?? now.item.version, typed_quantity: now.text, typed_reason: reason.value },
      }),
    ),
  )
  if (!done) return
  reasonFor.value = null
  reason.value = ''
  table.value?.forget(now.item.id, 'typed_quantity')
  table.value?.activateRow(now.item.id, 3)
  table.value?.focus()
}
async function add(key: string, text: string): Promise<number | string> {
  const into = section.value ?? bill.value?.sections.at(-1)?.id
  if (!into) return 'A bill needs a section before it can hold an item. Make one first.'
  return tryMake(() =>
    ask(
      client.POST('/api/projects/{project_id}/items', {
        params: { path: { project_id: projectId.value } },
        body: { section: into, description: 'New item', unit: 'nr', ...body(key, text) },
      }),
    ),
  )
}
const remove = (i: Item) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/items/{item}', {
        params: { path: { project_id: projectId.value, item: i.id } },
      }),
    ),
  )
function look(row: Row<Item>, column: Column<Item>) {
  if (row.data) {
    chosen.value = row.data.id
    walk.look(column.ref?.(row.data) ?? `item:${row.data.id}`)
  } else if (row.ref) walk.look(row.ref)
}
function select(cells: { row: Row<Item>; column: Column<Item> }[]) {
  const sum = cells.reduce(
    (total, { row, column }) =>
      total + (row.data && column.key === 'typed_amount' ? Number(row.data.amount) : 0),
    0,
  )
  tally.selected = sum ? [{ label: 'Selected', value: money(sum), unit: project.value?.currency ?? '' }] : []
}
async function addSection() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/sections', {
        params: { path: { project_id: projectId.value } },
        body: { title: title.value },
      }),
    ),
  )
  if (!saved) return
  title.value = ''
  section.value = saved.id ?? null
}
const move = (i: Item, section_id: number, before: number | null) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/items/{item}/move', {
        params: { path: { project_id: projectId.value, item: i.id } },
        body: { section: section_id, before },
      }),
    ),
  )
/** Alt and an arrow put an item up or down, from the end of a section on into the next. */
async function shift(i: Item, by: number) {
  const sections = bill.value?.sections ?? []
  const at = sections.findIndex((s) => s.id === i.section)
  const place = (await placeOf(i.id)) - starts.value[at]
  if (place + by >= 0 && place + by < sections[at].holds) {
    const beyond = by < 0 ? place - 1 : place + 2
    const before = beyond < sections[at].holds ? await itemAt(starts.value[at] + beyond) : undefined
    await move(i, sections[at].id, before?.id ?? null)
  } else if (sections[at + by]) {
    const first = by > 0 && sections[at + by].holds ? await itemAt(starts.value[at + by]) : undefined
    await move(i, sections[at + by].id, first?.id ?? null)
  }
}
const inFocus = computed(() => bill.value?.sections.find((s) => s.id === section.value))
const renameSection = (words: string) => {
  const now = inFocus.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/sections/{section}', {
        params: { path: { project_id: projectId.value, section: now.id } },
        body: { version: version ?? now.version, title: words },
      }),
    ),
  )
}
/** The section in focus, put up or down among those of its level. */
async function shiftSection(by: number) {
  const all = bill.value?.sections ?? []
  const now = all.find((s) => s.id === section.value)
  if (!now) return
  const level = all.filter((s) => s.parent === now.parent)
  const place = level.indexOf(now)
  if (!level[place + by]) return
  const before = by < 0 ? level[place - 1].id : (level[place + 2]?.id ?? null)
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/sections/{section}/move', {
        params: { path: { project_id: projectId.value, section: now.id } },
        body: { parent: now.parent, before },
      }),
    ),
  )
}
</script>

<template>
  <Stage label="Sections">
    <template #list>
      <ListPane find="Find a section" :groups="groups" :chosen="section">
        <form v-if="!readonly" class="new" @submit.prevent="addSection">
          <NInput
            v-model:value="title"
            size="small"
            placeholder="A new section"
            :input-props="{ 'aria-label': 'Title of a new section' }"
          /><NButton size="small" attr-type="submit" :disabled="!title.trim()">Add</NButton>
        </form>
        <p v-if="inFocus && !readonly" class="order">
          <EntryField
            :value="inFocus.title"
            :label="`Title of section ${inFocus.ref}`"
            @change="renameSection"
          />
          <button class="plain quiet" @click="shiftSection(-1)">↑ section up</button>
          <button class="plain quiet" @click="shiftSection(1)">↓ section down</button>
        </p>
        <AdjustmentList v-if="bill" :adjustments="bill.adjustments" :readonly="readonly" />
      </ListPane>
    </template>
    <div v-if="bill && !bill.sections.length" class="empty">
      <h2>The bill is empty</h2>
      <p>
        Measure an element and press “Into the bill”: the items it needs are made here and draw on its
        quantities. Or add a section at the left and type items.
      </p>
    </div>
    <template v-else-if="bill">
      <LedgerTable
        ref="table"
        label="Bill of quantities"
        :columns="columns"
        :rows="rows"
        :commit="commit"
        :add="add"
        :remove="remove"
        :shift="shift"
        :readonly="readonly"
        @seen="see"
        @look="look"
        @select="select"
      />
      <form v-if="reasonFor" class="reason" @submit.prevent="typeQuantity">
        <label
          >Quantity {{ reasonFor.text }} {{ reasonFor.item.unit }} is typed. It comes from
          <NInput
            v-model:value="reason"
            size="small"
            placeholder="specification, clause 2.14"
            :input-props="{ autofocus: true, required: true, 'aria-label': 'Reason for the typed quantity' }"
        /></label>
        <NButton type="primary" size="small" attr-type="submit">Keep it</NButton>
      </form>
      <ItemQuantity v-else-if="item" :item="item" :readonly="readonly" />
    </template>
  </Stage>
</template>

<style scoped>
.new {
  display: flex;
  gap: 6px;
  padding: 8px 12px;
}
.new input {
  flex: 1;
  min-width: 0;
  height: 26px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  background: var(--panel);
  color: inherit;
  font-size: 13px;
}
.order {
  display: flex;
  gap: 14px;
  margin: 0;
  padding: 0 12px;
}
.reason {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px 12px;
  border-top: 2px solid var(--accent);
  background: var(--accent-soft);
}
.reason input {
  width: 280px;
  height: 26px;
  padding: 0 6px;
  border: 1px solid #b9b1a3;
  font: inherit;
}
</style>
