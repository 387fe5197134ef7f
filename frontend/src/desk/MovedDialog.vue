<script setup lang="ts">
// Which rates and items a change moved, and by how much.
import { useQuery } from '@tanstack/vue-query'
import { NDataTable, NSpin, type DataTableColumns } from 'naive-ui'
import { computed } from 'vue'
import { ask, client, type Schemas } from '../api/client'
import { keys } from '../api/keys'
import { useProject, useProjectId } from '../api/project'
import Dialog from './Dialog.vue'
import { money, quantity, rateShown, signed } from './numbers'

const props = defineProps<{ change: number }>()
const emit = defineEmits<{ close: [] }>()
const projectId = useProjectId()
const { data: project } = useProject()
const { data: effect, error } = useQuery({
  queryKey: computed(() => [...keys.history(projectId.value), 'effect', props.change]),
  queryFn: () =>
    ask(
      client.GET('/api/projects/{project_id}/changes/{change}/effect', {
        params: { path: { project_id: projectId.value, change: props.change } },
      }),
    ),
  retry: false,
  gcTime: 0,
})
type Item = Schemas['MovedItem']
type Rate = Schemas['MovedRate']
const arrow = (before: string, after: string) => (before === after ? after : `${before} → ${after}`)
const number = { align: 'right', className: 'num' } as const
const items = computed<DataTableColumns<Item>>(() => [
  { title: 'Item', key: 'ref', width: 56 },
  { title: 'Description', key: 'description', ellipsis: { tooltip: true } },
  {
    title: 'Quantity',
    key: 'quantity',
    width: 150,
    ...number,
    render: (i) =>
      `${arrow(quantity(i.quantity_before, i.unit), quantity(i.quantity_after, i.unit))} ${i.unit}`,
  },
  {
    title: 'Rate',
    key: 'rate',
    width: 150,
    ...number,
    render: (i) => arrow(rateShown(i.rate_before) || 'none', rateShown(i.rate_after) || 'none'),
  },
  {
    title: `Amount ${project.value?.currency}`,
    key: 'after',
    width: 190,
    ...number,
    render: (i) => arrow(money(i.before), money(i.after)),
  },
  {
    title: 'By',
    key: 'by',
    width: 110,
    ...number,
    render: (i) => signed(Number(i.after) - Number(i.before)),
  },
])
const rates = computed<DataTableColumns<Rate>>(() => [
  { title: 'Rate', key: 'name', ellipsis: { tooltip: true }, render: (r) => `${r.name}, per ${r.unit}` },
  {
    title: `${project.value?.currency} per unit`,
    key: 'after',
    width: 190,
    ...number,
    render: (r) => arrow(rateShown(r.before) || 'none', rateShown(r.after) || 'none'),
  },
  {
    title: 'By',
    key: 'by',
    width: 110,
    ...number,
    render: (r) => signed(Number(r.after ?? 0) - Number(r.before ?? 0)),
  },
])
const told = (moved: number, shown: number, one: string) =>
  `${moved} ${moved === 1 ? one : `${one}s`} moved${shown < moved ? `; the ${shown} that moved most` : ''}`
</script>

<template>
  <Dialog title="What it moved" widest @close="emit('close')">
    <p v-if="error" role="alert">{{ error.message }}</p>
    <NSpin v-else-if="!effect" size="small" />
    <template v-else>
      <p class="head">
        <b>{{ effect.label }}</b>
        <span class="num"
          >Bill {{ arrow(money(effect.bill_before), money(effect.bill_after)) }} {{ project?.currency }},
          {{ signed(Number(effect.bill_after) - Number(effect.bill_before)) }}</span
        >
      </p>
      <p v-if="!effect.items_moved && !effect.rates_moved" class="quiet">No rate and no item moved.</p>
      <template v-if="effect.items_moved">
        <h3>{{ told(effect.items_moved, effect.items.length, 'item') }}</h3>
        <NDataTable
          size="small"
          :bordered="false"
          :columns="items"
          :data="effect.items"
          :row-key="(i: Item) => i.id"
        />
      </template>
      <template v-if="effect.rates_moved">
        <h3>{{ told(effect.rates_moved, effect.rates.length, 'rate') }}</h3>
        <NDataTable
          size="small"
          :bordered="false"
          :columns="rates"
          :data="effect.rates"
          :row-key="(r: Rate) => r.id"
        />
      </template>
    </template>
  </Dialog>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 20px;
  margin: 0 0 6px;
}
h3 {
  margin: 12px 0 4px;
  color: var(--quiet);
}
</style>
