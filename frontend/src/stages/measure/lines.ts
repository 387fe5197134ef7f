// The dimension lines of an element as a ledger table.
import { computed } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import type { BlockEdit, Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { shown, typedNumber } from '../../desk/numbers'
import { unitHere } from '../../desk/ways'

type Line = Schemas['LineView']
const fieldOf = (key: string, text: string) => {
  if (key !== 'times') return { [key]: text }
  const deduct = /^(ddt|-|−)/i.test(text.trim())
  return { times: text.trim().replace(/^(ddt|-|−)\s*/i, ''), deduct }
}

export function useDimensionLines(element: () => Schemas['ElementView']) {
  const projectId = useProjectId()
  const at = (line: number) => ({ params: { path: { project_id: projectId.value, line } } })
  const stage = useLedgerStage<Line>(() => element().lines, {
    write: (line, version, fields) =>
      ask(
        client.PATCH('/api/projects/{project_id}/lines/{line}', {
          ...at(line.id),
          body: { version, ...fields },
        }),
      ),
    make(fields) {
      const params = { path: { project_id: projectId.value, element: element().id } }
      return () =>
        ask(client.POST('/api/projects/{project_id}/elements/{element}/lines', { params, body: fields }))
    },
    drop: (line) => ask(client.DELETE('/api/projects/{project_id}/lines/{line}', at(line.id))),
    ref: (line) => `line:${line.id}`,
    fields: fieldOf,
  })

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
          : typedNumber(l[key]) === null
            ? l[key]
            : shown(typedNumber(l[key]), 2, 4),
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
      size('length', `Length ${unitHere('m')}`),
      size('width', `Width ${unitHere('m')}`),
      size('height', `Height ${unitHere('m')}`),
      {
        key: 'squared',
        label: `Squared ${element().unit}`,
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
    ...element().lines.map((l): Row<Line> => ({
      id: l.id,
      kind: 'line',
      data: l,
      warn: l.findings.join(' '),
      struck: !l.counted,
    })),
    ...stage.ghost.value,
  ])

  /** Many cells as one change, undone as one. */
  async function commitBlock(edits: BlockEdit<Line>[]): Promise<string | null> {
    const lines = edits.map(({ data, fields }) => ({
      line: data?.id ?? null,
      version: data?.version ?? 0,
      ...Object.assign({}, ...Object.entries(fields).map(([key, text]) => fieldOf(key, text))),
    }))
    return stage.trySave(() =>
      ask(
        client.POST('/api/projects/{project_id}/elements/{element}/lines/block', {
          params: { path: { project_id: projectId.value, element: element().id } },
          body: { lines },
        }),
      ),
    )
  }
  const shift = (l: Line, by: number) =>
    stage.save(() =>
      ask(
        client.POST('/api/projects/{project_id}/lines/{line}/move', {
          params: { path: { project_id: projectId.value, line: l.id } },
          body: { by },
        }),
      ),
    )
  /** A length that stands in a line as one number; null where a sum or nothing does. */
  function lengthOf(l: Line, key: string): number | null {
    if (key === 'length' && l.measured_as === 'length') return l.measures
    return key === 'length' || key === 'width' || key === 'height' ? typedNumber(l[key]) : null
  }
  /** What the chosen cells add up to: lengths by themselves, and what they square to by itself. */
  function sumsOf(cells: { row: Row<Line>; column: Column<Line> }[]) {
    const sums = new Map<string, number>()
    for (const { row, column } of cells) {
      if (!row.data || !column.number || column.key === 'times') continue
      const squared = column.key === 'squared'
      const value = squared ? row.data.squared : lengthOf(row.data, column.key)
      const unit = squared ? element().unit : unitHere('m')
      if (value !== null) sums.set(unit, (sums.get(unit) ?? 0) + value)
    }
    return [...sums].map(([unit, sum], at) => ({ label: at ? '' : 'Selected', value: shown(sum), unit }))
  }
  const bound = computed(() => ({ ...stage.bound.value, commitBlock, shift }))
  return { ...stage, bound, columns, rows, sumsOf }
}
