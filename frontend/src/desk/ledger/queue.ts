// What is typed into a ledger table on its way to being saved, one after the other. A value stays in its cell until it
// is saved, and also when it is refused; one can leave a cell and type on while the one before is being saved.
import { computed, reactive, ref, type Ref } from 'vue'
import { useTally } from '../tally'
import type { BlockEdit, Column, Row } from './ledger'

export interface Cell<T> {
  row: Row<T>
  column: Column<T>
  text: string
}
interface Writing<T> {
  /** Save a cell; answers the sentence of a refusal, or null. */
  commit?: (data: T, key: string, text: string) => Promise<string | null>
  /** Save the first cell of a new line; answers its id, or the sentence of a refusal. */
  add?: (key: string, text: string) => Promise<number | string>
  /** Save many cells at once, as one change; a row without data is a new line. */
  commitBlock?: (edits: BlockEdit<T>[]) => Promise<string | null>
}

export function useQueue<T>(rows: Ref<Row<T>[]>, writing: Writing<T>, onLine: (id: number) => void) {
  const tally = useTally()
  const kept = reactive(new Map<string, { text: string; sentence: string }>())
  const blockRefused = ref('')
  let queue: Promise<unknown> = Promise.resolve()
  let adding: Promise<number | string> | null = null
  let made: number | null = null
  // Counts the lines begun at the ghost, so that what waits for one is not taken for the next one's.
  const begun = ref(0)

  const ghost = () => rows.value.find((row) => row.kind === 'ghost')
  const keyOf = (row: Row<T>, column: Column<T>) =>
    row.kind === 'ghost' ? `${row.id} ${begun.value}:${column.key}` : `${row.id}:${column.key}`
  const fresh = (row: Row<T>) => rows.value.find((each) => each.id === row.id)?.data
  /** The text one edits: what was typed last, else what is. */
  const textOf = (row: Row<T>, column: Column<T>): string =>
    kept.get(keyOf(row, column))?.text ?? (row.data ? (column.text ?? column.show)?.(row.data) : '') ?? ''
  /** Why values were refused, for as long as they stand there; told here, so that no other saving wipes it away. */
  const refusals = computed(() => {
    const said = [blockRefused.value, ...[...kept.values()].map((each) => each.sentence)]
    return [...new Set(said.filter(Boolean))]
  })

  /** From here to its settling a value counts as being saved, also while it waits its turn. */
  function keep(key: string, text: string) {
    kept.set(key, { text, sentence: '' })
    tally.begin()
  }
  function settle(key: string, text: string, sentence: string | null) {
    tally.end()
    if (kept.get(key)?.text !== text) return
    if (sentence === null) kept.delete(key)
    else kept.set(key, { text, sentence })
  }
  async function commit(data: T | undefined, column: Column<T>, text: string): Promise<string | null> {
    if (data && writing.commit) return writing.commit(data, column.key, text)
    return `“${text}” is not saved: its line was deleted meanwhile. Undo brings the line back.`
  }

  function write(row: Row<T>, column: Column<T>, text: string) {
    if (row.kind === 'ghost') return writeNew(row, column, text)
    const key = keyOf(row, column)
    keep(key, text)
    queue = queue.then(async () => settle(key, text, await commit(fresh(row), column, text)))
  }
  /** The first cell of a new line makes the line; cells typed meanwhile follow it there. */
  function writeNew(row: Row<T>, column: Column<T>, text: string) {
    if (!text.trim() || !writing.add) return
    const key = keyOf(row, column)
    keep(key, text)
    if (adding) {
      const line = adding
      queue = queue.then(async () => follow(await line, key, column, text))
      return
    }
    const mine = (adding = queue.then(() => writing.add!(column.key, text)))
    queue = mine.then((id) => {
      if (typeof id === 'string') refuseNew(key, column, text, id)
      else settle(key, text, null)
      if (adding !== mine) return
      if (typeof id === 'string') adding = null
      else onLine((made = id))
    })
  }
  /** A value typed into a new line goes over to the line that was made. */
  async function follow(id: number | string, key: string, column: Column<T>, text: string) {
    const line = rows.value.find((each) => each.id === id)
    if (!line?.data || !writing.commit)
      return refuseNew(key, column, text, 'Not saved: its line was refused.')
    kept.delete(key)
    kept.set(keyOf(line, column), { text, sentence: '' })
    settle(keyOf(line, column), text, await writing.commit(line.data, column.key, text))
  }
  /** A value whose line was refused stays to be seen, in the ghost. */
  function refuseNew(key: string, column: Column<T>, text: string, sentence: string) {
    kept.delete(key)
    const line = ghost()
    if (line) kept.set(keyOf(line, column), { text, sentence })
    tally.end()
  }
  /** What is typed into the ghost from here on is another line. */
  function leaveNew() {
    if (adding) begun.value += 1
    adding = made = null
  }
  /** The line the ghost became, once it is made. */
  const newLine = () => made

  /** Write many cells: as one change where the table can, else cell by cell. */
  function writeAll(cells: Cell<T>[]) {
    const wanted = cells.filter(
      ({ row, column, text }) => row.kind === 'ghost' || text !== textOf(row, column),
    )
    const touched = [...new Set(wanted.map(({ row }) => row))]
    if (!writing.commitBlock || (touched.length < 2 && wanted.length < 2)) return writeEach(wanted)
    const edits = touched.map((row) => ({
      data: row.kind === 'ghost' ? null : (row.data ?? null),
      fields: Object.fromEntries(
        wanted.filter((each) => each.row === row).map((each) => [each.column.key, each.text]),
      ),
    }))
    const lines = wanted.filter(({ row }) => row.kind === 'line')
    for (const { row, column, text } of lines) keep(keyOf(row, column), text)
    if (!lines.length) tally.begin()
    queue = queue.then(async () => {
      const now = edits.map((edit, n) => ({ ...edit, data: fresh(touched[n]) ?? edit.data }))
      const sentence = await writing.commitBlock!(now)
      for (const { row, column, text } of lines) settle(keyOf(row, column), text, sentence)
      if (lines.length) return
      tally.end()
      if (sentence) blockRefused.value = sentence
    })
  }
  function writeEach(cells: Cell<T>[]) {
    for (const { row, column, text } of cells) {
      if (row.kind === 'ghost' && column === cells.find((each) => each.row === row)?.column) leaveNew()
      const line = row.kind === 'ghost' ? ghost() : row
      if (line) write(line, column, text)
    }
  }
  /** Drop what waits in a cell, once it was saved another way. */
  const forget = (id: number | string, column: string) => kept.delete(`${id}:${column}`)

  return { kept, keyOf, textOf, refusals, blockRefused, write, writeAll, leaveNew, newLine, forget }
}
