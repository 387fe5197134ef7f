<script setup lang="ts">
// A resource: its name, how its quotes make its price, and what that is.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { day, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'

type Basis = Schemas['ResourceView']['basis']
const props = defineProps<{ resource: Schemas['ResourceView']; readonly: boolean }>()
const emit = defineEmits<{ change: [fields: Omit<Schemas['ResourceChange'], 'version'>]; remove: [] }>()
const walk = useWalkStore()
const { data: project } = useProject()
const bases: { value: Basis; label: string }[] = [
  { value: 'latest', label: 'latest valid quote' },
  { value: 'lowest', label: 'lowest valid quote' },
  { value: 'mean', label: 'mean of valid quotes' },
  { value: 'median', label: 'median of valid quotes' },
  { value: 'chosen', label: 'chosen quote' },
]
const priceBy = (basis: Basis) =>
  emit('change', {
    basis,
    ...(basis === 'chosen' ? { chosen: props.resource.quotes[0]?.id ?? null } : {}),
  })
</script>

<template>
  <div class="desk-head">
    <EntryField
      class="name"
      :value="resource.name"
      :disabled="readonly"
      label="Name of the resource"
      @change="emit('change', { name: $event })"
    />
    <label class="quiet"
      >priced by
      <ChoiceField
        class="basis"
        :value="resource.basis"
        :options="bases"
        label="Price basis"
        :disabled="readonly"
        @choose="priceBy"
      />
    </label>
    <ChoiceField
      v-if="resource.basis === 'chosen'"
      class="basis"
      :value="resource.chosen"
      :options="resource.quotes.map((q) => ({ value: q.id, label: q.supplier }))"
      label="Chosen quote"
      :disabled="readonly"
      @choose="emit('change', { chosen: $event })"
    />
    <span class="push quiet">used in {{ resource.used_in }} rate{{ resource.used_in === 1 ? '' : 's' }}</span>
    <NButton v-if="!readonly" text @click="emit('remove')">Delete</NButton>
  </div>
  <div class="price">
    <NButton text title="Show how this price comes about" @click="walk.look(`resource:${resource.id}`)">
      <span class="num big">{{ resource.price ? shown(resource.price, 2, 4) : 'no price' }}</span>
      <span class="quiet"
        >{{ project?.currency }} per {{ resource.unit }} on {{ day(project?.price_date ?? null) }}</span
      >
    </NButton>
    <span v-for="said in resource.findings" :key="said" class="found">{{ said }}</span>
  </div>
</template>

<style scoped>
.name {
  flex: 0 1 270px;
  min-width: 120px;
  font-weight: 600;
}
.basis {
  width: 190px;
}
.price {
  display: flex;
  align-items: baseline;
  gap: 16px;
  padding: 10px 12px 4px;
}
.big {
  font-size: 24px;
}
.price .num {
  margin-right: 8px;
}
.found {
  color: var(--accent-ink);
}
</style>
