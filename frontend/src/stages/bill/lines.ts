// The bill as a ledger table: its items under their sections, and its foot.
import { until } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUps, useProject, useProjectId } from '../../api/project'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { money, rateShown, quantity, shown } from '../../desk/numbers'
import { useBillItems } from './items'

type Item = Schemas['ItemView']
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

/** `section` is where a new item goes. */
export function useBillLines(bill: Ref<Schemas['BillOutline'] | undefined>, section: Ref<number | null>) {
  const projectId = useProjectId()
  const { data: project } = useProject()
  const { data: rates } = useBuildUps()
  const { items, seen, at: itemAt, placeOf, known } = useBillItems(bill)
  const focused = ref<number | null>(null)
  /** The item in focus, also after scrolling away from it. */
  const item = computed(() => {
    const id = focused.value
    if (id === null) return null
    return [...items.value.values()].find((i) => i.id === id) ?? known(id) ?? null
  })
  /** A quantity typed, that waits for where it comes from. */
  const reasonFor = ref<{ item: Item; text: string } | null>(null)
  const at = (id: number) => ({ params: { path: { project_id: projectId.value, item: id } } })
  const write = (i: Item, version: number, fields: Record<string, unknown>) =>
    ask(
      client.PATCH('/api/projects/{project_id}/items/{item}', { ...at(i.id), body: { version, ...fields } }),
    )
  const stage = useLedgerStage<Item>(() => [...items.value.values()], {
    write,
    make(fields) {
      const into = section.value ?? bill.value?.sections.at(-1)?.id
      if (!into) return 'A bill needs a section before it can hold an item. Make one first.'
      const params = { path: { project_id: projectId.value } }
      const body = { section: into, description: 'New item', unit: 'nr', ...fields }
      return () => ask(client.POST('/api/projects/{project_id}/items', { params, body }))
    },
    drop: (i) => ask(client.DELETE('/api/projects/{project_id}/items/{item}', at(i.id))),
    ref: (i) => `item:${i.id}`,
    fields: (key, text) => (key === 'build_up' ? { build_up: text ? Number(text) : null } : { [key]: text }),
  })
  function commit(i: Item, key: string, text: string) {
    if (key !== 'typed_quantity' || !text || i.typed_reason) return stage.commit(i, key, text)
    reasonFor.value = { item: i, text }
    return Promise.resolve('Say below where this quantity comes from.')
  }
  function look(row: Row<Item>, column: Column<Item>) {
    if (row.data) focused.value = row.data.id
    stage.look(row, column)
  }

  /** The place in the bill's order of each section's first item. */
  const starts = computed(() => {
    let passed = 0
    return (bill.value?.sections ?? []).map((s) => (passed += s.holds) - s.holds)
  })

  const ratesFor = (data: Item | null) => [
    { value: '', label: 'no rate' },
    ...(rates.value ?? [])
      .filter((r) => r.kind !== 'reference' && (!data || r.unit === data.unit))
      .map((r) => ({
        value: String(r.id),
        label: r.kind === 'banded' ? `${r.name}, by band` : `${r.name}, ${rateShown(r.rate)}`,
      })),
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
    ...([...items.value.values()].some((i) => i.sized_by)
      ? [
          {
            key: 'size',
            label: 'Band by',
            number: true,
            width: '86px',
            text: (i: Item) => i.size,
            show: (i: Item) => (i.sized_by ? i.size || 'unsaid' : ''),
            unit: (i: Item) => i.sized_in,
            editable: (i: Item) => !!i.sized_by,
            title: (i: Item) => (i.sized_by ? `Its ${i.sized_by}, which picks the band of its rate` : ''),
            ref: (i: Item) => `item-band:${i.id}`,
          },
        ]
      : []),
    {
      key: 'build_up',
      label: 'Rate',
      number: true,
      width: '82px',
      text: (i) => (i.build_up ? String(i.build_up) : ''),
      show: (i) =>
        i.rate !== null ? rateShown(i.rate) : sums.includes(i.kind) || i.kind === 'heading' ? '' : 'no rate',
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
      ...(s.id === last ? stage.ghost.value : []),
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

  /** Put the cursor on an item, wherever in the bill it stands. */
  async function goTo(id: number, column: number) {
    const place = await placeOf(id).catch(() => -1)
    if (place < 0) return
    if (!items.value.has(place)) seen.value = { from: place, to: place }
    await until(() => items.value.has(place)).toBe(true, { timeout: 5000 })
    stage.table.value?.activateRow(id, column)
  }

  const move = (i: Item, section_id: number, before: number | null) =>
    stage.save(() =>
      ask(
        client.POST('/api/projects/{project_id}/items/{item}/move', {
          ...at(i.id),
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
  const bound = computed(() => ({ ...stage.bound.value, commit, onLook: look, onSeen: see, shift }))
  return { ...stage, bound, columns, rows, item, reasonFor, write, goTo }
}
