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
