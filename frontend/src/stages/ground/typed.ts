// Rows of the ground's work as ledger tables: blocks are written row by row.
import { computed } from 'vue'
import type { Saved } from '../../api/project'
import type { BlockEdit } from '../../desk/ledger/ledger'
import { useLedgerStage, type Line } from '../../desk/ledger/stage'

type Fields = Record<string, unknown>
interface Typed<T extends Line> {
  lines: () => readonly T[]
  write: (row: T, version: number, fields: Fields) => Promise<Saved>
  make: (fields: Fields) => Promise<Saved>
  drop: (row: T) => Promise<Saved>
  fields?: (key: string, text: string) => Fields
}
export function useTyped<T extends Line>(of: Typed<T>, ref: (row: T) => string) {
  const stage = useLedgerStage<T>(of.lines, {
    write: of.write,
    make: (fields) => () => of.make(fields),
    drop: of.drop,
    ref,
    fields: of.fields,
  })
  async function commitBlock(edits: BlockEdit<T>[]): Promise<string | null> {
    for (const { data, fields: cells } of edits) {
      const fields = of.fields
        ? Object.assign({}, ...Object.entries(cells).map(([key, text]) => of.fields!(key, text)))
        : cells
      const said = await stage.trySave((version) =>
        data ? of.write(data, version ?? data.version, fields) : of.make(fields),
      )
      if (said) return said
    }
    return null
  }
  const bound = computed(() => ({ ...stage.bound.value, commitBlock }))
  return { ...stage, bound }
}
