<script setup lang="ts" generic="T">
// A table for typing, as in a spreadsheet: arrows, Enter, Tab, type to replace, F2, block select, copy and
// paste, fill down. What is typed stays in its cell until it is saved, and also when it is refused.
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { readBlock, writeBlock, type BlockEdit, type Column, type Row } from './ledger'
import { useTally } from './tally'

const props = defineProps<{
  label: string
  columns: Column<T>[]
  rows: Row<T>[]
  /** Save a cell; answers the sentence of a refusal, or null. */
  commit?: (data: T, key: string, text: string) => Promise<string | null>
  /** Save the first cell of a new line; answers its id, or the sentence of a refusal. */
  add?: (key: string, text: string) => Promise<number | string>
  remove?: (data: T) => Promise<unknown>
  /** Save many cells at once, as one change: a block pasted, cleared or filled down; a row without data is a new line. */
  commitBlock?: (edits: BlockEdit<T>[]) => Promise<string | null>
  /** Put a line earlier or later. */
  shift?: (data: T, by: number) => Promise<unknown>
  readonly?: boolean
}>()
const emit = defineEmits<{
  look: [row: Row<T>, column: Column<T>]
  select: [cells: { row: Row<T>; column: Column<T> }[]]
}>()

interface Kept {
  text: string
  sentence: string
}
const tally = useTally()
const grid = ref<HTMLElement>()
const input = ref<(HTMLInputElement | HTMLSelectElement)[]>([])
const active = reactive({ row: '' as number | string, column: 0 })
const anchor = ref<{ row: number; column: number } | null>(null)
const editing = ref<{ row: number | string; column: number; text: string; typed: boolean } | null>(null)
const kept = reactive(new Map<string, Kept>())
let queue: Promise<unknown> = Promise.resolve()
let adding: Promise<number | string> | null = null
let made: number | null = null
// Counts the lines begun at the ghost, so that what waits for one is not taken for the next one's.
const begun = ref(0)

const places = computed(() => props.rows.filter((row) => row.kind === 'line' || row.kind === 'ghost'))
const placeOf = computed(() => new Map(places.value.map((row, place) => [row.id, place])))
const at = computed(() => placeOf.value.get(active.row) ?? -1)

// Of a long table only the rows in view are drawn; they are then of one height, so words don't go on in a second line.
const ROW = 28
const LONG = 250
const { y: scrolled } = useScroll(grid)
const { height: seen } = useElementSize(grid)
const long = computed(() => props.rows.length > LONG)
const window = computed(() => {
  if (!long.value) return { from: 0, to: props.rows.length }
  const from = Math.max(0, Math.floor(scrolled.value / ROW) - 12)
  return {
    from: from - (from % 2),
    to: Math.min(props.rows.length, from + Math.ceil((seen.value || 600) / ROW) + 26),
  }
})
const drawn = computed(() => props.rows.slice(window.value.from, window.value.to))
function showActive() {
  void nextTick(() => {
    const cell = grid.value?.querySelector('.active')
    if (cell) return cell.scrollIntoView({ block: 'nearest', inline: 'nearest' })
    const row = props.rows.findIndex((each) => each.id === active.row)
    if (row >= 0 && grid.value) grid.value.scrollTop = Math.max(0, row * ROW - seen.value / 2)
  })
}
const block = computed(() => {
  if (at.value < 0) return null
  const from = anchor.value ?? { row: at.value, column: active.column }
  return {
    top: Math.min(from.row, at.value),
    bottom: Math.max(from.row, at.value),
    left: Math.min(from.column, active.column),
    right: Math.max(from.column, active.column),
  }
})

watch(block, (b) => {
  if (!b) return
  const cells = []
  for (let r = b.top; r <= b.bottom; r++)
    for (let c = b.left; c <= b.right; c++) cells.push({ row: places.value[r], column: props.columns[c] })
  emit('select', cells)
})

/** Why values were refused, for as long as they stand there; told here, so that no other saving wipes it away. */
const refusals = computed(() => [
  ...new Set([blockRefused.value, ...[...kept.values()].map((k) => k.sentence)].filter(Boolean)),
])

const keyOf = (row: Row<T>, column: Column<T>) =>
  row.kind === 'ghost' ? `${row.id} ${begun.value}:${column.key}` : `${row.id}:${column.key}`
const choicesOf = (row: Row<T>, column: Column<T>) =>
  typeof column.choices === 'function' ? column.choices(row.data ?? null) : column.choices
const editable = (row: Row<T>, column: Column<T>) =>
  !props.readonly &&
  (row.kind === 'ghost'
    ? Boolean(column.text && props.add)
    : Boolean(column.text && props.commit && (column.editable?.(row.data!) ?? true)))
function textOf(row: Row<T>, column: Column<T>): string {
  return (
    kept.get(keyOf(row, column))?.text ?? (row.data ? (column.text ?? column.show)?.(row.data) : '') ?? ''
  )
}
function shownIn(row: Row<T>, column: Column<T>): string {
  const waiting = kept.get(keyOf(row, column))
  if (waiting) return choicesOf(row, column)?.find((c) => c.value === waiting.text)?.label ?? waiting.text
  if (row.cells) return row.cells[column.key] ?? ''
  if (!row.data) return ''
  return column.show ? column.show(row.data) : (column.text?.(row.data) ?? '')
}

function activate(row: Row<T>, column: number, extend = false, quietly = false) {
  if (extend && at.value >= 0) anchor.value ??= { row: at.value, column: active.column }
  else anchor.value = null
  if (row.id !== active.row) leaveNew()
  active.row = row.id
  active.column = column
  if (!quietly) emit('look', row, props.columns[column])
}
function click(event: MouseEvent, row: Row<T>, column: number) {
  if (row.kind !== 'line' && row.kind !== 'ghost') {
    if (row.ref) emit('look', row, props.columns[column])
    return
  }
  if (editing.value && (editing.value.row !== row.id || editing.value.column !== column)) finish()
  activate(row, column, event.shiftKey)
  grid.value?.focus()
}
function move(down: number, across: number, extend = false) {
  let row = at.value < 0 ? 0 : at.value + down
  let column = active.column + across
  if (!extend && column >= props.columns.length) [column, row] = [0, row + 1]
  if (!extend && column < 0) [column, row] = [props.columns.length - 1, row - 1]
  const target = places.value[Math.min(Math.max(row, 0), places.value.length - 1)]
  if (!target) return
  activate(target, Math.min(Math.max(column, 0), props.columns.length - 1), extend)
  showActive()
}

/** Tab goes on to the next cell that can be typed in, and from the last of a line to the next line. */
function tab(back: boolean) {
  const step = back ? -1 : 1
  const cells = places.value.length * props.columns.length
  let place = at.value * props.columns.length + active.column + step
  const typable = () =>
    editable(
      places.value[Math.floor(place / props.columns.length)],
      props.columns[place % props.columns.length],
    )
  while (place >= 0 && place < cells && !props.readonly && !typable()) place += step
  if (place >= cells && places.value[at.value]?.kind === 'ghost') enter(false)
  else if (place >= 0 && place < cells)
    move(Math.floor(place / props.columns.length) - at.value, (place % props.columns.length) - active.column)
}

function edit(text?: string) {
  const row = places.value[at.value]
  const column = props.columns[active.column]
  if (!row || !editable(row, column)) return
  editing.value = {
    row: row.id,
    column: active.column,
    text: text ?? textOf(row, column),
    typed: text !== undefined,
  }
  focusInput()
}
function focusInput() {
  void nextTick(() => {
    const field = input.value[0]
    field?.focus()
    if (field instanceof HTMLInputElement) field.setSelectionRange(field.value.length, field.value.length)
  })
}
/** Leave the cell being edited and save it; `back` puts the keyboard back on the table. */
function finish(back = true) {
  const now = editing.value
  if (!now) return
  editing.value = null
  const row = places.value.find((each) => each.id === now.row)
  if (
    row &&
    (now.text !== textOf(row, props.columns[now.column]) ||
      kept.get(keyOf(row, props.columns[now.column]))?.sentence)
  )
    write(row, props.columns[now.column], now.text)
  settleOnLine()
  if (back) grid.value?.focus()
}
function write(row: Row<T>, column: Column<T>, text: string) {
  if (row.kind === 'ghost') return writeNew(row, column, text)
  const key = keyOf(row, column)
  keep(key, text)
  queue = queue.then(async () => {
    const fresh = props.rows.find((each) => each.id === row.id)
    settle(
      key,
      text,
      fresh?.data && props.commit
        ? await props.commit(fresh.data, column.key, text)
        : 'Not saved: its line is gone.',
    )
  })
}
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
/** The first cell of a new line makes the line; cells typed meanwhile follow it there. */
function writeNew(row: Row<T>, column: Column<T>, text: string) {
  if (!text.trim() || !props.add) return
  const key = keyOf(row, column)
  keep(key, text)
  if (adding) {
    const line = adding
    queue = queue.then(async () => {
      const id = await line
      const fresh = props.rows.find((each) => each.id === id)
      if (!fresh?.data || !props.commit)
        return refuseNew(key, column, text, 'Not saved: its line was refused.')
      // From now on the value waits in the cell of its line.
      kept.delete(key)
      kept.set(keyOf(fresh, column), { text, sentence: '' })
      settle(keyOf(fresh, column), text, await props.commit(fresh.data, column.key, text))
    })
    return
  }
  const mine = (adding = queue.then(() => props.add!(column.key, text)))
  queue = mine.then((id) => {
    if (typeof id === 'string') refuseNew(key, column, text, id)
    else settle(key, text, null)
    if (adding !== mine) return
    if (typeof id === 'string') adding = null
    else made = id
    if (!editing.value) settleOnLine()
  })
}
/** A value whose line was refused stays to be seen, in the ghost. */
function refuseNew(key: string, column: Column<T>, text: string, sentence: string) {
  kept.delete(key)
  const ghost = places.value.at(-1)
  if (ghost?.kind === 'ghost') kept.set(keyOf(ghost, column), { text, sentence })
  tally.end()
}
/** The cursor goes over from the ghost to the line it became, never under the typist's hands. */
function settleOnLine() {
  if (made === null) return
  if (places.value[at.value]?.kind === 'ghost') active.row = made
  leaveNew()
}
/** What is typed into the ghost from here on is another line. */
function leaveNew() {
  if (adding) begun.value += 1
  adding = made = null
}
/** Enter goes down; into the ghost, it goes to its first cell. */
function enter(back: boolean) {
  const below = places.value[at.value + 1] ?? places.value[at.value]
  if (back || below?.kind !== 'ghost') return move(back ? -1 : 1, 0)
  leaveNew()
  activate(below, 0)
}

function keydown(event: KeyboardEvent) {
  const control = event.ctrlKey || event.metaKey
  const key = event.key
  if (editing.value) return editKeydown(event)
  const arrows: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageDown: [12, 0],
    PageUp: [-12, 0],
  }
  if (event.altKey && (key === 'ArrowUp' || key === 'ArrowDown')) void shiftLine(key === 'ArrowUp' ? -1 : 1)
  else if (arrows[key] && !control) move(...arrows[key], event.shiftKey)
  else if (key === 'Tab') {
    const last = at.value === places.value.length - 1 && active.column === props.columns.length - 1
    if ((last && !event.shiftKey) || (at.value <= 0 && active.column === 0 && event.shiftKey)) return
    tab(event.shiftKey)
  } else if (key === 'Enter') enter(event.shiftKey)
  else if (key === 'Home') move(control ? -places.value.length : 0, -active.column)
  else if (key === 'End') move(control ? places.value.length : 0, props.columns.length - 1 - active.column)
  else if (key === 'F2') edit()
  else if (key === 'Delete' && control) void removeLine()
  else if (key === 'Delete' || key === 'Backspace') clearBlock()
  else if (control && key.toLowerCase() === 'd') fillDown()
  else if (control && key.toLowerCase() === 'a') selectAll()
  else if (key.length === 1 && !control && !event.altKey && key !== '?')
    edit(choicesOf(places.value[at.value], props.columns[active.column]) ? undefined : key)
  else return
  event.preventDefault()
  event.stopPropagation()
}
function editKeydown(event: KeyboardEvent) {
  const key = event.key
  event.stopPropagation()
  if (key === 'Escape') editing.value = null
  else if (key === 'Enter' || key === 'Tab') finish()
  else if (editing.value?.typed && (key === 'ArrowUp' || key === 'ArrowDown')) finish()
  else return
  event.preventDefault()
  grid.value?.focus()
  if (key === 'Enter') enter(event.shiftKey)
  else if (key === 'ArrowDown') move(1, 0)
  else if (key === 'ArrowUp') move(-1, 0)
  else if (key === 'Tab') tab(event.shiftKey)
}
function eachInBlock(act: (row: Row<T>, column: Column<T>, r: number, c: number) => void) {
  const b = block.value
  if (!b) return
  for (let r = b.top; r <= b.bottom; r++)
    for (let c = b.left; c <= b.right; c++) act(places.value[r], props.columns[c], r - b.top, c - b.left)
}
/** Write many cells: as one change where the table can, else cell by cell. */
function writeAll(cells: { row: Row<T>; column: Column<T>; text: string }[]) {
  const wanted = cells.filter(({ row, column, text }) => row.kind === 'ghost' || text !== textOf(row, column))
  const rows = new Set(wanted.map(({ row }) => row))
  if (!props.commitBlock || (rows.size < 2 && wanted.length < 2)) {
    for (const { row, column, text } of wanted) {
      if (row.kind === 'ghost' && column === wanted.find((each) => each.row === row)?.column) leaveNew()
      write(row.kind === 'ghost' ? places.value.at(-1)! : row, column, text)
    }
    return
  }
  const edits = [...rows].map((row) => ({
    data: row.kind === 'ghost' ? null : (row.data ?? null),
    fields: Object.fromEntries(
      wanted.filter((each) => each.row === row).map((each) => [each.column.key, each.text]),
    ),
  }))
  const kept_ = wanted.filter(({ row }) => row.kind === 'line')
  for (const { row, column, text } of kept_) keep(keyOf(row, column), text)
  if (!kept_.length) tally.begin()
  queue = queue.then(async () => {
    const sentence = await props.commitBlock!(
      edits.map((edit, n) => ({ ...edit, data: fresh([...rows][n]) ?? edit.data })),
    )
    for (const { row, column, text } of kept_) settle(keyOf(row, column), text, sentence)
    if (!kept_.length) {
      tally.end()
      if (sentence) blockRefused.value = sentence
    }
  })
}
const fresh = (row: Row<T>) => props.rows.find((each) => each.id === row.id)?.data
const blockRefused = ref('')
function clearBlock() {
  const cells: { row: Row<T>; column: Column<T>; text: string }[] = []
  eachInBlock(
    (row, column) =>
      row.kind === 'line' &&
      editable(row, column) &&
      !column.choices &&
      cells.push({ row, column, text: '' }),
  )
  writeAll(cells)
}
function fillDown() {
  const b = block.value
  if (!b) return
  const source = b.top === b.bottom ? b.top - 1 : b.top
  const from = places.value[source]
  if (!from) return
  const cells: { row: Row<T>; column: Column<T>; text: string }[] = []
  for (let r = source + 1; r <= b.bottom; r++)
    for (let c = b.left; c <= b.right; c++) {
      const [row, column] = [places.value[r], props.columns[c]]
      if (row.kind === 'line' && editable(row, column))
        cells.push({ row, column, text: textOf(from, column) })
    }
  writeAll(cells)
}
function selectAll() {
  const last = places.value.length - (places.value.at(-1)?.kind === 'ghost' ? 2 : 1)
  if (last < 0) return
  anchor.value = { row: 0, column: 0 }
  active.row = places.value[last].id
  active.column = props.columns.length - 1
}
async function shiftLine(by: number) {
  const row = places.value[at.value]
  if (!row?.data || !props.shift || props.readonly) return
  await props.shift(row.data, by)
  showActive()
}
function copy(event: ClipboardEvent) {
  if (editing.value || !block.value) return
  const cells: string[][] = []
  eachInBlock((row, column, r, c) => {
    cells[r] ??= []
    cells[r][c] = textOf(row, column)
  })
  event.clipboardData?.setData('text/plain', writeBlock(cells))
  event.preventDefault()
}
function paste(event: ClipboardEvent) {
  if (editing.value || !block.value) return
  event.preventDefault()
  const { top, left } = block.value
  blockRefused.value = ''
  const ghost = places.value.find((row) => row.kind === 'ghost')
  const cells: { row: Row<T>; column: Column<T>; text: string }[] = []
  readBlock(event.clipboardData?.getData('text/plain') ?? '').forEach((texts, r) => {
    const place = places.value[top + r]
    // Beyond the last line every row of the block is a new line.
    const row = place?.kind === 'line' ? place : ghost && { ...ghost, id: `${ghost.id}-${r}` }
    if (!row) return
    texts.forEach((text, c) => {
      const column = props.columns[left + c]
      if (column && editable(place?.kind === 'line' ? place : ghost!, column))
        cells.push({ row, column, text: text.trim() })
    })
  })
  const begins = cells.filter(({ row }) => row.kind === 'ghost')
  if (props.commitBlock || !begins.length) return writeAll(cells)
  for (const { row, column, text } of cells) {
    if (row.kind === 'ghost' && begins.find((each) => each.row === row)?.column === column) leaveNew()
    write(row.kind === 'ghost' ? ghost! : row, column, text)
  }
  leaveNew()
}
async function removeLine() {
  const row = places.value[at.value]
  if (!row?.data || !props.remove || props.readonly) return
  const next = places.value[at.value + 1]
  await props.remove(row.data)
  if (next) activate(next, active.column)
}
function focusIn() {
  if (at.value < 0 && places.value.length) activate(places.value[0], 0)
}
/** Put the cursor on a row, quietly where its number is in focus by another way; a row that has it already keeps its cell. */
function activateRow(id: number | string, column?: number, quietly = false) {
  if (active.row === id && column === undefined) return
  const row = places.value.find((each) => each.id === id)
  if (row) activate(row, column ?? 0, false, quietly)
  showActive()
}
/** Drop what waits in a cell, once it was saved another way. */
const forget = (id: number | string, column: string) => kept.delete(`${id}:${column}`)
defineExpose({ activateRow, forget, focus: () => grid.value?.focus() })

const inBlock = (row: Row<T>, column: number) => {
  const b = block.value
  if (!b || (b.top === b.bottom && b.left === b.right)) return false
  const r = placeOf.value.get(row.id) ?? -1
  return r >= b.top && r <= b.bottom && column >= b.left && column <= b.right
}
</script>

<template>
  <div class="part">
    <div
      ref="grid"
      class="ledger scroll"
      role="grid"
      tabindex="0"
      :aria-label="label"
      :aria-rowcount="rows.length + 1"
      @keydown="keydown"
      @copy="copy"
      @paste="paste"
      @focus="focusIn"
    >
      <table role="presentation">
        <colgroup>
          <col v-for="column in columns" :key="column.key" :style="{ width: column.width }" />
          <col v-if="remove" style="width: 26px" />
        </colgroup>
        <thead>
          <tr role="row">
            <th
              v-for="column in columns"
              :key="column.key"
              role="columnheader"
              :class="{ number: column.number }"
            >
              {{ column.label }}
            </th>
            <th v-if="remove" role="columnheader"><span class="unseen">Delete</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="window.from" :style="{ height: `${window.from * ROW}px` }" role="presentation"></tr>
          <tr
            v-for="row in drawn"
            :key="row.id"
            role="row"
            :class="[row.kind, { here: row.id === active.row, struck: row.struck }]"
          >
            <td
              v-for="(column, c) in columns"
              :key="column.key"
              role="gridcell"
              :class="{
                number: column.number,
                wrap: column.wrap && !long,
                active: row.id === active.row && c === active.column,
                block: inBlock(row, c),
                refused: kept.get(keyOf(row, column))?.sentence,
                waiting: kept.has(keyOf(row, column)),
                fixed: row.kind === 'line' && !editable(row, column),
              }"
              :title="
                kept.get(keyOf(row, column))?.sentence ||
                (row.data && column.title?.(row.data)) ||
                (c === 0 ? row.warn : undefined)
              "
              :style="c === 0 && row.level ? { paddingLeft: `${8 + row.level * 14}px` } : undefined"
              @mousedown="click($event, row, c)"
              @dblclick="edit()"
            >
              <template v-if="editing && editing.row === row.id && editing.column === c">
                <select
                  v-if="choicesOf(row, column)"
                  ref="input"
                  v-model="editing.text"
                  :aria-label="column.label"
                  @change="finish()"
                  @blur="finish(false)"
                  @mousedown.stop
                >
                  <option v-for="choice in choicesOf(row, column)" :key="choice.value" :value="choice.value">
                    {{ choice.label }}
                  </option>
                </select>
                <input
                  v-else
                  ref="input"
                  v-model="editing.text"
                  :class="{ number: column.number }"
                  :aria-label="column.label"
                  @blur="finish(false)"
                  @mousedown.stop
                  @dblclick.stop
                />
              </template>
              <template v-else>
                <slot :name="column.key" :row="row">
                  {{ c === 0 && row.label !== undefined ? row.label : shownIn(row, column) }}
                  <span v-if="row.data && column.unit && shownIn(row, column)" class="quiet">{{
                    column.unit(row.data)
                  }}</span>
                  <span
                    v-if="row.kind === 'ghost' && column.hint && !kept.has(keyOf(row, column))"
                    class="hint"
                    >{{ column.hint }}</span
                  >
                </slot>
              </template>
            </td>
            <td v-if="remove" class="side">
              <button
                v-if="row.kind === 'line' && !readonly"
                class="plain"
                tabindex="-1"
                title="Delete this line (Ctrl+Delete)"
                aria-label="Delete this line"
                @click="remove(row.data!)"
              >
                ×
              </button>
            </td>
          </tr>
          <tr
            v-if="window.to < rows.length"
            :style="{ height: `${(rows.length - window.to) * ROW}px` }"
            role="presentation"
          ></tr>
        </tbody>
      </table>
    </div>
    <p v-for="sentence in refusals" :key="sentence" class="told" role="alert">{{ sentence }}</p>
  </div>
</template>

<style scoped>
.part {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.ledger {
  position: relative;
  flex: 1;
}
.told {
  margin: 0;
  padding: 6px 14px;
  border-top: 1px solid var(--bad);
  background: var(--bad-soft);
  color: var(--bad);
}
.ledger:focus {
  outline: none;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  height: 30px;
  padding: 0 7px;
  background: var(--panel);
  box-shadow: inset 0 -1px var(--ink);
  color: var(--quiet);
  font-weight: 500;
  text-align: left;
  white-space: nowrap;
}
td {
  position: relative;
  height: var(--row);
  padding: 0 7px;
  border-bottom: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: cell;
}
th.number,
td.number {
  text-align: right;
}
td.number {
  font-family: var(--mono);
}
.fixed {
  cursor: default;
}
td.wrap {
  white-space: normal;
  padding-block: 4px;
}
tr.here td {
  background: var(--accent-soft);
}
td.block {
  background: var(--main-soft) !important;
}
.ledger:focus td.active,
.ledger:focus-within td.active {
  outline: 2px solid var(--main);
  outline-offset: -2px;
}
.head td,
.total td {
  font-weight: 600;
}
.head td,
.step td,
.total td {
  cursor: default;
}
.head td {
  background: var(--ground);
  overflow: visible;
}
.head td:not(.number) {
  text-overflow: clip;
}
.total td {
  border-top: 1px solid var(--ink);
}
.struck td {
  color: var(--quiet);
}
.waiting {
  color: var(--quiet);
}
.refused {
  color: var(--bad);
  background: var(--bad-soft) !important;
  text-decoration: underline wavy;
}
.hint {
  color: #756f64;
}
input,
select {
  position: absolute;
  inset: 0;
  width: 100%;
  border: 0;
  outline: 2px solid var(--main);
  outline-offset: -2px;
  padding: 0 8px;
  background: var(--panel);
  color: var(--ink);
  font: inherit;
}
input.number {
  text-align: right;
}
.side {
  padding: 0;
  text-align: center;
}
.side button {
  visibility: hidden;
  padding: 0 6px;
  color: var(--quiet);
}
tr:hover .side button,
tr.here .side button {
  visibility: visible;
}
.unseen {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
}
</style>
