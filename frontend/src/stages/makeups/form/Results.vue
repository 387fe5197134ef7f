<script setup lang="ts">
// What a make-up gives: each result with its unit, formula, waste and pack, and the words of its item.
import { NCheckbox } from 'naive-ui'
import type { Output } from '../document'
import { asNumber, useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'

const { document, readonly, units, families, call, nameAs, wrongIn } = useForm()
const takenAway = [
  { value: 'subtract', label: 'takes away' },
  { value: 'ignore', label: 'leaves it as it is' },
  { value: 'add', label: 'adds, as an edge of a void does' },
  { value: 'only', label: 'is all that counts, as for reveals' },
]
const makeOutput = (): Output => ({
  key: '', label: '', unit: 'm³', family: 'concrete', formula: 'times * length * width * height',
  deducts: 'subtract',
}) // prettier-ignore
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.outputs!"
    :told="(o: Output): [string, string] => [o.label, `${o.unit} = ${o.formula}`]"
    :make="makeOutput"
    add="Another result"
    :wrong="wrongIn('outputs')"
  >
    <FormField
      :model-value="row.label"
      label="What comes of it"
      :span="4"
      @update:model-value="call(row, $event)"
    />
    <FormField
      :model-value="row.key"
      label="Its name"
      :span="3"
      kind="name"
      @update:model-value="nameAs(row, $event)"
    />
    <FormField v-model="row.unit" label="Unit" :span="2" :options="units" />
    <FormField v-model="row.family" label="Family" :options="families" />
    <FormField v-model="row.formula" label="Formula, for one dimension line" :span="12" kind="formula" />
    <FormField
      :model-value="row.deducts ?? 'subtract'"
      label="A ddt line"
      :span="4"
      :options="takenAway"
      @update:model-value="row.deducts = $event"
    />
    <FormField
      :model-value="String(row.waste ?? 0)"
      label="Waste %"
      :span="2"
      @update:model-value="row.waste = asNumber($event)"
    />
    <div class="checks">
      <NCheckbox :checked="Boolean(row.optional)" :disabled="readonly" @update:checked="row.optional = $event"
        >not shown while it is zero</NCheckbox
      >
      <NCheckbox
        v-if="row.unit === 'nr'"
        :checked="Boolean(row.parts)"
        :disabled="readonly"
        @update:checked="row.parts = $event"
        >can be had in parts</NCheckbox
      >
    </div>
    <FormField
      :model-value="row.item ?? ''"
      label="Words of its bill item; {name} puts an answer in; empty for a material"
      :span="8"
      @update:model-value="row.item = $event"
    />
    <FormField
      :model-value="row.section ?? ''"
      label="In the section"
      :span="4"
      @update:model-value="row.section = $event"
    />
    <FormField
      :model-value="row.purchase?.pack ?? ''"
      label="Bought by the"
      placeholder="bag of {bag}"
      :span="4"
      @update:model-value="
        row.purchase = $event ? { pack: $event, holds: row.purchase?.holds ?? '25*kg' } : undefined
      "
    />
    <FormField
      v-if="row.purchase"
      v-model="row.purchase.holds"
      label="which holds"
      :span="8"
      kind="formula"
    />
  </FormRows>
</template>

<style scoped>
.checks {
  display: flex;
  flex-wrap: wrap;
  grid-column: span 6;
  align-items: center;
  gap: 2px 14px;
  min-height: 28px;
}
</style>
