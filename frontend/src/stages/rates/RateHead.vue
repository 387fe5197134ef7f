<script setup lang="ts">
// A rate: its name and unit, and how much is done in how many hours.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { shown } from '../../desk/numbers'
import AddedMenu from './AddedMenu.vue'

defineProps<{ rate: Schemas['BuildUpView']; readonly: boolean }>()
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
          :value="rate.output_taken ? shown(rate.output_taken.value, 2, 4) : rate.output"
          :class="{ taken: rate.output_taken }"
          :title="rate.output_taken ? `Taken: ${rate.output_taken.name}` : ''"
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
          :value="rate.hours_taken ? shown(rate.hours_taken.value, 2, 4) : rate.hours"
          :class="{ taken: rate.hours_taken }"
          :title="rate.hours_taken ? `Taken: ${rate.hours_taken.name}` : ''"
          :disabled="readonly"
          label="Hours of the output"
          @change="emit('change', { hours: $event })"
        />
        h</label
      >
    </template>
    <span v-else class="quiet">a gang, working together</span>
    <AddedMenu
      v-if="rate.kind === 'rate'"
      :rate="rate"
      :readonly="readonly"
      @change="emit('change', $event)"
    />
    <span class="push"></span>
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
  min-width: 90px;
  font-weight: 600;
}
.small {
  width: 56px;
}
.taken :deep(input) {
  color: var(--main);
}
.unit {
  width: 68px;
}
</style>
