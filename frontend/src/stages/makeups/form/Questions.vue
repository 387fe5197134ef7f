<script setup lang="ts">
// What a make-up asks: each question, answered by a number, by one of some choices, or by a size of the
// detailing rules.
import { rename, type Choice, type Input } from '../document'
import { asNumber, useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'
import ValueTable, { type ValueRow } from './ValueTable.vue'

const { document, unitsOrNone, call, nameAs, wrongIn } = useForm()
const kinds = [
  { value: 'number', label: 'a number with a unit' },
  { value: 'choices', label: 'one of some choices' },
  { value: 'bars', label: 'a bar size, by the detailing rules' },
  { value: 'concrete', label: 'a concrete, by the detailing rules' },
  { value: 'words', label: 'words' },
]
const kindOf = (i: Input) => i.table || (i.choices?.length ? 'choices' : i.words ? 'words' : 'number')
function turn(i: Input, kind: string) {
  if (kind === kindOf(i)) return
  delete i.choices
  delete i.table
  delete i.words
  delete i.minimum
  if (kind === 'words') i.words = true
  else if (kind === 'choices') {
    i.choices = [1, 2].map((n) => ({ label: `choice ${n}`, sets: { [`${i.key || 'value'}_is`]: String(n) } }))
    i.default = 'choice 1'
  } else if (kind !== 'number') {
    i.table = kind
    i.prefix = `${i.key}_`
    i.default = ''
  }
  if (kind !== 'number') i.unit = ''
}
const asChoices = (i: Input) => (i.choices ?? []) as unknown as (ValueRow & Record<string, unknown>)[]
const tellInput = (i: Input): [string, string] => [
  i.label,
  [i.key, kindOf(i) === 'number' ? `${i.default ?? ''} ${i.unit ?? ''}`.trim() : kindOf(i)]
    .filter(Boolean)
    .join(' · '),
]
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.inputs!"
    :told="tellInput"
    :make="(): Input => ({ key: '', label: '', unit: 'm', default: '0', minimum: 0 })"
    add="Another question"
    :wrong="wrongIn('inputs')"
  >
    <FormField
      :model-value="row.label"
      label="The question"
      :span="6"
      @update:model-value="call(row, $event)"
    />
    <FormField
      :model-value="row.key"
      label="Its name in formulas"
      kind="name"
      @update:model-value="nameAs(row, $event)"
    />
    <FormField
      :model-value="row.group ?? ''"
      label="Under the heading"
      @update:model-value="row.group = $event"
    />
    <FormField
      :model-value="kindOf(row)"
      label="Answered by"
      :span="4"
      :options="kinds"
      @update:model-value="turn(row, $event)"
    />
    <FormField
      v-if="kindOf(row) === 'number'"
      :model-value="row.unit ?? ''"
      label="Unit"
      :span="2"
      :options="unitsOrNone"
      @update:model-value="row.unit = $event"
    />
    <FormField
      v-if="kindOf(row) === 'choices'"
      :model-value="row.default ?? ''"
      label="When nothing is chosen"
      :options="(row.choices ?? []).map((c: Choice) => ({ value: c.label, label: c.label }))"
      @update:model-value="row.default = $event"
    />
    <FormField
      v-else-if="!row.rule"
      :model-value="row.default ?? ''"
      label="When nothing is entered"
      :span="3"
      @update:model-value="row.default = $event"
    />
    <FormField
      v-else
      :model-value="row.rule"
      label="By the detailing rules’"
      @update:model-value="row.rule = $event"
    />
    <FormField
      v-if="kindOf(row) === 'number'"
      :model-value="String(row.minimum ?? '')"
      label="Not below"
      :span="3"
      @update:model-value="row.minimum = asNumber($event)"
    />
    <FormField
      v-if="row.table"
      :model-value="row.prefix ?? ''"
      label="Its values’ names begin with"
      kind="name"
      @update:model-value="row.prefix = $event"
    />
    <FormField
      :model-value="row.hint ?? ''"
      label="A hint for whoever answers"
      :span="12"
      @update:model-value="row.hint = $event"
    />
    <ValueTable
      v-if="kindOf(row) === 'choices'"
      :rows="asChoices(row)"
      :heads="[{ key: 'label', label: 'Choice', placeholder: 'C30/37' }]"
      @change="row.choices = $event as unknown as Choice[]"
      @renamed="(from, to) => rename(document, from, to)"
    />
  </FormRows>
</template>
