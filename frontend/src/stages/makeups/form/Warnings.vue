<script setup lang="ts">
// What a make-up warns of, and of which lines.
import type { Caution } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'

const { document, wrongIn } = useForm()
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.cautions!"
    :told="(c): [string, string] => [c.says, c.when]"
    :make="(): Caution => ({ when: 'length > 10*m', says: '' })"
    add="Another warning"
    :wrong="wrongIn('cautions')"
  >
    <FormField v-model="row.says" label="What it says" :span="8" />
    <FormField
      :model-value="row.on ?? 'adds'"
      label="of a line that"
      :span="4"
      :options="[
        { value: 'adds', label: 'adds' },
        { value: 'ddts', label: 'is deducted' },
      ]"
      @update:model-value="row.on = $event"
    />
    <FormField v-model="row.when" label="When" :span="12" kind="formula" />
  </FormRows>
</template>
