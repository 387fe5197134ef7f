// Blocks of cells between a ledger table and a spreadsheet.
import type { Ref } from 'vue'
import { readBlock, writeBlock, type Column, type Row } from './ledger'
import type { useCursor } from './cursor'
import type { Cell, useQueue } from './queue'

// Marks a block that was copied here, whose columns are ours.
const OURS = 'application/x-sand-scale-ledger'

export function useClipboard<T>(
  columns: Ref<Column<T>[]>,
  cursor: ReturnType<typeof useCursor<T>>,
  queue: ReturnType<typeof useQueue<T>>,
  editable: (row: Row<T>, column: Column<T>) => boolean,
) {
  function copy(event: ClipboardEvent) {
    if (!cursor.block.value) return
    const cells: string[][] = []
    cursor.eachInBlock((row, column, r, c) => {
      cells[r] ??= []
      cells[r][c] = queue.textOf(row, column)
    })
    event.clipboardData?.setData('text/plain', writeBlock(cells))
    event.clipboardData?.setData(OURS, '1')
    event.preventDefault()
  }
  /** The columns a block from elsewhere goes into: where it isn't wider than what can be typed in, it passes over
   * the rest, such as what a line squares to. */
  function columnsFor(block: string[][], left: number, ours: boolean): Column<T>[] {
    const right = columns.value.slice(left)
    const typed = right.filter(
      (column) => column.text && (!column.choices || column.told || column === right[0]),
    )
    return !ours && Math.max(...block.map((row) => row.length)) <= typed.length ? typed : right
  }
  function paste(event: ClipboardEvent) {
    if (!cursor.block.value) return
    event.preventDefault()
    const { top, left } = cursor.block.value
    queue.blockRefused.value = ''
    const ghost = cursor.places.value.find((row) => row.kind === 'ghost')
    const cells: Cell<T>[] = []
    const pasted = readBlock(event.clipboardData?.getData('text/plain') ?? '')
    const into = columnsFor(pasted, left, Boolean(event.clipboardData?.getData(OURS)))
    pasted.forEach((texts, r) => {
      const place = cursor.places.value[top + r]
      const onLine = place?.kind === 'line'
      // Beyond the last line every row of the block is a new line.
      const row = onLine ? place : ghost && { ...ghost, id: `${ghost.id}-${r}` }
      if (!row) return
      texts.forEach((text, c) => {
        const column = into[c]
        if (column && editable(onLine ? place : ghost!, column))
          cells.push({ row, column, text: text.trim() })
      })
    })
    queue.writeAll(cells)
    queue.leaveNew()
  }
  function clear() {
    const cells: Cell<T>[] = []
    cursor.eachInBlock((row, column) => {
      if (row.kind === 'line' && editable(row, column) && !column.choices)
        cells.push({ row, column, text: '' })
    })
    queue.writeAll(cells)
  }
  /** What stands in the block's first row, or above it, put into the rows below. */
  function fillDown() {
    const b = cursor.block.value
    if (!b) return
    const source = b.top === b.bottom ? b.top - 1 : b.top
    const from = cursor.places.value[source]
    if (!from) return
    const cells: Cell<T>[] = []
    for (let r = source + 1; r <= b.bottom; r++)
      for (let c = b.left; c <= b.right; c++) {
        const [row, column] = [cursor.places.value[r], columns.value[c]]
        if (row.kind === 'line' && editable(row, column))
          cells.push({ row, column, text: queue.textOf(from, column) })
      }
    queue.writeAll(cells)
  }
  return { copy, paste, clear, fillDown }
}
