<script setup lang="ts">
// What a make-up is: its name, what it is for, and what a line of it needs.
import { computed } from 'vue'
import { asOptions } from '../../../desk/ChoiceField.vue'
import { nameFrom } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormSeveral from './FormSeveral.vue'

// Elements know it by its key, which stays.
const props = defineProps<{ keyed: boolean }>()
const { document, words } = useForm()
const figures = asOptions(['count', 'run', 'area'])
const dimensions = asOptions(['length', 'width', 'height', 'area'])
const outputs = computed(() =>
  (document.value.outputs ?? []).map((o) => ({ value: o.key, label: o.label || o.key })),
)
const parts = computed(() =>
  (words.value?.parts ?? []).map((part) => ({ value: part.name, label: `${part.name}: ${part.gives}` })),
)
const KINDS = [
  { value: 'make-up', label: 'line by line of a dimension sheet: a make-up' },
  { value: 'allowance', label: 'once, by what it asks: an allowance' },
]
function count(kind: string) {
  document.value.kind = kind === 'allowance' ? kind : ''
  if (kind === 'allowance') {
    Object.assign(document.value, { needs: [], figures: [], steel: '', bars: [] })
  }
}
function callIt(name: string) {
  const keyOf = (words: string) => nameFrom(words).replaceAll('_', '-')
  const follows = !props.keyed && [keyOf(document.value.name), 'our-own'].includes(document.value.key)
  document.value.name = name
  if (follows) document.value.key = keyOf(name)
}
</script>

<template>
  <div class="fields">
    <FormField :model-value="document.name" label="Name" :span="6" @update:model-value="callIt" />
    <FormField
      v-model="document.key"
      label="Key: elements know it by this"
      :span="6"
      kind="name"
      :fixed="keyed"
    />
    <FormField
      :model-value="document.about ?? ''"
      label="What it is for, and what a line of it counts"
      :span="12"
      @update:model-value="document.about = $event"
    />
    <FormField
      :model-value="document.leaves ?? ''"
      label="What it leaves to others"
      :span="12"
      @update:model-value="document.leaves = $event"
    />
    <FormField
      :model-value="document.kind ?? 'make-up'"
      label="It counts"
      :span="12"
      :options="KINDS"
      @update:model-value="count"
    />
    <template v-if="document.kind !== 'allowance'">
      <FormSeveral
        v-model="document.needs"
        label="A line counts once it has its"
        :span="6"
        :options="dimensions"
        nothing="nothing"
      />
      <FormSeveral
        v-model="document.figures"
        label="Measured on a sheet by a"
        :span="6"
        :options="figures"
        nothing="typed lines only"
      />
    </template>
    <FormField v-model="document.headline" label="The result it is known by" :span="6" :options="outputs" />
    <FormField
      v-if="document.kind !== 'allowance'"
      :model-value="document.steel ?? ''"
      label="Its steel is held against the band of"
      :span="6"
      :options="[{ value: '', label: 'nothing' }, ...asOptions(words?.steel ?? [])]"
      @update:model-value="document.steel = $event"
    />
    <FormSeveral
      v-model="document.uses"
      label="It takes over, questions and results, from"
      :span="12"
      :options="parts"
      nothing="nothing that several make-ups share"
    />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  align-items: end;
  gap: 10px;
}
</style>
