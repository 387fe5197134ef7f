<script setup lang="ts">
// Papers of trenches, a route or the whole job: what they hold and as what file is chosen.
import { NCheckbox, NCheckboxGroup } from 'naive-ui'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import JobButton from '../../desk/JobButton.vue'
import PerPage from './PerPage.vue'

type Asked = Schemas['NewJob']
type File = NonNullable<Asked['file']>
type Part = NonNullable<Asked['parts']>[number]
const props = defineProps<{
  title: string
  /** The trenches or the route; the whole job where there is none. */
  element?: number
  by?: Asked['by']
  /** The quantities that have tables by chainage, and those of them chosen at first. */
  names?: string[]
  chosen?: string[]
  kind?: 'route' | 'trench'
}>()
const emit = defineEmits<{ close: [] }>()
const PARTS = computed<Partial<Record<Part, string>>>(() => ({
  tables: 'Tables by chainage',
  findings: 'What was found',
  plan: 'Plan',
  long: 'Long section',
  ...(props.kind === 'route' ? { haul: 'Mass haul diagram' } : {}),
  sections: 'Every section with its layers and areas',
}))
const FILES: { value: File; label: string }[] = [
  { value: 'pdf', label: 'PDF' },
  { value: 'xlsx', label: 'workbook with live formulas' },
  { value: 'csv', label: 'CSV of the tables' },
  { value: 'dxf', label: 'drawing of plan and sections (DXF)' },
  { value: 'zip', label: 'all of them in one package' },
]
const files = computed(() => (props.element ? FILES : FILES.slice(0, 3)))
const SET = [
  { value: 'each' as const, label: 'one for each quantity' },
  { value: 'together' as const, label: 'side by side in one' },
]
const file = ref<File>('pdf')
const parts = ref<Part[]>(Object.keys(PARTS.value) as Part[])
const names = ref([...(props.chosen ?? props.names ?? [])])
const set = ref<'each' | 'together'>('each')
const perPage = ref(4)
const drawn = computed(() => ['pdf', 'zip'].includes(file.value))
const asks = computed(() => ({
  file: file.value,
  ...(props.element
    ? {
        element: props.element,
        parts: parts.value,
        names: names.value.length === props.names?.length ? [] : names.value,
        together: set.value === 'together',
        per_page: perPage.value,
      }
    : { by: props.by }),
}))
</script>

<template>
  <Dialog :title="title" @close="emit('close')">
    <label class="asked">
      As
      <ChoiceField :value="file" :options="files" label="As what file" @choose="file = $event" />
    </label>
    <template v-if="element">
      <p v-if="file === 'dxf' || drawn" class="quiet head">It holds its quantities and</p>
      <NCheckboxGroup v-if="file === 'dxf' || drawn" v-model:value="parts" class="list">
        <NCheckbox v-for="(words, part) in PARTS" :key="part" :value="part">{{ words }}</NCheckbox>
      </NCheckboxGroup>
      <template v-if="file !== 'dxf' && names && (parts.includes('tables') || !drawn)">
        <p class="quiet head">Tables of</p>
        <NCheckboxGroup v-model:value="names" class="list two">
          <NCheckbox v-for="name in props.names" :key="name" :value="name">{{
            name[0].toUpperCase() + name.slice(1)
          }}</NCheckbox>
        </NCheckboxGroup>
        <label v-if="drawn" class="asked">
          Tables
          <ChoiceField :value="set" :options="SET" label="How tables are set" @choose="set = $event" />
        </label>
      </template>
      <PerPage v-if="drawn && parts.includes('sections')" v-model="perPage" />
      <p v-if="!names.length && file !== 'dxf'" class="says">Choose a quantity at least, or all are told.</p>
    </template>
    <JobButton kind="ground_paper" primary :asks="asks">Write it</JobButton>
  </Dialog>
</template>

<style scoped>
.head {
  margin: 6px 0 2px;
}
.list {
  display: grid;
  gap: 3px;
  padding-bottom: 8px;
}
.two {
  grid-template-columns: 1fr 1fr;
  max-height: 190px;
  overflow: auto;
}
.asked {
  display: grid;
  grid-template-columns: 130px 1fr;
  align-items: center;
  padding-bottom: 8px;
}
.says {
  background: var(--accent-soft);
}
</style>
