// The bending schedule as a ledger table: bars of make-ups, which change where they are measured, and typed ones.
import { until } from '@vueuse/core'
import { computed, nextTick, ref, type Ref } from 'vue'
import { useShapes } from '../../api/bars'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import type { BlockEdit, Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { useNotices } from '../../desk/notices'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { legShown } from './masses'
import { useBarWindows } from './windows'

type Bar = Schemas['BarView']
const LEGS = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H', 'I', 'J', 'K', 'L', 'R']
const cutShown = (metres: number) => shown(lengthHere(metres), 3)

/** `location` is where a member that is typed for the first time is made. */
export function useBarLines(
  schedule: Ref<Schemas['ScheduleView'] | undefined>,
  location: Ref<number | null>,
) {
  const projectId = useProjectId()
  const notices = useNotices()
  const { data: shapes } = useShapes()
  const { bars, number, seen, asked, placeOf, known } = useBarWindows(schedule)
  const focused = ref<number | null>(null)
  const bar = computed(() => {
    const id = focused.value
    if (id === null) return null
    return [...bars.value.values()].find((each) => each.id === id) ?? known(id) ?? null
  })
  const at = () => ({ path: { project_id: projectId.value } })
  const lineAt = (id: number) => ({ params: { path: { project_id: projectId.value, bar: id } } })
  const typedAt = (id: number) => ({ params: { path: { project_id: projectId.value, typed_bar: id } } })
  const fieldsOf = (key: string, text: string): Record<string, unknown> =>
    LEGS.includes(key) ? { legs: { [key]: text } } : { [key]: text }

  const stage = useLedgerStage<Bar>(() => [...bars.value.values()], {
    write(row, version, fields) {
      if (row.typed === null || 'mark' in fields)
        return ask(
          client.POST('/api/projects/{project_id}/bars/lines/{bar}/mark', {
            ...lineAt(row.id),
            body: { mark: String(fields.mark ?? '') },
          }),
        )
      return ask(
        client.PATCH('/api/projects/{project_id}/bars/typed/{typed_bar}', {
          ...typedAt(row.typed),
          body: { version, ...fields },
        }),
      )
    },
    make(fields) {
      const member = String(fields.member ?? [...bars.value.values()].at(-1)?.member ?? '')
      const rows = [{ size: '12', ...fields, member }]
      return () =>
        ask(
          client.POST('/api/projects/{project_id}/bars/typed', {
            params: at(),
            body: { rows, location: location.value },
          }),
        )
    },
    async drop(row) {
      if (row.typed === null)
        throw Object.assign(new Error(), { sentence: `The bars of ${row.member} come from its make-up.` })
      return ask(client.DELETE('/api/projects/{project_id}/bars/typed/{typed_bar}', typedAt(row.typed)))
    },
    ref: (row) => `bar:${row.id}`,
    fields: fieldsOf,
  })
  async function remove(row: Bar) {
    if (row.typed !== null) return stage.bound.value.remove(row)
    notices.show({
      sentence: `The bars of ${row.member} come from its make-up.`,
      remedy: 'Change what its make-up asks in Measure.',
    })
  }
  function look(row: Row<Bar>, column: Column<Bar>) {
    if (row.data) focused.value = row.data.id
    stage.look(row, column)
  }

  const codes = computed(() => [
    ...(shapes.value ?? []).map((s) => ({
      value: s.code,
      label: [s.code, s.about].filter(Boolean).join('  '),
    })),
    { value: '99', label: '99  Legs or corners of its own.' },
  ])
  const typed = (row: Bar) => row.typed !== null
  const legOf = (row: Bar, letter: string) => row.legs.find((leg) => leg.letter === letter)
  const hasLeg = (row: Bar, letter: string) =>
    row.shape === '99' || Boolean(shapes.value?.find((s) => s.code === row.shape)?.legs.includes(letter))
  /** The legs that some line in view, or the one in focus, has. */
  const letters = computed(() => {
    const there = new Set(['A', 'B', 'C'])
    for (const row of bars.value.values()) row.legs.forEach((leg) => there.add(leg.letter))
    if (bar.value)
      LEGS.filter((letter) => bar.value!.shape !== '99' && hasLeg(bar.value!, letter)).forEach((each) =>
        there.add(each),
      )
    return LEGS.filter((letter) => there.has(letter))
  })
  const columns = computed<Column<Bar>[]>(() => [
    {
      key: 'member',
      label: 'Member',
      width: '54px',
      text: (b) => b.member,
      editable: () => false,
      title: (b) => b.label,
      hint: 'type a bar',
    },
    {
      key: 'mark',
      label: 'Mark',
      width: '42px',
      text: (b) => b.mark,
      title: (b) => (b.over ? 'Typed over the mark by rule; empty it to go back.' : ''),
    },
    {
      key: 'size',
      label: 'Size',
      width: '44px',
      text: (b) => b.size,
      show: (b) => `${b.grade}${b.size}`,
      editable: typed,
    },
    {
      key: 'members',
      label: 'Nr',
      number: true,
      width: '40px',
      text: (b) => shown(b.members, 0, 2),
      editable: typed,
      title: () => 'Members of the kind',
    },
    {
      key: 'each',
      label: 'Each',
      number: true,
      width: '44px',
      text: (b) => shown(b.each, 0, 2),
      editable: typed,
    },
    { key: 'total', label: 'Total', number: true, width: '50px', show: (b) => shown(b.total, 0, 2) },
    {
      key: 'cut',
      label: `Cut ${unitHere('m')}`,
      number: true,
      width: '66px',
      show: (b) => cutShown(b.cut),
    },
    {
      key: 'shape',
      label: 'Code',
      width: '42px',
      text: (b) => b.shape,
      show: (b) => b.shape,
      choices: codes.value,
      editable: typed,
    },
    { key: 'drawn', label: 'Shape', width: '88px' },
    ...letters.value.map((letter): Column<Bar> => ({
      key: letter,
      label: letter,
      number: true,
      width: '48px',
      text: (b) => legOf(b, letter)?.entry || (legOf(b, letter) ? legShown(legOf(b, letter)!.size) : ''),
      show: (b) => {
        const leg = legOf(b, letter)
        return leg ? (leg.counts ? shown(leg.size, 0, 2) : legShown(leg.size)) : ''
      },
      editable: (b) => typed(b) && hasLeg(b, letter),
    })),
    ...(schedule.value?.members.some((m) => m.typed)
      ? [
          {
            key: 'mass',
            label: 'kg/m told',
            number: true,
            aside: true,
            width: '60px',
            text: (b: Bar) => b.own_mass,
            editable: typed,
            title: () => 'The mass per metre of the schedule it was taken from; held against its size’s',
          },
          {
            key: 'note',
            label: 'Note',
            aside: true,
            width: '90px',
            text: (b: Bar) => b.note,
            editable: typed,
          },
        ]
      : []),
    ...(schedule.value?.letter
      ? [{ key: 'revision', label: 'Rev', width: '34px', show: (b: Bar) => b.revision }]
      : []),
  ])

  const starts = computed(() => {
    let passed = 0
    return new Map((schedule.value?.members ?? []).map((m) => [m.id, (passed += m.holds) - m.holds]))
  })
  /** What stands where nothing was read yet; made once, since there may be tens of thousands. */
  const waiting = computed<Row<Bar>[]>(() =>
    Array.from({ length: number.value }, (_, place): Row<Bar> => ({ id: `waiting-${place}`, kind: 'line' })),
  )
  const rows = computed<Row<Bar>[]>(() => {
    const all = waiting.value.slice()
    for (const [place, row] of bars.value)
      if (place < all.length)
        all[place] = {
          id: row.id,
          kind: 'line',
          data: row,
          warn: row.findings.join(' '),
          struck: row.total < 0,
        }
    return all.concat(stage.ghost.value)
  })
  function see(from: number, to: number) {
    const now = { from: Math.min(from, Math.max(number.value - 1, 0)), to: Math.max(to - 1, 0) }
    if (now.from !== seen.value.from || now.to !== seen.value.to) seen.value = now
  }
  /** Put the cursor on a line, wherever in the schedule it stands. */
  async function goTo(id: number, column = 6) {
    const place = await placeOf(id).catch(() => -1)
    if (place < 0) return
    await show(place)
    stage.table.value?.activateRow(id, column)
  }
  async function show(place: number) {
    asked.value = place
    await until(() => bars.value.has(place)).toBe(true, { timeout: 5000 })
    await nextTick() // the table has the line from then on
  }
  /** Put the cursor on the first line of a member. */
  async function goToMember(id: number) {
    const place = starts.value.get(id)
    if (place === undefined) return
    await show(place)
    const row = bars.value.get(place)
    if (row && row.element === id) stage.table.value?.activateRow(row.id, 0)
  }
  /** Many cells as one: new lines are one change; lines there are change one by one. */
  async function commitBlock(edits: BlockEdit<Bar>[]): Promise<string | null> {
    const fresh = edits.filter((edit) => !edit.data)
    for (const { data, fields } of edits) {
      if (!data) continue
      const sorted = sortedOut(fields)
      const said = await stage.trySave((version) =>
        ask(
          client.PATCH('/api/projects/{project_id}/bars/typed/{typed_bar}', {
            ...typedAt(data.typed ?? 0),
            body: { version: version ?? data.version, ...sorted },
          }),
        ),
      )
      if (said) return said
    }
    if (!fresh.length) return null
    const rows = fresh.map(({ fields }) => ({ size: '12', ...sortedOut(fields) }))
    const body = { rows, location: location.value }
    return stage.trySave(() =>
      ask(client.POST('/api/projects/{project_id}/bars/typed', { params: at(), body })),
    )
  }
  function sortedOut(fields: Record<string, string>) {
    const legs = Object.fromEntries(Object.entries(fields).filter(([key]) => LEGS.includes(key)))
    const others = Object.fromEntries(Object.entries(fields).filter(([key]) => !LEGS.includes(key)))
    return Object.keys(legs).length ? { ...others, legs } : others
  }
  const bound = computed(() => ({ ...stage.bound.value, remove, commitBlock, onLook: look, onSeen: see }))
  return { ...stage, bound, columns, rows, bar, shapes, goTo, goToMember, number }
}
