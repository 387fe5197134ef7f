<script setup lang="ts">
// A resource: its name, how its quotes make its price, and what that is.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { useProject } from '../../api/project'
import { computed } from 'vue'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { day, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import { unitHere } from '../../desk/ways'

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
  { value: 'norm', label: 'own norm' },
  { value: 'worked', label: 'worked out' },
]
/** What is bought by mass or volume may be sold by the other. */
const sold = computed(() => ['kg', 't', 'm³', 'l', 'lb', 'ton', 'yd³', 'ft³'].includes(props.resource.unit))
const norm = computed(() =>
  [props.resource.norm_low, props.resource.norm_high]
    .filter((v) => v !== null)
    .map((v) => shown(v!, 2, 6))
    .join(' to '),
)
/** A price, or one to another: “4.00 to 5.00”. */
function setNorm(text: string) {
  const [low, high] = text.split(/\s*(?:to|–)\s*|\s+-\s+/)
  emit('change', { norm_low: low.trim() || null, norm_high: high?.trim() || null, norm_source: '' })
}
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
  <div class="facts quiet">
    <label v-if="sold" class="small"
      >weighs
      <EntryField
        class="density"
        :value="resource.density"
        :disabled="readonly"
        label="Density"
        placeholder="not told"
        @change="emit('change', { density: $event })"
      />
      <span v-if="!/[a-z]/i.test(resource.density)">{{ unitHere('kg/m³') }},</span> from
      <EntryField
        class="where"
        :value="resource.density_source"
        :disabled="readonly"
        label="Source of the density"
        placeholder="source"
        @change="emit('change', { density_source: $event })"
      />
    </label>
    <label class="small" :title="resource.norm_source ? `of ${resource.norm_source}` : ''"
      >own norm
      <EntryField
        class="norm"
        :value="norm"
        :disabled="readonly"
        label="Own norm"
        placeholder="none"
        @change="setNorm"
      />
    </label>
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
.density,
.norm {
  width: 76px;
}
.norm {
  width: 104px;
}
.where {
  width: 130px;
}
.small {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  white-space: nowrap;
}
.facts {
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 2px 12px 6px;
}
.price {
  display: flex;
  flex-wrap: wrap;
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
