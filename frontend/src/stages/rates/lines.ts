// The lines of a build-up as a ledger table, in their groups.
import { computed, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUps, useProjectId, useResources } from '../../api/project'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { money, rateShown, shown, typeable, typedNumber } from '../../desk/numbers'

type Line = Schemas['BuildUpLineView']
const percentOf = ['labour', 'plant', 'material', 'subcontract']
const BASES: Record<Line['basis'], string> = {
  output: 'by output',
  unit: 'per unit',
  day: 'by day',
  fixed: 'had once',
  percent: 'share',
}
const bases = (['output', 'unit', 'day', 'fixed'] as const).map((value) => ({ value, label: BASES[value] }))

const HINTS: Record<Line['basis'], string> = {
  output: 'for the whole output; of hours, how many work together',
  unit: 'for one unit of the rate',
  day: 'for a working day, such as 160 l/day × 3',
  fixed: 'once, spread over all that is billed by this rate',
  percent: 'a percentage of a group',
}

export function useRateLines(rate: Ref<Schemas['BuildUpView'] | undefined>) {
  const projectId = useProjectId()
  const { data: list } = useBuildUps()
  const { data: resources } = useResources()
  const at = (line: number) => ({ params: { path: { project_id: projectId.value, line } } })
  const stage = useLedgerStage<Line>(() => rate.value?.lines ?? [], {
    write(line, version, { source, ...fields }) {
      // What a line draws on is changed to another resource or rate; a percentage is a line of its own.
      const [kind, id] = String(source ?? '').split(':')
      const drawn = id && kind !== 'percent' ? { [kind]: Number(id) } : {}
      return ask(
        client.PATCH('/api/projects/{project_id}/build-up-lines/{line}', {
          ...at(line.id),
          body: { version, ...fields, ...drawn },
        }),
      )
    },
    make(fields, key) {
      const [kind, id] = String(fields[key]).split(':')
      if (key !== 'source' || !id || !rate.value)
        return 'A line begins with what it is made of: choose it in the first column.'
      const params = { path: { project_id: projectId.value, build_up: rate.value.id } }
      const body =
        kind === 'percent'
          ? {
              basis: 'percent' as const,
              percent_of: id as Line['group'],
              quantity: '5',
              group: 'sundries' as const,
            }
          : { [kind]: Number(id) }
      return () => ask(client.POST('/api/projects/{project_id}/build-ups/{build_up}/lines', { params, body }))
    },
    drop: (line) => ask(client.DELETE('/api/projects/{project_id}/build-up-lines/{line}', at(line.id))),
    ref: (line) => `build-up-line:${line.id}`,
    fields: (key, text) => ({ [key]: ['allowance', 'escalation'].includes(key) ? text || '0' : text }),
  })
  /** Put a line earlier or later in its group. */
  const shift = (line: Line, by: number) =>
    stage.save(() =>
      ask(
        client.POST('/api/projects/{project_id}/build-up-lines/{line}/move', {
          ...at(line.id),
          body: { by },
        }),
      ),
    )

  const sources = computed(() => [
    ...(resources.value ?? []).map((r) => ({
      value: `resource:${r.id}`,
      label: `${r.name}, ${shown(r.price, 2, 4) || 'no price'} per ${r.unit}`,
    })),
    ...(list.value ?? [])
      .filter((b) => b.id !== rate.value?.id)
      .map((b) => ({
        value: `nested:${b.id}`,
        label:
          b.kind === 'reference' || b.kind === 'banded'
            ? `${b.name} (${b.kind === 'reference' ? 'a reference' : 'a banded rate'}), per ${b.unit}`
            : `${b.name} (a ${b.kind} of this project), ${money(b.rate)} per ${b.unit}`,
      })),
    ...percentOf.map((group) => ({ value: `percent:${group}`, label: `a percentage of ${group}` })),
  ])
  const columns = computed<Column<Line>[]>(() => [
    {
      key: 'source',
      label: 'Resource',
      wrap: true,
      text: (l) => (l.resource ? `resource:${l.resource}` : `nested:${l.nested}`),
      show: (l) => l.name,
      title: (l) => (l.reads ? `${l.name}, ${l.reads}` : l.name),
      editable: (l) => l.basis !== 'percent',
      choices: () => sources.value,
      hint: 'pick a resource',
    },
    {
      key: 'basis',
      label: 'Basis',
      aside: true,
      width: '76px',
      text: (l) => l.basis,
      show: (l) => BASES[l.basis],
      title: (l) => HINTS[l.basis],
      editable: (l) => l.basis !== 'percent',
      choices: bases,
    },
    {
      key: 'quantity',
      label: 'Quantity',
      number: true,
      width: '78px',
      text: (l) => l.quantity,
      show: (l) =>
        `${l.taken ? '↳ ' : ''}${shown(l.taken ? l.entered : (typedNumber(l.quantity) ?? l.entered), 2, 4)}`,
      title: (l) => `${l.taken ? `Taken: ${l.taken.name}` : l.quantity}, ${HINTS[l.basis]}`,
      ref: (l) => `build-up-line:${l.id}`,
    },
    { key: 'unit', label: 'Unit', width: '38px', show: (l) => l.unit },
    ...(rate.value?.lines.some((l) => l.sized_in)
      ? [
          {
            key: 'size',
            label: 'Read at',
            number: true,
            width: '84px',
            text: (l: Line) => l.size,
            unit: (l: Line) => l.sized_in,
            title: (l: Line) => l.reads,
            editable: (l: Line) => !!l.sized_in,
          },
        ]
      : []),
    {
      key: 'allowance',
      label: '+ %',
      number: true,
      width: '46px',
      text: (l) => typeable(l.allowance),
      editable: (l) => l.basis !== 'percent',
      title: () => 'Allowance: waste, laps, bulking',
    },
    {
      key: 'price',
      label: 'Price',
      number: true,
      width: '76px',
      show: (l) => (l.basis === 'percent' ? '' : l.price === null ? 'none' : shown(l.price, 2, 4)),
      ref: (l) =>
        l.sized_in
          ? `reference:${l.nested}:${l.id}`
          : l.resource
            ? `resource:${l.resource}`
            : l.nested
              ? `build-up:${l.nested}`
              : `build-up-line:${l.id}`,
    },
    {
      key: 'escalation',
      label: 'Esc. %',
      number: true,
      width: '50px',
      text: (l) => typeable(l.escalation),
      editable: (l) => l.basis !== 'percent',
      title: () => 'Escalation of the price',
    },
    {
      key: 'unit_price',
      label: `per ${rate.value?.unit ?? ''}`,
      number: true,
      width: '72px',
      show: (l) => money(l.parted ? (l.shares[groupOf(l)] ?? l.unit_price) : l.unit_price),
      ref: (l) => `build-up-line:${l.id}`,
    },
    {
      key: 'unit_quantity',
      label: `Quantity per ${rate.value?.unit ?? ''}`,
      number: true,
      width: '96px',
      show: (l) => (l.basis === 'percent' ? '' : shown(l.unit_quantity, 2, 4)),
      ref: (l) => `build-up-line:${l.id}`,
    },
    {
      key: 'total_quantity',
      label: `for ${rate.value?.output ?? ''} ${rate.value?.unit ?? ''}`,
      number: true,
      width: '88px',
      show: (l) => (l.basis === 'percent' ? '' : shown(l.total_quantity, 2, 4)),
      ref: (l) => `build-up-line:${l.id}`,
    },
    {
      key: 'amount',
      label: 'Amount',
      number: true,
      width: '80px',
      show: (l) => money(l.amount),
      ref: (l) => `build-up-line:${l.id}`,
    },
    { key: 'note', label: 'Note', wrap: true, width: '120px', text: (l) => l.note },
  ])
  /** A gang stands with the group it was put in, also where those who work in it count in others. */
  const groupOf = (l: Line) =>
    rate.value?.groups.some((g) => g.group === l.group) ? l.group : (rate.value?.groups[0]?.group ?? l.group)
  const rows = computed<Row<Line>[]>(() => {
    const now = rate.value
    if (!now) return []
    const inGroups = now.groups.flatMap((group): Row<Line>[] => [
      {
        id: `group-${group.group}`,
        kind: 'head',
        label: group.group[0].toUpperCase() + group.group.slice(1),
        cells: {
          unit: group.unit,
          unit_quantity: group.unit_quantity === null ? '' : shown(group.unit_quantity, 2, 4),
          total_quantity: group.total_quantity === null ? '' : shown(group.total_quantity, 2, 4),
          amount: money(group.amount),
          unit_price: money(group.unit_price),
        },
        ref: `build-up:${now.id}`,
      },
      ...now.lines
        .filter((l) => groupOf(l) === group.group)
        .map((l): Row<Line> => ({
          id: l.id,
          kind: 'line',
          data: l,
          warn: l.price === null && l.basis !== 'percent' ? `${l.name} has no price yet.` : '',
        })),
      // What a gang that stands in another group brings to this one.
      ...now.lines
        .filter((l) => l.parted && groupOf(l) !== group.group && l.shares[group.group])
        .map((l): Row<Line> => ({
          id: `share-${group.group}-${l.id}`,
          kind: 'step',
          label: `${l.name}, its ${group.group}`,
          cells: { unit_price: money(l.shares[group.group]) },
          ref: `build-up-line:${l.id}`,
        })),
    ])
    return [
      ...inGroups,
      ...stage.ghost.value,
      ...(Number(now.added)
        ? [
            {
              id: 'added',
              kind: 'step' as const,
              label: `${now.added_on === 'cost' ? 'Mark-up on cost' : 'Margin on price'}, ${shown(now.added, 0, 4)} %, on ${money(now.cost)}`,
              cells: { unit_price: money(now.adds) },
              ref: `build-up:${now.id}`,
            },
          ]
        : []),
      {
        id: 'rate',
        kind: 'total',
        label: `Rate per ${now.unit}`,
        cells: { unit_price: rateShown(now.rate) },
        ref: `build-up:${now.id}`,
      },
    ]
  })
  const bound = computed(() => ({ ...stage.bound.value, shift }))
  return { ...stage, bound, columns, rows }
}
