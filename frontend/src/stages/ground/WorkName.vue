<script setup lang="ts">
// The mark of a work on the ground and what it is, at the head of its desk.
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'

interface Named {
  mark: string
  description: string
}
const props = defineProps<{
  of: Named
  /** What it is a mark of. */
  called: string
  placeholder: string
  readonly: boolean
  rename: (fields: Partial<Named>) => unknown
}>()
const { field } = fieldsOf(
  () => props.of,
  (fields) => props.rename(fields),
  () => props.readonly,
)
</script>

<template>
  <EntryField v-bind="field('mark')" class="mark" :label="`Mark of the ${called}`" />
  <EntryField v-bind="field('description')" class="name" :placeholder="placeholder" label="Description" />
</template>

<style scoped>
.mark {
  flex: none;
  width: 58px;
  font-weight: 600;
}
.name {
  flex: 1;
  min-width: 84px;
  max-width: 240px;
}
</style>
