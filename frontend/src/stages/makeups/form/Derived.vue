<script setup lang="ts">
// What a make-up works out on the way to its results.
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'

const { document, unitsOrNone, call, nameAs, wrongIn } = useForm()
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.derived!"
    :told="(d): [string, string] => [d.label, `${d.key} = ${d.formula}`]"
    :make="() => ({ key: '', label: '', unit: 'm', formula: 'length' })"
    add="Another value"
    :wrong="wrongIn('derived')"
  >
    <FormField
      :model-value="row.label"
      label="What it is"
      :span="6"
      @update:model-value="call(row, $event)"
    />
    <FormField
      :model-value="row.key"
      label="Its name in formulas"
      :span="4"
      kind="name"
      @update:model-value="nameAs(row, $event)"
    />
    <FormField
      :model-value="row.unit ?? ''"
      label="Unit"
      :span="2"
      :options="unitsOrNone"
      @update:model-value="row.unit = $event"
    />
    <FormField v-model="row.formula" label="Formula" :span="12" kind="formula" />
  </FormRows>
</template>
