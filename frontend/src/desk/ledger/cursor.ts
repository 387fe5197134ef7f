// Where one is in a ledger table: the active cell, the block selected from it, and the rows in view.
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, nextTick, reactive, ref, watch, type Ref } from 'vue'
import type { Column, Row } from './ledger'

// Of a long table only the rows in view are drawn; they are then of one height, so words don't go on in a second line.
const LONG = 250
const MANY = 2000 // cells

export interface Block {
  top: number
  bottom: number
  left: number
  right: number
}

export function useCursor<T>(
  rows: Ref<Row<T>[]>,
  columns: Ref<Column<T>[]>,
  grid: Ref<HTMLElement | undefined>,
  high: number,
) {
  const active = reactive({ row: '' as number | string, column: 0 })
  const anchor = ref<{ row: number; column: number } | null>(null)
  const places = computed(() => rows.value.filter((row) => row.kind === 'line' || row.kind === 'ghost'))
  const placeOf = computed(() => new Map(places.value.map((row, place) => [row.id, place])))
  const at = computed(() => placeOf.value.get(active.row) ?? -1)
  // A line that one stands on before it was read takes its own name once it is.
  let last = -1
  watch(at, (now) => {
    if (now >= 0) last = now
    else if (String(active.row).startsWith('waiting-') && places.value[last])
      active.row = places.value[last].id
  })

  const { y: scrolled } = useScroll(grid)
  const { height: seen, width: room } = useElementSize(grid)
  const long = computed(() => rows.value.length > LONG || rows.value.length * columns.value.length > MANY)
  const view = computed(() => {
    if (!long.value) return { from: 0, to: rows.value.length }
    const from = Math.max(0, Math.floor(scrolled.value / high) - 12)
    const to = Math.min(rows.value.length, from + Math.ceil((seen.value || 600) / high) + 26)
    return { from: from - (from % 2), to }
  })
  const drawn = computed(() => rows.value.slice(view.value.from, view.value.to))

  const block = computed<Block | null>(() => {
    if (at.value < 0) return null
    const from = anchor.value ?? { row: at.value, column: active.column }
    return {
      top: Math.min(from.row, at.value),
      bottom: Math.max(from.row, at.value),
      left: Math.min(from.column, active.column),
      right: Math.max(from.column, active.column),
    }
  })
  /** The cells of the block, row by row, with their places within it. */
  function eachInBlock(act: (row: Row<T>, column: Column<T>, r: number, c: number) => void) {
    const b = block.value
    if (!b) return
    for (let r = b.top; r <= b.bottom; r++)
      for (let c = b.left; c <= b.right; c++) act(places.value[r], columns.value[c], r - b.top, c - b.left)
  }
  /** The block that a row has a part of; one cell is none. */
  function blockOn(row: Row<T>): Block | undefined {
    const b = block.value
    if (!b || (b.top === b.bottom && b.left === b.right)) return undefined
    const r = placeOf.value.get(row.id) ?? -1
    return r >= b.top && r <= b.bottom ? b : undefined
  }

  /** Put the cursor on a cell, or draw the block out to it. */
  function put(row: Row<T>, column: number, extend: boolean) {
    if (extend && at.value >= 0) anchor.value ??= { row: at.value, column: active.column }
    else anchor.value = null
    active.row = row.id
    active.column = column
  }
  /** The cell so many rows and columns on; past the end of a row it is the next row's first. */
  function beyond(down: number, across: number, extend: boolean): { row: Row<T>; column: number } | null {
    const [most, lines] = [columns.value.length - 1, places.value.length - 1]
    let row = at.value < 0 ? 0 : at.value + down
    let column = active.column + across
    if (!extend && column > most) [column, row] = [0, row + 1]
    if (!extend && column < 0) [column, row] = [most, row - 1]
    const target = places.value[Math.min(Math.max(row, 0), lines)]
    return target ? { row: target, column: Math.min(Math.max(column, 0), most) } : null
  }
  function selectAll() {
    const end = places.value.length - (places.value.at(-1)?.kind === 'ghost' ? 2 : 1)
    if (end < 0) return
    anchor.value = { row: 0, column: 0 }
    active.row = places.value[end].id
    active.column = columns.value.length - 1
  }
  function show() {
    void nextTick(() => {
      const cell = grid.value?.querySelector('.active')
      if (cell) {
        // What is gone to from afar stands amid its like; a step goes no further than it must.
        const [of, within] = [cell.getBoundingClientRect(), grid.value!.getBoundingClientRect()]
        const far = of.bottom < within.top || of.top > within.bottom + high
        return cell.scrollIntoView({ block: far ? 'center' : 'nearest', inline: 'nearest' })
      }
      const row = rows.value.findIndex((each) => each.id === active.row)
      if (row >= 0 && grid.value) grid.value.scrollTop = Math.max(0, row * high - seen.value / 2)
    })
  }

  return {
    active,
    places,
    at,
    long,
    view,
    room,
    drawn,
    block,
    eachInBlock,
    blockOn,
    put,
    beyond,
    selectAll,
    show,
  }
}
