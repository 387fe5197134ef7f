// The nodes and runs of a network as ledger tables, typed as in a spreadsheet.
import { computed, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useGround } from '../../api/ground'
import { useProjectId } from '../../api/project'
import type { Column, Row } from '../../desk/ledger/ledger'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { useTyped } from './typed'
import { volumeShown } from './units'

export type Net = Schemas['NetworkView']
export type Run = Schemas['RunView']
export type TrenchNode = Schemas['NodeView']
const length = (metres: number | null, places = 2) =>
  metres === null ? '' : shown(lengthHere(metres), places)
const fallShown = (fall: number | null) => (fall === null ? '' : `${shown(fall * 100, 2)} %`)

export function useRuns(net: Ref<Net | undefined>) {
  const project = useProjectId()
  const { data: ground } = useGround()
  const element = computed(() => net.value?.id ?? 0)
  const kinds = computed(() => ground.value?.kinds ?? [])
  const one = (run: number) => ({ params: { path: { project_id: project.value, run } } })
  const sheet = useTyped<Run>(
    {
      lines: () => net.value?.runs ?? [],
      write: (row, version, fields) =>
        ask(
          client.PATCH('/api/projects/{project_id}/trench-runs/{run}', {
            ...one(row.id),
            body: { version, ...fields },
          }),
        ),
      make: (fields) =>
        ask(
          client.POST('/api/projects/{project_id}/networks/{network}/runs', {
            params: { path: { project_id: project.value, network: element.value } },
            body: fields,
          }),
        ),
      drop: (row) => ask(client.DELETE('/api/projects/{project_id}/trench-runs/{run}', one(row.id))),
      fields(key, text) {
        if (key !== 'kind') return { [key]: text }
        const wanted = text.trim().toLowerCase()
        const kind = kinds.value.find((k) => String(k.id) === text || k.name.toLowerCase() === wanted)
        return { kind: kind?.id ?? (wanted ? -1 : null) }
      },
    },
    // The number of a run is what is dug of it, among those that can be reckoned.
    (row) => {
      const reckoned = (net.value?.runs ?? []).filter((each) => each.dug !== null)
      const at = reckoned.findIndex((each) => each.id === row.id)
      return at < 0 ? `quantity:${element.value}:dug` : `trench-run:${element.value}:${at}:dug`
    },
  )
  const kindChoices = computed(() => kinds.value.map((k) => ({ value: String(k.id), label: k.name })))
  const columns = computed<Column<Run>[]>(() => [
    { key: 'begins', label: 'From', width: '54px', text: (r) => r.begins, hint: 'type a run' },
    { key: 'ends', label: 'To', width: '54px', text: (r) => r.ends },
    { key: 'invert_begins', label: `Invert ${unitHere('m')}`, number: true, width: '70px', text: (r) => r.invert_begins },
    { key: 'invert_ends', label: `to ${unitHere('m')}`, number: true, width: '66px', text: (r) => r.invert_ends },
    { key: 'kind', label: 'Kind', width: '126px', text: (r) => String(r.kind ?? ''), show: (r) => kinds.value.find((k) => k.id === r.kind)?.name ?? '', choices: kindChoices.value },
    { key: 'length', label: `Length ${unitHere('m')}`, number: true, width: '68px', show: (r) => length(r.length) },
    { key: 'fall', label: 'Fall', number: true, width: '66px', show: (r) => fallShown(r.fall), title: (r) => (r.fall !== null && r.fall < 0 ? 'It rises' : '') },
    { key: 'deepest', label: `Deep ${unitHere('m')}`, number: true, width: '84px', show: (r) => (r.deepest === null ? '' : `${length(r.least)}–${length(r.deepest)}`) },
    { key: 'dug', label: `Dug ${unitHere('m³')}`, number: true, width: '66px', show: (r) => volumeShown(r.dug) },
    { key: 'stage', label: 'Stage', width: '84px', text: (r) => r.stage, aside: true },
    { key: 'ground', label: 'Ground between', width: '120px', text: (r) => r.ground, aside: true, title: () => 'Levels along the run where there is no surface: 12.5: 43.20; 20: 43.10' },
  ]) // prettier-ignore
  const rows = computed<Row<Run>[]>(() => [
    ...(net.value?.runs ?? []).map((r): Row<Run> => ({ id: r.id, kind: 'line', data: r, warn: r.says.join(' ') })),
    ...sheet.ghost.value,
  ]) // prettier-ignore
  return { ...sheet, columns, rows, kinds }
}

export function useNodes(net: Ref<Net | undefined>) {
  const project = useProjectId()
  const element = computed(() => net.value?.id ?? 0)
  const one = (node: number) => ({ params: { path: { project_id: project.value, node } } })
  const sheet = useTyped<TrenchNode>(
    {
      lines: () => net.value?.nodes ?? [],
      write: (row, version, fields) =>
        ask(
          client.PATCH('/api/projects/{project_id}/trench-nodes/{node}', {
            ...one(row.id),
            body: { version, ...fields },
          }),
        ),
      make: (fields) =>
        ask(
          client.POST('/api/projects/{project_id}/networks/{network}/nodes', {
            params: { path: { project_id: project.value, network: element.value } },
            body: fields,
          }),
        ),
      drop: (row) => ask(client.DELETE('/api/projects/{project_id}/trench-nodes/{node}', one(row.id))),
    },
    () => `quantity:${element.value}:dug`,
  )
  const columns = computed<Column<TrenchNode>[]>(() => [
    { key: 'name', label: 'Node', width: '62px', text: (n) => n.name, hint: 'type a node' },
    { key: 'east', label: `Easting ${unitHere('m')}`, number: true, width: '88px', text: (n) => n.east },
    { key: 'north', label: `Northing ${unitHere('m')}`, number: true, width: '88px', text: (n) => n.north },
    { key: 'ground', label: `Ground ${unitHere('m')}`, number: true, width: '78px', text: (n) => n.ground, title: () => 'Typed where it isn’t the surface’s' },
    { key: 'level', label: `Level ${unitHere('m')}`, number: true, width: '72px', show: (n) => length(n.level) },
    { key: 'invert', label: `Invert ${unitHere('m')}`, number: true, width: '74px', show: (n) => length(n.invert) },
    { key: 'manhole', label: `Manhole ${unitHere('m')}`, width: '92px', text: (n) => n.manhole, title: () => 'Inside: 1.0 for a round one, 1.2 x 0.9 for a box' },
    { key: 'wall', label: 'Wall', number: true, width: '54px', text: (n) => n.wall, aside: true },
    { key: 'base', label: 'Base', number: true, width: '54px', text: (n) => n.base, aside: true },
    { key: 'space', label: 'Space round', number: true, width: '80px', text: (n) => n.space, aside: true },
  ]) // prettier-ignore
  const rows = computed<Row<TrenchNode>[]>(() => [
    ...(net.value?.nodes ?? []).map((n): Row<TrenchNode> => ({ id: n.id, kind: 'line', data: n })),
    ...sheet.ghost.value,
  ])
  return { ...sheet, columns, rows }
}
