<script setup lang="ts">
// A banded rate: what a unit costs from a limit up to another, by a rate of each band or a cost of its own.
import { computed } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUps, useProject, useProjectId } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { rateShown, shown, typeable } from '../../desk/numbers'
import AddedMenu from './AddedMenu.vue'
import SizedHead from './SizedHead.vue'

const props = defineProps<{ rate: Schemas['BuildUpView'] }>()
const emit = defineEmits<{
  change: [fields: Omit<Schemas['BuildUpChange'], 'version'>]
  copy: []
  remove: []
}>()
type Band = Schemas['BandView']
const projectId = useProjectId()
const { data: project } = useProject()
const { data: rates } = useBuildUps()
const at = <P extends object>(path: P) => ({ params: { path: { project_id: projectId.value, ...path } } })
const OWN = 'a cost of its own'
const fieldsOf = (key: string, text: string) => {
  if (key === 'nested') return { nested: text ? Number(text) : null }
  if (key === 'price') return { price: text.trim() || null }
  return { [key]: text }
}
const stage = useLedgerStage<Band>(() => props.rate.bands, {
  write: (band, version, fields) =>
    ask(
      client.PATCH('/api/projects/{project_id}/bands/{band}', {
        ...at({ band: band.id }),
        body: { version, ...fields },
      }),
    ),
  make: (fields) => () =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/{build_up}/bands', {
        ...at({ build_up: props.rate.id }),
        body: fields as Schemas['NewBand'],
      }),
    ),
  drop: (band) => ask(client.DELETE('/api/projects/{project_id}/bands/{band}', at({ band: band.id }))),
  ref: () => `build-up:${props.rate.id}`,
  fields: fieldsOf,
})
const { readonly } = stage
const choices = computed(() => [
  { value: '', label: OWN },
  ...(rates.value ?? [])
    .filter((each) => each.kind === 'rate' && each.unit === props.rate.unit)
    .map((each) => ({ value: String(each.id), label: `${each.name}, ${rateShown(each.rate)}` })),
])
const limit = (text: string, none: string) => (text ? text : none)
const columns = computed<Column<Band>[]>(() => [
  {
    key: 'low',
    label: `From ${props.rate.sized_in}`.trim(),
    number: true,
    width: '110px',
    text: (b) => b.low,
    show: (b) => limit(b.low, 'no limit'),
    hint: 'a limit',
  },
  {
    key: 'below',
    label: `to below ${props.rate.sized_in}`.trim(),
    number: true,
    width: '120px',
    text: (b) => b.below,
    show: (b) => limit(b.below, 'no limit'),
  },
  {
    key: 'nested',
    label: 'By the rate',
    wrap: true,
    text: (b) => (b.nested ? String(b.nested) : ''),
    show: (b) => b.nested_name || OWN,
    choices: () => choices.value,
  },
  {
    key: 'price',
    label: `Cost per ${props.rate.unit}`,
    number: true,
    width: '120px',
    text: (b) => (b.price === null ? '' : typeable(b.price)),
    show: (b) => (b.cost === null ? 'none' : shown(b.cost, 2, 4)),
    title: (b) => (b.nested ? `Of ${b.nested_name}; typed over, it is the band’s own` : 'Typed'),
    ref: (b) => (b.nested ? `build-up:${b.nested}` : `build-up:${props.rate.id}`),
  },
])
const rows = computed<Row<Band>[]>(() => [
  ...props.rate.bands.map((band): Row<Band> => ({
    id: band.id,
    kind: 'line',
    data: band,
    warn: band.cost === null ? 'This band has no cost yet.' : '',
  })),
  ...stage.ghost.value,
])
</script>

<template>
  <SizedHead
    :rate="rate"
    :readonly="readonly"
    what="banded rate"
    by="height"
    @change="emit('change', $event)"
    @copy="emit('copy')"
    @remove="emit('remove')"
  >
    <AddedMenu :rate="rate" :readonly="readonly" @change="emit('change', $event)" />
  </SizedHead>
  <p class="told quiet">
    An item of the bill says its own {{ rate.sized_by || 'size' }}, which picks the band: from a limit up to,
    and not at, the next. Between two bands, or outside them all, it has no rate, and a check says so.
    {{
      rate.items
        ? `${rate.items} item${rate.items === 1 ? ' is' : 's are'} priced by it, in ${project?.currency}.`
        : ''
    }}
  </p>
  <LedgerTable :label="`Bands of ${rate.name}`" :columns="columns" :rows="rows" v-bind="stage.bound.value" />
</template>

<style scoped>
.told {
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
</style>
