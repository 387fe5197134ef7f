<script setup lang="ts">
// The picture of a make-up: its outlines, corner by corner.
import { NButton, NCheckbox } from 'naive-ui'
import { asOptions } from '../../../desk/ChoiceField.vue'
import type { Part } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'
import FormulaField from './FormulaField.vue'

const { document, readonly, families, wrongIn } = useForm()
const makePart = (): Part => ({
  label: '', family: 'concrete', view: 'section',
  points: [['0*m', '0*m'], ['length', '0*m'], ['length', 'height'], ['0*m', 'height']],
}) // prettier-ignore
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.sketch!"
    :told="(p: Part): [string, string] => [p.label, `${p.view ?? 'section'}, ${p.points.length} corners`]"
    :make="makePart"
    add="Another outline"
    :wrong="wrongIn('sketch')"
  >
    <FormField v-model="row.label" label="What is drawn" :span="4" />
    <FormField v-model="row.family" label="Family" :options="families" />
    <FormField
      :model-value="row.view ?? 'section'"
      label="Seen in"
      :options="asOptions(['section', 'plan', 'elevation'])"
      @update:model-value="row.view = $event"
    />
    <div class="cell two">
      <NCheckbox :checked="Boolean(row.hollow)" :disabled="readonly" @update:checked="row.hollow = $event"
        >hollow</NCheckbox
      >
    </div>
    <span class="five quiet">Corners, across in m</span><span class="five quiet">and up in m</span>
    <template v-for="(point, n) in row.points" :key="n">
      <div class="cell five">
        <FormulaField v-model="point[0]" :label="`Corner ${n + 1}, across`" />
      </div>
      <div class="cell five">
        <FormulaField v-model="point[1]" :label="`Corner ${n + 1}, up`" />
      </div>
      <div class="cell two">
        <NButton
          v-if="!readonly && row.points.length > 1"
          text
          :aria-label="`Take corner ${n + 1} out`"
          @click="row.points.splice(n, 1)"
        >
          ×
        </NButton>
      </div>
    </template>
    <div v-if="!readonly" class="cell twelve">
      <NButton text type="primary" @click="row.points.push(['0*m', '0*m'])">+ corner</NButton>
    </div>
    <FormField
      v-if="row.points.length === 1"
      :model-value="row.radius ?? ''"
      label="Radius of the circle there"
      kind="formula"
      :span="6"
      @update:model-value="row.radius = $event"
    />
  </FormRows>
</template>

<style scoped>
.cell {
  display: grid;
  min-width: 0;
}
.two {
  grid-column: span 2;
  align-items: center;
  min-height: 28px;
}
.five {
  grid-column: span 5;
}
.twelve {
  justify-items: start;
  grid-column: 1 / -1;
}
</style>
