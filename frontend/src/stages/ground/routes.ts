// The tables of a route as ledger tables: corners, levels, what is built from where, stretches, named quantities.
import { computed, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useGround } from '../../api/ground'
import { useProjectId } from '../../api/project'
import type { Column, Row } from '../../desk/ledger/ledger'
import { unitHere } from '../../desk/ways'
import { useTyped } from './typed'

export type Way = Schemas['RouteView']
export type WayRow = Schemas['RouteRow']
export const PARTS = {
  corners: 'Corners',
  levels: 'Levels',
  changes: 'Built',
  named: 'What counts as what',
  stretches: 'Stretches',
} as const
export type Part = keyof typeof PARTS

const cell = (key: string) => (row: WayRow) => row.cells[key] ?? ''
const typed = (key: string, label: string, width: string, more: Partial<Column<WayRow>> = {}) =>
  ({ key, label, width, text: cell(key), ...more }) as Column<WayRow>
const length = (key: string, label: string, width: string, more: Partial<Column<WayRow>> = {}) =>
  typed(key, `${label} ${unitHere('m')}`, width, { number: true, ...more })

export function useRows(way: Ref<Way | undefined>, part: Ref<Part>) {
  const project = useProjectId()
  const { data: ground } = useGround()
  const typicals = computed(() => ground.value?.typicals ?? [])
  const choices = computed(() => typicals.value.map((t) => ({ value: String(t.id), label: t.name })))
  const one = (row: number) => ({
    params: { path: { project_id: project.value, part: part.value, route_row: row } },
  })
  /** The typical section stands beside the typed cells. */
  const body = (fields: Record<string, unknown>) => {
    const { typical, ...cells } = fields
    return { cells: cells as Record<string, string>, typical: typical === undefined ? null : Number(typical) }
  }
  const sheet = useTyped<WayRow>(
    {
      lines: () => way.value?.[part.value] ?? [],
      write: (row, version, fields) =>
        ask(
          client.PATCH('/api/projects/{project_id}/route-rows/{part}/{route_row}', {
            ...one(row.id),
            body: { version, ...body(fields) },
          }),
        ),
      make: (fields) =>
        ask(
          client.POST('/api/projects/{project_id}/routes/{route}/rows/{part}', {
            params: { path: { project_id: project.value, route: way.value!.id, part: part.value } },
            body: body(fields),
          }),
        ),
      drop: (row) =>
        ask(client.DELETE('/api/projects/{project_id}/route-rows/{part}/{route_row}', one(row.id))),
      fields(key, text) {
        if (key !== 'typical') return { [key]: text }
        const wanted = text.trim().toLowerCase()
        const found = typicals.value.find((t) => String(t.id) === text || t.name.toLowerCase() === wanted)
        return { typical: found?.id ?? -1 }
      },
    },
    (row) => {
      const at = part.value === 'named' ? way.value?.gathered.find((g) => g.name === row.cells.name) : null
      const output = at ? way.value?.lines.find((l) => l.label.startsWith(at.name))?.output : 'cut'
      return `quantity:${way.value?.id ?? 0}:${output ?? 'cut'}`
    },
  )
  /** What of the route a named quantity gathers, or could. */
  const gathers = (row: WayRow) => {
    const found = way.value?.gathered.find(
      (g) => !g.own && g.name.toLowerCase() === row.cells.name?.toLowerCase(),
    )
    return found ? `${found.parts.join(', ')} (${COUNTED[found.kind]})` : ''
  }
  const COUNTED = { layer: 'by volume', edge: 'by length', strip: 'by surface' } as const
  const columns = computed<Column<WayRow>[]>(() => {
    const of: Record<Part, Column<WayRow>[]> = {
      corners: [
        length('east', 'Easting', '130px', { hint: 'type a corner' }),
        length('north', 'Northing', '130px'),
        length('radius', 'Radius', '100px', { title: () => 'Of the arc inside this corner; none at the ends' }),
      ],
      levels: [
        length('chainage', 'Chainage', '120px', { hint: 'type a chainage' }),
        length('level', 'Level', '110px'),
        length('curve', 'Vertical curve', '150px', { title: () => 'Its length, half before and half after' }),
      ],
      changes: [
        length('chainage', 'From chainage', '140px', { hint: 'type a chainage' }),
        {
          key: 'typical',
          label: 'Typical section',
          width: '200px',
          text: (r) => String(r.typical ?? ''),
          show: (r) => typicals.value.find((t) => t.id === r.typical)?.name ?? '',
          choices: choices.value,
        },
        length('taper', 'Going over', '120px', { title: () => 'Over how far the one before goes over into it' }),
      ],
      named: [
        typed('name', 'Name', '150px', { hint: 'type a name' }),
        typed('layers', 'Layers', '200px', { title: () => 'Wearing; Binder: layers, kerbs or strips of the typical sections' }),
        { key: 'gathers', label: 'Counts', width: '190px', show: gathers },
        typed('density', 't/m³', '64px', { number: true, title: () => 'Billed by its mass where it has a density' }),
        typed('extra', 'more %', '68px', { number: true, title: () => 'For compaction and loss' }),
      ],
      stretches: [
        typed('name', 'Name', '170px', { hint: 'type a stretch' }),
        length('begins', 'From', '100px'),
        length('ends', 'To', '100px'),
        typed('stage', 'Stage', '150px'),
      ],
    } // prettier-ignore
    return of[part.value]
  })
  const rows = computed<Row<WayRow>[]>(() => [
    ...(way.value?.[part.value] ?? []).map((r): Row<WayRow> => ({ id: r.id, kind: 'line', data: r, warn: r.says })),
    ...sheet.ghost.value,
  ]) // prettier-ignore
  return { ...sheet, columns, rows }
}

/** Which hatch a part of a section has: that of its place among the layers. */
export function hatchOf(name: string, layers: readonly string[]): string {
  if (name === 'cut' || name === 'fill') return `url(#h-${name})`
  return `url(#h-${Math.max(layers.indexOf(name), 0) % 8})`
}
