<script setup lang="ts">
// The head of a rate that is told by size: a reference, or a banded rate.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'

defineProps<{ rate: Schemas['BuildUpView']; readonly: boolean; what: string; by: string }>()
const emit = defineEmits<{
  change: [fields: Omit<Schemas['BuildUpChange'], 'version'>]
  copy: []
  remove: []
}>()
const { data: project } = useProject()
</script>

<template>
  <div class="desk-head">
    <EntryField
      class="name"
      :title="rate.name"
      :value="rate.name"
      :disabled="readonly"
      :label="`Name of the ${what}`"
      @change="emit('change', { name: $event })"
    />
    <label class="quiet"
      >per
      <ChoiceField
        class="unit"
        :value="rate.unit"
        :options="asOptions(project?.units ?? [])"
        :label="`Unit of the ${what}`"
        :disabled="readonly"
        @choose="emit('change', { unit: $event })"
    /></label>
    <label class="quiet"
      >by
      <EntryField
        class="by"
        :value="rate.sized_by"
        :disabled="readonly"
        label="What its sizes are"
        :placeholder="by"
        @change="emit('change', { sized_by: $event })"
    /></label>
    <label class="quiet"
      >in
      <ChoiceField
        class="unit"
        :value="rate.sized_in"
        :options="[{ value: '', label: 'nr' }, ...asOptions(project?.units ?? [])]"
        label="Unit of its sizes"
        :disabled="readonly"
        @choose="emit('change', { sized_in: $event })"
    /></label>
    <slot />
    <span class="push"></span>
    <NButton v-if="!readonly" text @click="emit('copy')">Copy</NButton>
    <NButton v-if="!readonly" text @click="emit('remove')">Delete</NButton>
  </div>
</template>

<style scoped>
.name {
  flex: 0 1 250px;
  min-width: 110px;
  font-weight: 600;
}
.unit {
  width: 68px;
}
.by {
  width: 88px;
}
label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
.push {
  margin-left: auto;
}
</style>
