// What every ledger stage does: cells saved, lines added and taken out, the line in focus and its numbers.
import { computed, ref } from 'vue'
import { useProject, useSave, type Saved } from '../../api/project'
import { useWalkStore } from '../walk'
import type { Column, Ledger, Row } from './ledger'

export interface Line {
  id: number
  version: number
}
type Fields = Record<string, unknown>
interface Writing<T extends Line> {
  /** Write fields of a line over the version its writer saw. */
  write: (line: T, version: number, fields: Fields) => Promise<Saved>
  /** Make a line that begins with some fields; a sentence where it can't begin so. */
  make: (fields: Fields, key: string) => (() => Promise<Saved>) | string
  drop: (line: T) => Promise<Saved>
  /** The walk reference of a line, for the columns that have none of their own. */
  ref: (line: T) => string
  /** What a cell's text says; the field of its column, when not given. */
  fields?: (key: string, text: string) => Fields
}

export function useLedgerStage<T extends Line>(lines: () => readonly T[], of: Writing<T>) {
  const { save, trySave, tryMake, projectId } = useSave()
  const { data: project } = useProject()
  const walk = useWalkStore()
  const table = ref<Ledger>()
  const looked = ref<number | null>(null)
  const readonly = computed(() => project.value?.role === 'viewer')
  /** The line in focus. */
  const line = computed(() => lines().find((each) => each.id === looked.value) ?? null)
  const fields = of.fields ?? ((key: string, text: string): Fields => ({ [key]: text }))

  const change = (row: T, values: Fields) => save((version) => of.write(row, version ?? row.version, values))
  const commit = (row: T, key: string, text: string) =>
    trySave((version) => of.write(row, version ?? row.version, fields(key, text)))
  async function add(key: string, text: string): Promise<number | string> {
    const made = of.make(fields(key, text), key)
    return typeof made === 'string' ? made : tryMake(made)
  }
  const remove = (row: T) => save(() => of.drop(row))
  function look(row: Row<T>, column: Column<T>) {
    looked.value = row.data?.id ?? null
    if (row.data) walk.look(column.ref?.(row.data) ?? of.ref(row.data))
    else if (row.ref) walk.look(row.ref)
  }
  /** The line that is still to be typed. */
  const ghost = computed<Row<T>[]>(() => (readonly.value ? [] : [{ id: 'new', kind: 'ghost' }]))
  /** What the table is given. */
  const bound = computed(() => ({ commit, add, remove, readonly: readonly.value, onLook: look }))
  return { table, line, readonly, change, ghost, bound, look, commit, save, trySave, projectId, project }
}
