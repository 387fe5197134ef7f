// How wide the columns of a ledger table are: a number is never cut, so its column is as wide as the widest
// seen.
import { computed, reactive, watch, type Ref } from 'vue'
import type { Column, Row } from './ledger'

const FIGURE = 7.82 // of the figures' face, at 13 px
const LETTER = 7.3 // of a heading, about
const SIDES = 17
const WORDS = 110 // the least that words are given before the table scrolls sideways

export function useWidths<T>(
  columns: Ref<Column<T>[]>,
  drawn: Ref<Row<T>[]>,
  shownIn: (row: Row<T>, column: Column<T>) => string,
) {
  const longest = reactive(new Map<string, number>())
  watch(
    [columns, drawn],
    () => {
      for (const column of columns.value)
        if (column.number || column.whole)
          for (const row of drawn.value) {
            const unit = row.data && column.unit ? column.unit(row.data).length + 1 : 0
            // What was picked is called by its words until it is kept, which aren't what stands there.
            const text =
              column.choices && row.data && column.show ? column.show(row.data) : shownIn(row, column)
            const length = text.length + unit
            if (length > (longest.get(column.key) ?? 0)) longest.set(column.key, length)
          }
    },
    { immediate: true, flush: 'sync' },
  )
  /** The width of each column, in px; 0 where it takes what is left. */
  const widths = computed(() =>
    columns.value.map((column) => {
      const least = parseInt(column.width ?? '0', 10)
      if (!column.number && !column.whole) return least
      const body = (longest.get(column.key) ?? 0) * FIGURE + SIDES
      return Math.ceil(Math.max(least, body, column.label.length * LETTER + SIDES))
    }),
  )
  /** What the table wants at least. */
  const least = computed(() => widths.value.reduce((sum, width) => sum + (width || WORDS), 0))
  return { widths, least }
}
