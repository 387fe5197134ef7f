<script setup lang="ts">
// A rate: its name and unit, and how much is done in how many hours.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'

defineProps<{ rate: Schemas['BuildUpView']; readonly: boolean }>()
const emit = defineEmits<{
  change: [fields: { name?: string; unit?: string; output?: string; hours?: string }]
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
      label="Name of the rate"
      @change="emit('change', { name: $event })"
    />
    <label class="quiet"
      >per
      <ChoiceField
        class="unit"
        :value="rate.unit"
        :options="asOptions(project?.units ?? [])"
        label="Unit of the rate"
        :disabled="readonly || rate.kind === 'gang'"
        @choose="emit('change', { unit: $event })"
    /></label>
    <template v-if="rate.kind === 'rate'">
      <label class="quiet"
        >output
        <EntryField
          class="small"
          number
          :value="rate.output"
          :disabled="readonly"
          label="Output"
          @change="emit('change', { output: $event })"
        />
        {{ rate.unit }}</label
      >
      <label class="quiet"
        >in
        <EntryField
          class="small"
          number
          :value="rate.hours"
          :disabled="readonly"
          label="Hours of the output"
          @change="emit('change', { hours: $event })"
        />
        h</label
      >
    </template>
    <span v-else class="quiet">a gang, working together</span>
    <span class="push quiet" title="Items of the bill that are priced by it"
      >{{ rate.items }} item{{ rate.items === 1 ? '' : 's' }}</span
    >
    <NButton v-if="!readonly" text title="Another rate with the same lines" @click="emit('copy')">
      Copy
    </NButton>
    <NButton v-if="!readonly" text @click="emit('remove')">Delete</NButton>
  </div>
</template>

<style scoped>
.desk-head {
  gap: 8px;
}
.name {
  flex: 0 1 300px;
  min-width: 120px;
  font-weight: 600;
}
.small {
  width: 56px;
}
.unit {
  width: 68px;
}
</style>
