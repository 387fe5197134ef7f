<script setup lang="ts">
// The tables by size of a make-up, such as the one of its lintels.
import { rename, type Bands } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'
import ValueTable, { type ValueRow } from './ValueTable.vue'

const { document, call, wrongIn } = useForm()
const asBands = (b: Bands) => (b.rows ?? []) as unknown as (ValueRow & Record<string, unknown>)[]
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.bands!"
    :told="(b: Bands): [string, string] => [b.label, `by ${b.by}, ${b.rows.length} rows`]"
    :make="
      (): Bands => ({
        key: '',
        label: '',
        by: 'length',
        rows: [{ from: '0 m', below: '1 m', sets: { depth: '0.2 m' } }],
      })
    "
    add="Another table"
    :wrong="wrongIn('bands')"
  >
    <FormField
      :model-value="row.label"
      label="What it is a table of"
      :span="6"
      @update:model-value="call(row, $event)"
    />
    <FormField v-model="row.key" label="Its name" kind="name" />
    <FormField
      v-model="row.by"
      label="Read by"
      kind="formula"
      hint="The name of the value that picks the row"
    />
    <ValueTable
      :rows="asBands(row)"
      :heads="[
        { key: 'from', label: 'From', placeholder: '1.2 m' },
        { key: 'below', label: 'to below', placeholder: '2.4 m' },
      ]"
      @change="row.rows = $event as unknown as Bands['rows']"
      @renamed="(from, to) => rename(document, from, to)"
    />
  </FormRows>
</template>
