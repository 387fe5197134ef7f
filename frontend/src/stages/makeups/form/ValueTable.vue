<script setup lang="ts">
// A table of values that rows set: choices by their name, bands by their bounds. Columns and rows come and
// go.
import { NButton, NInput } from 'naive-ui'
import { useForm } from './form'

export interface ValueRow {
  sets: Record<string, string>
}
const props = defineProps<{
  rows: (ValueRow & Record<string, unknown>)[]
  /** What a row is known by, before what it sets. */
  heads: { key: string; label: string; placeholder: string }[]
}>()
const emit = defineEmits<{
  change: [rows: (ValueRow & Record<string, unknown>)[]]
  renamed: [from: string, to: string]
}>()
const { readonly } = useForm()
const names = () => Object.keys(props.rows[0]?.sets ?? {})
const put = (at: number, row: Partial<ValueRow> & Record<string, unknown>) =>
  emit(
    'change',
    props.rows.map((each, n) => (n === at ? { ...each, ...row } : each)),
  )
const set = (at: number, name: string, entry: string) =>
  put(at, { sets: { ...props.rows[at].sets, [name]: entry } })
/** Every row sets the same names: a column named otherwise keeps its values. */
function named(from: string, to: string) {
  const name = to.trim().replace(/\W+/g, '_')
  if (!name || name === from || names().includes(name)) return
  emit(
    'change',
    props.rows.map((row) => ({
      ...row,
      sets: Object.fromEntries(
        Object.entries(row.sets).map(([key, entry]) => [key === from ? name : key, entry]),
      ),
    })),
  )
  emit('renamed', from, name)
}
function addColumn() {
  let number = names().length + 1
  while (names().includes(`value_${number}`)) number++
  emit(
    'change',
    props.rows.map((row) => ({ ...row, sets: { ...row.sets, [`value_${number}`]: '0' } })),
  )
}
const dropColumn = (name: string) =>
  emit(
    'change',
    props.rows.map((row) => ({
      ...row,
      sets: Object.fromEntries(Object.entries(row.sets).filter(([key]) => key !== name)),
    })),
  )
const addRow = () =>
  emit('change', [
    ...props.rows,
    {
      ...Object.fromEntries(props.heads.map(({ key }) => [key, ''])),
      sets: Object.fromEntries(names().map((name) => [name, props.rows.at(-1)?.sets[name] ?? '0'])),
    },
  ])
const dropRow = (at: number) =>
  emit(
    'change',
    props.rows.filter((_, n) => n !== at),
  )
</script>

<template>
  <div class="values scroll">
    <table>
      <thead>
        <tr>
          <th v-for="head in heads" :key="head.key" class="quiet">{{ head.label }}</th>
          <th v-for="name in names()" :key="name">
            <div class="named">
              <NInput
                :default-value="name"
                size="small"
                placeholder=""
                :readonly="readonly"
                :input-props="{ 'aria-label': `Name of the value ${name}` }"
                @change="named(name, $event)"
              />
              <NButton
                v-if="!readonly"
                text
                :aria-label="`Take the value ${name} out`"
                @click="dropColumn(name)"
              >
                ×
              </NButton>
            </div>
          </th>
          <th v-if="!readonly">
            <NButton text type="primary" :disabled="!rows.length" @click="addColumn">+ value</NButton>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, at) in rows" :key="at">
          <td v-for="head in heads" :key="head.key">
            <NInput
              :value="String(row[head.key] ?? '')"
              size="small"
              :placeholder="head.placeholder"
              :readonly="readonly"
              :input-props="{ 'aria-label': `${head.label}, row ${at + 1}` }"
              @update:value="put(at, { [head.key]: $event })"
            />
          </td>
          <td v-for="name in names()" :key="name">
            <NInput
              class="num"
              :value="row.sets[name]"
              size="small"
              placeholder="0.2 m"
              :readonly="readonly"
              :input-props="{ 'aria-label': `${name}, row ${at + 1}` }"
              @update:value="set(at, name, $event)"
            />
          </td>
          <td v-if="!readonly">
            <NButton text :aria-label="`Take row ${at + 1} out`" @click="dropRow(at)">×</NButton>
          </td>
        </tr>
      </tbody>
    </table>
    <NButton v-if="!readonly" text type="primary" @click="addRow">+ row</NButton>
  </div>
</template>

<style scoped>
.values {
  grid-column: 1 / -1;
  overflow-x: auto;
}
th,
td {
  min-width: 84px;
  padding: 2px 4px 2px 0;
  font-weight: 400;
  text-align: left;
}
td:last-child,
th:last-child {
  min-width: 0;
  white-space: nowrap;
}
.named {
  display: flex;
  align-items: center;
  gap: 2px;
}
.named :deep(input) {
  font-family: var(--mono);
}
</style>
