// The bill as a ledger table: its items under their sections, and its foot.
import { until } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUps, useProjectId } from '../../api/project'
import type { BlockEdit, Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { money, rateShown, quantity, shown } from '../../desk/numbers'
import { useBillItems } from './items'
import { rateLabel } from './rates'

type Item = Schemas['ItemView']
const kinds = [
  { value: 'measured', label: 'measured' },
  { value: 'provisional', label: 'provisional sum' },
  { value: 'prime_cost', label: 'prime cost sum' },
  { value: 'lump_sum', label: 'lump sum' },
  { value: 'rate_only', label: 'rate only' },
  { value: 'heading', label: 'heading' },
  { value: 'fixed', label: 'fixed charge' },
  { value: 'time', label: 'time-related charge' },
]
const brief: Record<string, string> = {
  provisional: 'prov.',
  prime_cost: 'p. cost',
  lump_sum: 'lump',
  rate_only: 'rate only',
  heading: 'heading',
  fixed: 'fixed',
  time: 'by time',
}
const sums = ['provisional', 'prime_cost', 'lump_sum', 'fixed']
const measured = ['measured', 'rate_only', 'time']

/** `section` is where a new item goes; `which` bill it is, none for the project's own. */
export function useBillLines(
  bill: Ref<Schemas['BillOutline'] | undefined>,
  which: Ref<number | null>,
  section: Ref<number | null>,
) {
  const projectId = useProjectId()
  const { data: rates } = useBuildUps()
  const { items, seen, at: itemAt, placeOf, billOf, known } = useBillItems(bill, which)
  const focused = ref<number | null>(null)
  /** The item in focus, also after scrolling away from it. */
  const item = computed(() => {
    const id = focused.value
    if (id === null) return null
    return [...items.value.values()].find((i) => i.id === id) ?? known(id) ?? null
  })
  /** The column in focus. */
  const focusedIn = ref('')
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
  /** What was issued stays as it was. */
  const readonly = computed(() => stage.readonly.value || bill.value?.kind === 'issued')
  function commit(i: Item, key: string, text: string) {
    if (key !== 'typed_quantity' || !text || i.typed_reason) return stage.commit(i, key, text)
    reasonFor.value = { item: i, text }
    return Promise.resolve('Say below where this quantity comes from.')
  }
  function look(row: Row<Item>, column: Column<Item>) {
    if (row.data) focused.value = row.data.id
    focusedIn.value = column.key
    stage.look(row, column)
  }

  const billRef = computed(() => (which.value ? `bill-of:${which.value}` : 'bill'))
  /** The place in the bill's order of each section's first item. */
  const starts = computed(() => {
    let passed = 0
    return (bill.value?.sections ?? []).map((s) => (passed += s.holds) - s.holds)
  })

  const ratesFor = (data: Item | null) => [
    { value: '', label: 'no rate' },
    ...(rates.value ?? [])
      .filter((r) => !data || r.unit === data.unit)
      .map((r) => ({ value: String(r.id), label: rateLabel(r) })),
  ]
  const columns = computed<Column<Item>[]>(() => [
    {
      key: 'number',
      label: 'Item',
      width: '54px',
      aside: true,
      whole: true,
      text: (i) => i.number,
      show: (i) => i.number || i.ref,
      title: (i) => (i.number ? `${i.ref} by its place; its own number can be typed over` : ''),
    },
    {
      key: 'description',
      label: 'Description',
      wrap: true,
      text: (i) => i.description,
      title: (i) => (i.note ? `${i.description}\n${i.note}` : i.description),
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
          ? i.measured !== null
            ? `Typed: ${i.typed_reason}; measured ${quantity(i.measured, i.unit)} ${i.unit}`
            : `Typed: ${i.typed_reason}`
          : i.kind === 'time' && !i.links
            ? 'As long as the work lasts'
            : `From ${i.links} quantity line${i.links === 1 ? '' : 's'}`,
      editable: (i) => measured.includes(i.kind) && (i.links === 0 || i.typed_quantity !== ''),
      ref: (i) => `item-quantity:${i.id}`,
    },
    ...([...items.value.values()].some((i) => i.sized_by)
      ? [
          {
            key: 'size',
            label: 'Read at',
            number: true,
            width: '86px',
            text: (i: Item) => i.size,
            show: (i: Item) => (i.sized_by ? i.size || 'unsaid' : ''),
            unit: (i: Item) => i.sized_in,
            editable: (i: Item) => !!i.sized_by,
            title: (i: Item) => (i.sized_by ? `Its ${i.sized_by}, at which its rate is read` : ''),
            ref: (i: Item) => `item-size:${i.id}`,
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
        i.rate !== null
          ? `${i.typed_rate ? '✎ ' : i.parts ? 'Σ ' : ''}${rateShown(i.rate)}`
          : sums.includes(i.kind) || i.kind === 'heading'
            ? ''
            : 'no rate',
      title: (i) =>
        i.typed_rate
          ? `Typed: ${i.rate_reason}`
          : i.parts
            ? `Composed of ${i.parts} rates`
            : i.build_up_name || 'F2 picks a rate',
      choices: ratesFor,
      told: true,
      ref: (i) =>
        i.typed_rate || i.parts
          ? `item-rate:${i.id}`
          : i.sized_by
            ? `item-size:${i.id}`
            : i.build_up
              ? `build-up:${i.build_up}`
              : `item:${i.id}`,
    },
    {
      key: 'typed_amount',
      label: `Amount ${bill.value?.currency ?? ''}`,
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
        label: s.number || s.ref,
        cells: { description: s.title, typed_amount: money(s.total) },
        ref: `section:${s.id}`,
        level: s.depth,
      },
      ...Array.from({ length: s.holds }, (_, k) => lineAt(starts.value[n] + k)),
      ...(s.id === last && !readonly.value ? stage.ghost.value : []),
    ])
    const apart = [
      ['Composite items', bill.value.composite],
      ['Preliminaries', bill.value.preliminaries],
      ['Provisional and prime cost sums', bill.value.set_aside],
    ] as const
    const foot: Row<Item>[] = [
      ...(apart.some(([, total]) => Number(total))
        ? [
            [
              'Items of one rate',
              Number(bill.value.items_total) - apart.reduce((sum, [, t]) => sum + Number(t), 0),
            ],
            ...apart,
          ]
            .filter(([, total]) => Number(total))
            .map(([name, total]): Row<Item> => ({
              id: `apart-${name}`,
              kind: 'step',
              label: '',
              cells: { description: String(name), typed_amount: money(total) },
              ref: billRef.value,
            }))
        : []),
      {
        id: 'items',
        kind: 'total',
        label: '',
        cells: { description: 'Sum of the items', typed_amount: money(bill.value.items_total) },
        ref: billRef.value,
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
        ref: billRef.value,
      })),
      {
        id: 'total',
        kind: 'total',
        label: '',
        cells: {
          description: `Total, ${bill.value.currency}`,
          typed_amount: money(bill.value.total),
        },
        ref: billRef.value,
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
        ref: billRef.value,
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
        : i.near
          ? 'It rests on figures near a change of their drawing that nobody has looked at.'
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

  /** Many cells as one change, undone as one; beyond the last line every row is a new item. */
  async function commitBlock(edits: BlockEdit<Item>[]): Promise<string | null> {
    const into = section.value ?? bill.value?.sections.at(-1)?.id
    if (!into) return 'A bill needs a section before it can hold an item. Make one first.'
    const body = { section: into, items: edits.map(({ data, fields }) => edited(data, fields)) }
    return stage.trySave(() =>
      ask(
        client.POST('/api/projects/{project_id}/items/block', {
          params: { path: { project_id: projectId.value } },
          body: body as never,
        }),
      ),
    )
  }
  /** A row of a block as it is sent: a rate copied here is known by its name. */
  function edited(data: Item | null, fields: Record<string, string>) {
    const { build_up, ...rest } = fields
    const named = rates.value?.find((r) => String(r.id) === build_up)?.name ?? build_up
    const told = build_up === undefined ? rest : { ...rest, rate: named }
    return data ? { item: data.id, version: data.version, ...told } : told
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
  /** An item dragged: before another, at the head of a section, or at the end of the last. */
  async function put(i: Item, onto: Row<Item>) {
    if (onto.data) return move(i, onto.data.section, onto.data.id)
    const sections = bill.value?.sections ?? []
    if (onto.kind === 'ghost') return move(i, section.value ?? sections[sections.length - 1].id, null)
    const at = sections.findIndex((s) => `section-${s.id}` === onto.id)
    if (at < 0) return
    const first = sections[at].holds ? await itemAt(starts.value[at]) : undefined
    return move(i, sections[at].id, first && first.id !== i.id ? first.id : null)
  }
  const bound = computed(() => ({
    ...stage.bound.value,
    readonly: readonly.value,
    commit,
    commitBlock,
    onLook: look,
    onSeen: see,
    shift,
    put,
  }))
  return { ...stage, readonly, bound, columns, rows, item, focusedIn, reasonFor, write, goTo, billOf }
}
