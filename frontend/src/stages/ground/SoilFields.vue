<script setup lang="ts">
// What becomes of what is dug, as an earthwork, trenches and a route ask it alike.
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'
import { unitHere } from '../../desk/ways'

interface Soil {
  bands?: string
  bulking: string
  compacted: string
  lorry: string
}
const props = defineProps<{ of: Soil; readonly?: boolean }>()
const emit = defineEmits<{ change: [fields: Partial<Soil>] }>()
const { field } = fieldsOf(
  () => props.of as Required<Soil>,
  (fields) => emit('change', fields),
  () => props.readonly,
)
</script>

<template>
  <label v-if="of.bands !== undefined" class="line"
    ><span>Depth bands {{ unitHere('m') }}</span
    ><EntryField v-bind="field('bands')" label="Limits of depth bands"
  /></label>
  <label class="line" title="Loose volume of a unit in the ground"
    ><span>Bulking</span><EntryField v-bind="field('bulking')" number label="Bulking factor"
  /></label>
  <label class="line" title="Volume in a fill of a unit in the ground"
    ><span>Compacted</span><EntryField v-bind="field('compacted')" number label="Compaction factor"
  /></label>
  <label class="line"
    ><span>Lorry, loose {{ unitHere('m³') }}</span
    ><EntryField v-bind="field('lorry')" number placeholder="none" label="Load of a lorry"
  /></label>
</template>
