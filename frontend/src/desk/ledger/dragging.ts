// A line of a ledger table taken by its first cell and put where another stands.
import { ref } from 'vue'
import type { Row } from './ledger'

interface Putting<T> {
  put?: (data: T, onto: Row<T>) => Promise<unknown>
  readonly?: boolean
}

export function useDragging<T>(of: Putting<T>) {
  const dragged = ref<T | null>(null)
  /** The row it would be put at. */
  const over = ref<number | string | null>(null)
  const canDrag = (row: Row<T>) => !!of.put && !of.readonly && row.kind === 'line' && !!row.data

  function drag(row: Row<T> | null) {
    dragged.value = row?.data ?? null
    if (!row) over.value = null
  }
  function dragOver(event: DragEvent, row: Row<T>) {
    if (!dragged.value || !['line', 'head', 'ghost'].includes(row.kind)) return
    event.preventDefault()
    over.value = row.id
  }
  function drop(row: Row<T>) {
    const data = dragged.value as T | null
    drag(null)
    if (data && row.data !== data) void of.put?.(data, row)
  }
  return { over, canDrag, drag, dragOver, drop }
}
