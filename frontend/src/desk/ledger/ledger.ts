// What a ledger table is made of, and reading what a spreadsheet puts on the clipboard.

export interface Column<T> {
  /** Seldom changed: Tab passes it by, arrows and the pointer reach it. */
  aside?: boolean
  key: string
  label: string
  width?: string
  /** Long words go on in a second line rather than being cut. */
  wrap?: boolean
  number?: boolean
  /** The text one edits; the cell can't be edited where it is missing. */
  text?: (data: T) => string
  /** What is shown; the edited text when missing. */
  show?: (data: T) => string
  unit?: (data: T) => string
  title?: (data: T) => string
  choices?: { value: string; label: string }[] | ((data: T | null) => { value: string; label: string }[])
  /** A choice that is also told by its words, so that a block from elsewhere may hold it. */
  told?: boolean
  /** Words that are never cut, such as an item's own number: its column is as wide as the widest seen. */
  whole?: boolean
  /** The walk reference of the number in it. */
  ref?: (data: T) => string
  editable?: (data: T) => boolean
  /** Offered as one types. */
  hint?: string
}

export interface Row<T> {
  id: number | string
  kind: 'line' | 'head' | 'step' | 'total' | 'ghost'
  data?: T
  label?: string
  level?: number
  /** For heads and totals: what stands under a column. */
  cells?: Record<string, string>
  ref?: string
  warn?: string
  struck?: boolean
}

/** The cell that is typed in, and what stands in it so far. */
export interface Editing {
  row: number | string
  column: number
  text: string
  /** Begun by typing over what was there. */
  typed: boolean
}

/** What the rows of a table ask of it, and tell it. */
export interface Rows<T> {
  /** Cells that a view draws itself, by column. */
  slots: Record<string, ((given: { row: Row<T> }) => unknown) | undefined>
  /** What was typed into a cell and isn't saved, and why it was refused. */
  waiting: (row: Row<T>, column: Column<T>) => { text: string; sentence: string } | undefined
  shownIn: (row: Row<T>, column: Column<T>) => string
  textOf: (row: Row<T>, column: Column<T>) => string
  choicesOf: (row: Row<T>, column: Column<T>) => { value: string; label: string }[] | undefined
  editable: (row: Row<T>, column: Column<T>) => boolean
  canDrag: (row: Row<T>) => boolean
  canRemove: (row: Row<T>) => boolean
  click: (event: MouseEvent, row: Row<T>, column: number) => void
  edit: () => void
  type: (text: string) => void
  take: (value: string, then: 'stay' | 'Enter' | 'Tab', back: boolean) => void
  leavePick: () => void
  finish: (back?: boolean) => void
  drag: (row: Row<T> | null) => void
  dragOver: (event: DragEvent, row: Row<T>) => void
  drop: (row: Row<T>) => void
  remove: (row: Row<T>) => void
}

// What of a row is drawn, but for its cells.
const DRAWN = Object.keys({
  kind: 1,
  data: 1,
  label: 1,
  level: 1,
  ref: 1,
  warn: 1,
  struck: 1,
} satisfies Record<Exclude<keyof Row<unknown>, 'id' | 'cells'>, 1>) as (keyof Row<unknown>)[]

/** Rows, those of which nothing changed as they were: they aren't drawn again. */
export function rowsKept<T>(before: readonly Row<T>[], now: readonly Row<T>[]): Row<T>[] {
  const known = new Map(before.map((row) => [row.id, row]))
  return now.map((row) => {
    const was = known.get(row.id)
    return was && DRAWN.every((each) => was[each] === row[each]) && sameCells(was.cells, row.cells)
      ? was
      : row
  })
}
function sameCells(one?: Record<string, string>, other?: Record<string, string>): boolean {
  if (!one || !other) return one === other
  const keys = Object.keys(one)
  return keys.length === Object.keys(other).length && keys.every((key) => one[key] === other[key])
}

/** What a block writes into one row: its fields by column; without data it is a new line. */
export interface BlockEdit<T> {
  data: T | null
  fields: Record<string, string>
}

/** What a view may ask of the table it holds. */
export interface Ledger {
  /** Scroll to where the cursor stands. */
  show: () => void
  activateRow: (id: number | string, column?: number, quietly?: boolean) => void
  forget: (id: number | string, column: string) => void
  focus: () => void
}

/** Cells of a block on the clipboard: tab-separated, quoted where a cell holds tabs, quotes or line breaks. */
export function readBlock(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  const source = text.replace(/\r\n?/g, '\n').replace(/\n$/, '')
  for (let at = 0; at < source.length; at++) {
    const sign = source[at]
    if (quoted) {
      if (sign === '"' && source[at + 1] === '"') cell += source[at++]
      else if (sign === '"') quoted = false
      else cell += sign
    } else if (sign === '"' && cell === '') quoted = true
    else if (sign === '\t' || sign === '\n') {
      rows[rows.length - 1].push(cell)
      cell = ''
      if (sign === '\n') rows.push([])
    } else cell += sign
  }
  rows[rows.length - 1].push(cell)
  return rows
}

export function writeBlock(rows: string[][]): string {
  return rows
    .map((row) =>
      row.map((cell) => (/[\t\n"]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)).join('\t'),
    )
    .join('\n')
}
