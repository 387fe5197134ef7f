<script setup lang="ts" generic="T">
// A row of a ledger table: drawn again when something of its own changes, not when the cursor goes elsewhere.
import type { FunctionalComponent, VNode } from 'vue'
import CellPick from './CellPick.vue'
import type { Block } from './cursor'
import type { Column, Editing, Row, Rows } from './ledger'

const props = defineProps<{
  row: Row<T>
  columns: Column<T>[]
  table: Rows<T>
  /** The column the cursor stands in; nothing where it stands in another row. */
  active?: number
  /** The block that the row has a part of. */
  block?: Block
  editing?: Editing
  /** A line is dragged over it. */
  over: boolean
  /** Words may go on in a second line. */
  wraps: boolean
  removable: boolean
}>()

const waiting = (column: Column<T>) => props.table.waiting(props.row, column)
const inBlock = (c: number) => !!props.block && c >= props.block.left && c <= props.block.right
type Drawn = NonNullable<Rows<T>['slots'][string]>
const Own: FunctionalComponent<{ by: Drawn; row: Row<T> }> = (own) => own.by({ row: own.row }) as VNode[]
/** Typing goes on at the end of what stands there. */
function begin(field: unknown) {
  if (!(field instanceof HTMLInputElement) || field === document.activeElement) return
  field.focus()
  field.setSelectionRange(field.value.length, field.value.length)
}
</script>

<template>
  <tr
    role="row"
    :class="[row.kind, { here: active !== undefined, struck: row.struck, over }]"
    @dragover="table.dragOver($event, row)"
    @drop.prevent="table.drop(row)"
  >
    <td
      v-for="(column, c) in columns"
      :key="column.key"
      role="gridcell"
      :class="{
        number: column.number,
        wrap: column.wrap && wraps,
        active: c === active,
        block: inBlock(c),
        refused: waiting(column)?.sentence,
        waiting: waiting(column),
        fixed: row.kind === 'line' && !table.editable(row, column),
        warn: c === 0 && row.warn,
      }"
      :title="
        waiting(column)?.sentence ||
        (row.data && column.title?.(row.data)) ||
        (c === 0 ? row.warn : undefined)
      "
      :style="c === 0 && row.level ? { paddingLeft: `${8 + row.level * 14}px` } : undefined"
      :draggable="(c === 0 && table.canDrag(row)) || undefined"
      @dragstart="table.drag(row)"
      @dragend="table.drag(null)"
      @mousedown="table.click($event, row, c)"
      @dblclick="active !== undefined && table.edit()"
    >
      <template v-if="editing?.column === c">
        <CellPick
          v-if="table.choicesOf(row, column)"
          :value="table.textOf(row, column)"
          :choices="table.choicesOf(row, column)!"
          :label="column.label"
          :typed="editing.typed ? editing.text : ''"
          @taken="table.take"
          @left="table.leavePick"
        />
        <input
          v-else
          :ref="begin"
          :value="editing.text"
          :class="{ number: column.number }"
          :aria-label="column.label"
          @input="table.type(($event.target as HTMLInputElement).value)"
          @blur="table.finish(false)"
          @mousedown.stop
          @dblclick.stop
        />
      </template>
      <Own v-else-if="table.slots[column.key]" :by="table.slots[column.key]!" :row="row" />
      <template v-else>
        {{ c === 0 && row.label !== undefined ? row.label : table.shownIn(row, column) }}
        <span v-if="row.data && column.unit && table.shownIn(row, column)" class="quiet">{{
          column.unit(row.data)
        }}</span>
        <span v-if="row.kind === 'ghost' && column.hint && !waiting(column)" class="hint">{{
          column.hint
        }}</span>
      </template>
    </td>
    <td v-if="removable" class="side">
      <button
        v-if="table.canRemove(row)"
        class="plain"
        tabindex="-1"
        title="Delete this line (Ctrl+Delete)"
        aria-label="Delete this line"
        @click="table.remove(row)"
      >
        ×
      </button>
    </td>
  </tr>
</template>

<style scoped>
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
td.number {
  font-family: var(--mono);
  text-align: right;
}
/* What may be typed here is told over the cells beside it, which are empty. */
.ghost td:first-child {
  overflow: visible;
}
/* Scrolled sideways, the first column stays; only then, as each cell that does is drawn as its own layer. */
:where(.wide) td:first-child {
  position: sticky;
  z-index: 1;
  left: 0;
  background: var(--panel);
  background-clip: padding-box; /* the rule below it stays to be seen */
}
.fixed {
  cursor: default;
}
td.wrap {
  white-space: normal;
  padding-block: 4px;
}
tr.over td {
  box-shadow: inset 0 2px var(--accent);
}
td[draggable='true'] {
  cursor: grab;
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
.warn {
  color: var(--accent-ink);
}
.warn::after {
  content: ' ?';
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
input {
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
</style>
