<script setup lang="ts">
// A rate: its name and unit, and how much is done in how many hours.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import Menu from '../../desk/Menu.vue'
import { shown, typeable } from '../../desk/numbers'

const props = defineProps<{ rate: Schemas['BuildUpView']; readonly: boolean }>()
const emit = defineEmits<{
  change: [fields: Omit<Schemas['BuildUpChange'], 'version'>]
  copy: []
  remove: []
}>()
const { data: project } = useProject()
const ADDED_ON = [
  { value: 'cost' as const, label: 'cost (mark-up)' },
  { value: 'price' as const, label: 'price (margin)' },
]
const adds = computed(() => {
  const { added, added_on } = props.rate
  if (!Number(added)) return props.rate.note ? 'Mark-up •' : 'Mark-up'
  return `${added_on === 'cost' ? 'Mark-up' : 'Margin'} ${shown(added, 0, 4)} %`
})
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
    <Menu v-if="rate.kind === 'rate'" :label="adds" right>
      <label class="asked"
        >Added %<EntryField
          number
          :value="typeable(rate.added)"
          placeholder="0"
          :disabled="readonly"
          label="Percentage added"
          @change="emit('change', { added: $event || '0' })"
      /></label>
      <label class="asked"
        >of the<ChoiceField
          :value="rate.added_on"
          :options="ADDED_ON"
          label="What is added to"
          :disabled="readonly"
          @choose="emit('change', { added_on: $event })"
      /></label>
      <label class="asked"
        >Note<EntryField
          :value="rate.note"
          placeholder="how, from where"
          :disabled="readonly"
          label="Note on the rate"
          @change="emit('change', { note: $event })"
      /></label>
    </Menu>
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
.unit {
  width: 68px;
}
.asked {
  display: grid;
  grid-template-columns: 74px 1fr;
  align-items: center;
  gap: 8px;
  margin-bottom: 4px;
}
</style>
