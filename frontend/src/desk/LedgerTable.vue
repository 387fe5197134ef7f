<script setup lang="ts" generic="T">
// A table for typing, as in a spreadsheet: arrows, Enter, Tab, type to replace, F2, block select, copy and
// paste, fill down. Where one is: ledger/cursor; what is being saved: ledger/queue; blocks: ledger/clipboard.
import { computed, nextTick, ref, toRef, watch } from 'vue'
import { useClipboard } from './ledger/clipboard'
import { useCursor } from './ledger/cursor'
import { useDragging } from './ledger/dragging'
import { rowsKept, type BlockEdit, type Column, type Editing, type Row, type Rows } from './ledger/ledger'
import LedgerRow from './ledger/LedgerRow.vue'
import { useQueue } from './ledger/queue'
import { useWidths } from './ledger/widths'

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
  /** Put a line, taken by its first cell, where another stands. */
  put?: (data: T, onto: Row<T>) => Promise<unknown>
  readonly?: boolean
  /** How high a row is, where it holds a drawing; 28 px otherwise. */
  tall?: number
  /** What it is of was made just now: its first cell is gone to. */
  begin?: boolean
}>()
const emit = defineEmits<{
  look: [row: Row<T>, column: Column<T>]
  select: [cells: { row: Row<T>; column: Column<T> }[]]
  /** The rows drawn, from one to before another. */
  seen: [from: number, to: number]
}>()

const grid = ref<HTMLElement>()
const editing = ref<Editing | null>(null)
const high = props.tall ?? 28
const lines = computed<Row<T>[]>((before) => rowsKept(before ?? [], props.rows))
const cursor = useCursor<T>(lines, toRef(props, 'columns'), grid, high)
const { active, places, at, long, view, room, drawn, block, blockOn } = cursor
const queue = useQueue<T>(lines, props, () => !editing.value && settleOnLine())
const { kept, keyOf, textOf, refusals } = queue
const { over, canDrag, drag, dragOver, drop } = useDragging<T>(props)

watch(block, () => {
  const cells: { row: Row<T>; column: Column<T> }[] = []
  cursor.eachInBlock((row, column) => cells.push({ row, column }))
  if (cells.length) emit('select', cells)
})
watch(
  [() => view.value.from, () => view.value.to, () => lines.value.length],
  ([from, to]) => emit('seen', from, to),
  {
    immediate: true,
  },
)

const choicesOf = (row: Row<T>, column: Column<T>) =>
  typeof column.choices === 'function' ? column.choices(row.data ?? null) : column.choices
function editable(row: Row<T>, column: Column<T>): boolean {
  if (props.readonly || !column.text) return false
  if (row.kind === 'ghost') return Boolean(props.add)
  return Boolean(row.data && props.commit && (column.editable?.(row.data) ?? true))
}
const clipboard = useClipboard<T>(toRef(props, 'columns'), cursor, queue, editable)
function shownIn(row: Row<T>, column: Column<T>): string {
  const waiting = kept.get(keyOf(row, column))
  if (waiting) return choicesOf(row, column)?.find((c) => c.value === waiting.text)?.label ?? waiting.text
  if (row.cells) return row.cells[column.key] ?? ''
  if (!row.data) return ''
  return column.show ? column.show(row.data) : (column.text?.(row.data) ?? '')
}

const { widths, least } = useWidths(toRef(props, 'columns'), drawn, shownIn)
const wanted = computed(() => least.value + (props.remove ? 26 : 0))

function activate(row: Row<T>, column: number, extend = false, quietly = false) {
  if (row.id !== active.row) queue.leaveNew()
  cursor.put(row, column, extend)
  if (!quietly) emit('look', row, props.columns[column])
}
function click(event: MouseEvent, row: Row<T>, column: number) {
  if (row.kind !== 'line' && row.kind !== 'ghost') {
    if (row.ref) emit('look', row, props.columns[column])
    return
  }
  if (editing.value && (editing.value.row !== row.id || editing.value.column !== column)) leaveCell()
  activate(row, column, event.shiftKey)
  grid.value?.focus()
}
function move(down: number, across: number, extend = false) {
  const target = cursor.beyond(down, across, extend)
  if (!target) return
  activate(target.row, target.column, extend)
  cursor.show()
}
/** Tab goes on to the next cell that can be typed in, and from the last of a line to the next line. */
function tab(back: boolean) {
  const [step, wide] = [back ? -1 : 1, props.columns.length]
  const cells = places.value.length * wide
  let place = at.value * wide + active.column + step
  const typable = () => {
    const column = props.columns[place % wide]
    return !column.aside && editable(places.value[Math.floor(place / wide)], column)
  }
  while (place >= 0 && place < cells && !props.readonly && !typable()) place += step
  if (place >= cells && places.value[at.value]?.kind === 'ghost') enter(false)
  else if (place >= 0 && place < cells)
    move(Math.floor(place / wide) - at.value, (place % wide) - active.column)
}
/** Enter goes down; into the ghost, it goes to its first cell. */
function enter(back: boolean) {
  const below = places.value[at.value + 1] ?? places.value[at.value]
  if (back || below?.kind !== 'ghost') return move(back ? -1 : 1, 0)
  queue.leaveNew()
  activate(below, 0)
}

function edit(text?: string) {
  const row = places.value[at.value]
  const column = props.columns[active.column]
  if (!row || !editable(row, column)) return
  const typed = text !== undefined
  editing.value = { row: row.id, column: active.column, text: text ?? textOf(row, column), typed }
}
// A line that goes while one types in it takes nothing with it in silence.
watch(places, (now) => {
  const typing = editing.value
  if (!typing || now.some((row) => row.id === typing.row)) return
  editing.value = null
  queue.blockRefused.value = `“${typing.text}” is not saved: its line was deleted meanwhile. Undo brings the line back.`
  grid.value?.focus()
})
/** Going on to another cell saves what was typed; a list that was open is left. */
const leaveCell = () => (grid.value?.querySelector('.pick') ? leavePick() : finish())
/** A choice is taken: only now is it written. */
function take(value: string, then: 'stay' | 'Enter' | 'Tab', back: boolean) {
  if (!editing.value) return
  editing.value.text = value
  finish()
  if (then === 'Enter') enter(back)
  else if (then === 'Tab') tab(back)
}
/** A list is left: what stood in the cell stays. */
function leavePick() {
  if (!editing.value) return
  editing.value = null
  grid.value?.focus()
}
/** Leave the cell being edited and save it; `back` puts the keyboard back on the table. */
function finish(back = true) {
  const now = editing.value
  if (!now) return
  editing.value = null
  const row = places.value.find((each) => each.id === now.row)
  const column = props.columns[now.column]
  if (row && (now.text !== textOf(row, column) || kept.get(keyOf(row, column))?.sentence))
    queue.write(row, column, now.text)
  settleOnLine()
  if (back) grid.value?.focus()
}
/** The cursor goes over from the ghost to the line it became, never under the typist's hands. */
function settleOnLine() {
  const made = queue.newLine()
  if (made === null) return
  if (places.value[at.value]?.kind === 'ghost') {
    active.row = made
    void nextTick(() => {
      const row = places.value.find((each) => each.id === made)
      if (row && active.row === made) emit('look', row, props.columns[active.column])
    })
  }
  queue.leaveNew()
}

const arrows: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageDown: [12, 0],
  PageUp: [-12, 0],
}
function keydown(event: KeyboardEvent) {
  const control = event.ctrlKey || event.metaKey
  const key = event.key
  if (editing.value) return editKeydown(event)
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
  else if (key === 'Delete' || key === 'Backspace') clipboard.clear()
  else if (control && key.toLowerCase() === 'd') clipboard.fillDown()
  else if (control && key.toLowerCase() === 'a') cursor.selectAll()
  else if (key.length === 1 && !control && !event.altKey && key !== '?') edit(key)
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
async function shiftLine(by: number) {
  const row = places.value[at.value]
  if (!row?.data || !props.shift || props.readonly) return
  await props.shift(row.data, by)
  cursor.show()
}
async function removeLine() {
  const row = places.value[at.value]
  if (!row?.data || !props.remove || props.readonly) return
  const next = places.value[at.value + 1]
  await props.remove(row.data)
  if (next) activate(next, active.column)
}
// What was just made is filled in from its first cell, once the dialog that made it has given the focus back.
watch(
  () => props.begin,
  (begin) => {
    const ghost = places.value.find((row) => row.kind === 'ghost')
    if (!begin || !ghost) return
    activate(ghost, 0)
    requestAnimationFrame(() => grid.value?.focus())
  },
  { immediate: true, flush: 'post' },
)
function focusIn() {
  if (at.value < 0 && places.value.length) activate(places.value[0], 0)
}
/** Put the cursor on a row, quietly where its number is in focus by another way; a row that has it already keeps its cell. */
function activateRow(id: number | string, column?: number, quietly = false) {
  if (active.row === id && column === undefined) return
  const row = places.value.find((each) => each.id === id)
  if (row) activate(row, column ?? 0, false, quietly)
  cursor.show()
}
defineExpose({ activateRow, show: cursor.show, forget: queue.forget, focus: () => grid.value?.focus() })
const slots = defineSlots<Rows<T>['slots']>()
/** What its rows ask of the table, and tell it. */
const table: Rows<T> = {
  slots,
  waiting: (row, column) => kept.get(keyOf(row, column)),
  canRemove: (row) => !!row.data && row.kind === 'line' && !props.readonly,
  remove: (row) => row.data && void props.remove?.(row.data),
  type: (text) => editing.value && (editing.value.text = text),
  ...{ shownIn, textOf, choicesOf, editable, click, edit, take, leavePick, finish },
  ...{ canDrag, drag, dragOver, drop },
}
const above = computed(() => view.value.from * high)
const below = computed(() => (lines.value.length - view.value.to) * high)
</script>

<template>
  <div class="part">
    <div
      ref="grid"
      class="ledger scroll"
      :class="{ wide: room && wanted > room }"
      role="grid"
      tabindex="0"
      :aria-label="label"
      :aria-rowcount="rows.length + 1"
      :style="tall ? { '--row': `${tall}px` } : undefined"
      @keydown="keydown"
      @copy="!editing && clipboard.copy($event)"
      @paste="!editing && clipboard.paste($event)"
      @focus="focusIn"
    >
      <table role="presentation" :style="{ minWidth: `${wanted}px` }">
        <colgroup>
          <col
            v-for="(column, c) in columns"
            :key="column.key"
            :style="{ width: widths[c] ? `${widths[c]}px` : undefined }"
          />
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
          <tr v-if="above" :style="{ height: `${above}px` }" role="presentation"></tr>
          <LedgerRow
            v-for="row in drawn"
            :key="row.id"
            :row="row"
            :columns="columns"
            :table="table"
            :active="row.id === active.row ? active.column : undefined"
            :block="blockOn(row)"
            :editing="editing?.row === row.id ? editing : undefined"
            :over="row.id === over"
            :wraps="!long"
            :removable="Boolean(remove)"
          />
          <tr v-if="below" :style="{ height: `${below}px` }" role="presentation"></tr>
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
  border-collapse: separate; /* a line that is shared doesn't stay with a cell that does */
  border-spacing: 0;
  table-layout: fixed;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  height: 30px;
  padding: 0 7px;
  background: var(--panel);
  box-shadow: inset 0 -1px var(--ink);
  color: var(--quiet);
  font-weight: 500;
  text-align: left;
  white-space: nowrap;
}
th.number {
  text-align: right;
}
/* Scrolled sideways, the first column stays. */
th:first-child {
  left: 0;
  z-index: 3;
}
.unseen {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
}
</style>
