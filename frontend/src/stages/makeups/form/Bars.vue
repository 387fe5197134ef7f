<script setup lang="ts">
// The bars of a make-up that stand in the bending schedule: how many of what size, and how each is bent or laid.
import { computed } from 'vue'
import { useShapes } from '../../../api/bars'
import type { Bar } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'

const { document, wrongIn, call, nameAs } = useForm()
const { data: shapes } = useShapes()
const legsOf = (bar: Bar) => shapes.value?.find((s) => s.code === bar.shape)?.legs ?? []
const codes = computed(() =>
  (shapes.value ?? []).map((s) => ({ value: s.code, label: `${s.code} ${s.about}` })),
)
const WAYS = [
  { value: 'shape', label: 'a shape with legs' },
  { value: 'run', label: 'a run made up from stock' },
  { value: 'laid', label: 'a length cut where it is laid' },
]
const wayOf = (bar: Bar) => (bar.run ? 'run' : bar.laid ? 'laid' : 'shape')
function goAs(bar: Bar, way: string) {
  if (way === 'shape') Object.assign(bar, { shape: '00', legs: ['length'], run: undefined, laid: undefined })
  else
    Object.assign(bar, {
      shape: undefined,
      legs: undefined,
      run: undefined,
      laid: undefined,
      [way]: 'length',
    })
}
function bendAs(bar: Bar, code: string) {
  const wanted = shapes.value?.find((s) => s.code === code)?.legs.length ?? 1
  const had = bar.legs ?? []
  bar.shape = code
  bar.legs = Array.from({ length: wanted }, (_, n) => had[n] ?? '0.3*m')
}
const outputs = computed(() => (document.value.outputs ?? []).map((o) => ({ value: o.key, label: o.label })))
</script>

<template>
  <FormRows
    v-slot="{ row }"
    :rows="document.bars!"
    :told="(b: Bar): [string, string] => [b.label, b.number ?? '1']"
    :make="
      (): Bar => ({
        key: '',
        label: '',
        output: document.outputs?.[0]?.key ?? '',
        d: 'd',
        number: '1',
        shape: '00',
        legs: ['length'],
      })
    "
    add="More bars"
    :wrong="wrongIn('bars')"
  >
    <FormField
      :model-value="row.label"
      label="Where they lie"
      :span="5"
      @update:model-value="call(row, $event)"
    />
    <FormField
      :model-value="row.key"
      label="Their name"
      kind="name"
      hint="Their cut length is then this name and _cut"
      @update:model-value="nameAs(row, $event)"
    />
    <FormField v-model="row.output" label="Part of" :span="4" :options="outputs" />
    <FormField
      :model-value="row.number ?? '1'"
      label="How many in each"
      :span="8"
      kind="formula"
      @update:model-value="row.number = $event"
    />
    <FormField v-model="row.d" label="Their diameter" :span="4" kind="formula" />
    <FormField
      :model-value="wayOf(row)"
      label="Each is"
      :span="5"
      :options="WAYS"
      @update:model-value="goAs(row, $event)"
    />
    <template v-if="wayOf(row) === 'shape'">
      <FormField
        :model-value="row.shape ?? '00'"
        label="Shape"
        :span="7"
        :options="codes"
        @update:model-value="bendAs(row, $event)"
      />
      <FormField
        v-for="(letter, n) in legsOf(row)"
        :key="letter"
        :model-value="row.legs?.[n] ?? ''"
        :label="`Leg ${letter}`"
        :span="4"
        kind="formula"
        @update:model-value="row.legs![n] = $event"
      />
    </template>
    <FormField
      v-else-if="row.run"
      v-model="row.run"
      label="Length of each, with its laps"
      :span="7"
      kind="formula"
    />
    <FormField
      v-else
      :model-value="row.laid ?? ''"
      label="Length in all, with laps"
      :span="7"
      kind="formula"
      @update:model-value="row.laid = $event"
    />
  </FormRows>
</template>
