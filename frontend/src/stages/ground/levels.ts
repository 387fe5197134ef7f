// The levels of a survey as a ledger table, read a window at a time: those of a file are put right, typed ones typed.
import { useQueries } from '@tanstack/vue-query'
import { until } from '@vueuse/core'
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useProjectId } from '../../api/project'
import type { BlockEdit, Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

const WINDOW = 100
/** A level, known by itself where it was typed, by its place in the survey where it came in a file. */
export type Level = Omit<Schemas['LevelView'], 'id'> & { id: number; typed: number | null }
const asLevel = (view: Schemas['LevelView']): Level => ({
  ...view,
  id: view.id ?? view.at + 1,
  typed: view.id ?? null,
})
export const DOUBTS: Record<string, string> = {
  missing: 'no level',
  zero: 'level of 0',
  duplicate: 'repeated',
  conflict: 'two levels at one place',
  spike: 'out of line',
  outside: 'outside the boundary',
}

export function useLevels(survey: Ref<Schemas['SurveyView'] | undefined>, only: Ref<string>) {
  const project = useProjectId()
  const seen = ref({ from: 0, to: 0 })
  const asked = ref<number | null>(null)
  const total = ref(0)
  const id = computed(() => survey.value?.id ?? 0)
  const isTyped = computed(() => survey.value?.origin === 'typed' || survey.value?.origin === 'sheet')
  const firsts = computed(() => {
    const last = Math.max(Math.min(seen.value.to, total.value - 1), 0)
    const from = Math.floor(Math.max(Math.min(seen.value.from, total.value - 1), 0) / WINDOW)
    const inView = Array.from({ length: Math.floor(last / WINDOW) - from + 1 }, (_, n) => (from + n) * WINDOW)
    const also = asked.value === null ? null : Math.floor(asked.value / WINDOW) * WINDOW
    return also === null || inView.includes(also) ? inView : [...inView, also]
  })
  const read = useQueries({
    queries: computed(() =>
      id.value
        ? firsts.value.map((first) => ({
            queryKey: [...keys.survey(project.value, id.value), 'levels', only.value, first],
            queryFn: () =>
              ask(
                client.GET('/api/projects/{project_id}/surveys/{survey}/levels', {
                  params: {
                    path: { project_id: project.value, survey: id.value },
                    query: { first, most: WINDOW, only: only.value },
                  },
                }),
              ),
          }))
        : [],
    ),
  })
  watch(read, (pages) => {
    const known = pages.find((page) => page.data)
    if (known?.data) total.value = known.data.total
  })
  watch([id, only], () => {
    seen.value = { from: 0, to: 0 }
    asked.value = null
  })
  const levels = computed(() => {
    const found = new Map<number, Level>()
    read.value.forEach((one) =>
      one.data?.levels.forEach((each, n) => found.set(one.data!.first + n, asLevel(each))),
    )
    return found
  })
  const params = () => ({ path: { project_id: project.value, survey: id.value } })
  const levelAt = (level: number) => ({ params: { path: { project_id: project.value, level } } })
  const decide = (at: number[], does: Schemas['Decided']['does'], kind: string, level = '') =>
    ask(
      client.POST('/api/projects/{project_id}/surveys/{survey}/decide', {
        params: params(),
        body: { kind: kind as Schemas['Decided']['kind'], does, at, level },
      }),
    )
  const undecide = (at: number[], kind = '') =>
    ask(
      client.POST('/api/projects/{project_id}/surveys/{survey}/undecide', {
        params: params(),
        body: { at, kind },
      }),
    )

  const stage = useLedgerStage<Level>(() => [...levels.value.values()], {
    write(row, version, fields) {
      const kind = row.doubts[0] ?? ''
      if ('decided' in fields) {
        const does = String(fields.decided)
        if (does === '') return undecide([row.at])
        return decide([row.at], does as 'keep', kind)
      }
      if (row.typed === null) return decide([row.at], 'put right', kind, String(fields.level ?? ''))
      return ask(
        client.PATCH('/api/projects/{project_id}/levels/{level}', {
          ...levelAt(row.typed),
          body: { version, ...fields },
        }),
      )
    },
    make: (fields) => () =>
      ask(
        client.POST('/api/projects/{project_id}/surveys/{survey}/levels', { params: params(), body: fields }),
      ),
    drop(row) {
      if (row.typed === null) return decide([row.at], 'leave out', row.doubts[0] ?? '')
      return ask(client.DELETE('/api/projects/{project_id}/levels/{level}', levelAt(row.typed)))
    },
    ref: () => `survey:${id.value}`,
  })
  const place = (of: 'east' | 'north' | 'level', at: number) => (l: Level) =>
    isTyped.value ? (l.entries[at] ?? '') : l[of] === null ? '' : shown(lengthHere(l[of]!), 3)
  const own = computed<Record<string, Column<Level>>>(() => ({
    row: { key: 'row', label: isTyped.value ? 'Nr' : 'Row', number: true, width: '48px', show: (l) => String(l.row || l.at + 1) },
    east: { key: 'east', label: `Easting ${unitHere('m')}`, number: true, width: '100px', text: place('east', 0), editable: () => isTyped.value, hint: 'type a level' },
    north: { key: 'north', label: `Northing ${unitHere('m')}`, number: true, width: '100px', text: place('north', 1), editable: () => isTyped.value },
    level: { key: 'level', label: `Level ${unitHere('m')}`, number: true, width: '80px', text: place('level', 2), title: (l) => (l.decided === 'put right' ? 'Typed over what the file says' : '') },
    code: { key: 'code', label: 'Code', width: '80px', text: (l) => l.code, editable: () => isTyped.value },
    doubt: { key: 'doubt', label: 'What looks wrong', width: '152px', show: (l) => l.doubts.map((d) => DOUBTS[d] ?? d).join(', ') },
    decided: {
      key: 'decided',
      label: 'Decided',
      width: '88px',
      text: (l) => l.decided,
      show: (l) => l.decided || (l.doubts.length ? (l.used ? 'undecided' : 'left out') : ''),
      editable: (l) => l.doubts.length > 0 || l.decided !== '',
      choices: [
        { value: 'keep', label: 'keep' },
        { value: 'leave out', label: 'leave out' },
        { value: '', label: 'undecided' },
      ],
    },
  })) // prettier-ignore
  // In doubt, what is decided stands first; else a level stands as it was told.
  const columns = computed<Column<Level>[]>(() =>
    (only.value
      ? ['row', 'level', 'doubt', 'decided', 'east', 'north', 'code']
      : ['row', 'east', 'north', 'level', 'code', 'doubt', 'decided']
    ).map((key) => own.value[key]),
  )
  const waiting = computed<Row<Level>[]>(() =>
    Array.from({ length: total.value }, (_, at): Row<Level> => ({ id: `waiting-${at}`, kind: 'line' })),
  )
  const rows = computed<Row<Level>[]>(() => {
    const all = waiting.value.slice()
    for (const [at, level] of levels.value)
      if (at < all.length)
        all[at] = {
          id: level.id,
          kind: 'line',
          data: level,
          struck: !level.used,
          warn:
            level.doubts.length && !level.decided ? level.doubts.map((d) => DOUBTS[d] ?? d).join(', ') : '',
        }
    return isTyped.value && !only.value ? all.concat(stage.ghost.value) : all
  })
  function see(from: number, to: number) {
    const now = { from: Math.min(from, Math.max(total.value - 1, 0)), to: Math.max(to - 1, 0) }
    if (now.from !== seen.value.from || now.to !== seen.value.to) seen.value = now
  }
  /** Put the cursor on a level, by its place among all. */
  async function goTo(at: number) {
    if (only.value) only.value = ''
    asked.value = at
    await until(() => levels.value.get(at)?.at === at).toBe(true, { timeout: 5000 })
    await nextTick()
    stage.table.value?.activateRow(levels.value.get(at)?.id ?? at + 1, 3)
  }
  async function commitBlock(edits: BlockEdit<Level>[]): Promise<string | null> {
    for (const { data, fields } of edits) {
      const said = data
        ? await stage.trySave((version) =>
            data.typed !== null
              ? ask(
                  client.PATCH('/api/projects/{project_id}/levels/{level}', {
                    ...levelAt(data.typed),
                    body: { version: version ?? data.version, ...fields },
                  }),
                )
              : decide([data.at], 'put right', data.doubts[0] ?? '', fields.level ?? ''),
          )
        : await stage.trySave(() =>
            ask(
              client.POST('/api/projects/{project_id}/surveys/{survey}/levels', {
                params: params(),
                body: fields,
              }),
            ),
          )
      if (said) return said
    }
    return null
  }
  const bound = computed(() => ({ ...stage.bound.value, commitBlock, onSeen: see }))
  return { ...stage, bound, columns, rows, levels, total, isTyped, goTo, decide, undecide }
}
