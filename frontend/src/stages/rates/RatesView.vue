<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUp, useBuildUps, useProject, useResources, useSave } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { money, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import RateParts from './RateParts.vue'

type Line = Schemas['BuildUpLineView']
const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
const { save, trySave, tryMake, projectId } = useSave()
const { data: project } = useProject()
const { data: list } = useBuildUps()
const { data: resources } = useResources()
const chosen = computed(() => (route.params.rate ? Number(route.params.rate) : (list.value?.[0]?.id ?? null)))
const { data: rate } = useBuildUp(chosen)
const readonly = computed(() => project.value?.role === 'viewer')
const making = ref(false)
const fresh = reactive({ name: '', unit: 'm³', heading: '', kind: 'rate' as 'rate' | 'gang' })
watch(
  rate,
  (now) =>
    (tally.selected = now
      ? [{ label: 'Rate', value: money(now.rate), unit: `${project.value?.currency} per ${now.unit}` }]
      : []),
  { immediate: true },
)

watch(chosen, (id) => id !== null && walk.offer(`build-up:${id}`), { immediate: true })

const groups = computed(() => {
  const headings = [...new Set((list.value ?? []).map((b) => b.heading))]
  return headings.map((heading) => ({
    key: heading,
    title: heading || 'Rates',
    entries: (list.value ?? [])
      .filter((b) => b.heading === heading)
      .map((b) => ({
        id: b.id,
        name: b.name,
        value: money(b.rate),
        unit: `/${b.unit}`,
        to: `/projects/${projectId.value}/rates/${b.id}`,
        warn: !Number(b.rate),
      })),
  }))
})
const sources = computed(() => [
  ...(resources.value ?? []).map((r) => ({
    value: `resource:${r.id}`,
    label: `${r.name}, ${shown(r.price, 2, 4) || 'no price'} per ${r.unit}`,
  })),
  ...(list.value ?? [])
    .filter((b) => b.id !== chosen.value)
    .map((b) => ({
      value: `nested:${b.id}`,
      label: `${b.name} (a ${b.kind === 'gang' ? 'gang' : 'rate'} of this project), ${money(b.rate)} per ${b.unit}`,
    })),
  ...percentOf.map((group) => ({ value: `percent:${group}`, label: `a percentage of ${group}` })),
])
const percentOf = ['labour', 'plant', 'material', 'subcontract']
const bases = [
  { value: 'output', label: 'by output' },
  { value: 'unit', label: 'per unit' },
]
const columns = computed<Column<Line>[]>(() => [
  {
    key: 'source',
    label: 'Resource',
    wrap: true,
    text: (l) => (l.resource ? `resource:${l.resource}` : `nested:${l.nested}`),
    show: (l) => l.name,
    title: (l) => (l.gang ? `${l.name}, a gang` : l.name),
    editable: () => false,
    choices: () => sources.value,
    hint: 'pick a resource',
  },
  {
    key: 'basis',
    label: 'Basis',
    width: '76px',
    text: (l) => l.basis,
    show: (l) => (l.basis === 'output' ? 'by output' : l.basis === 'unit' ? 'per unit' : 'share'),
    editable: (l) => l.basis !== 'percent',
    choices: bases,
  },
  {
    key: 'quantity',
    label: 'Quantity',
    number: true,
    width: '78px',
    text: (l) => l.quantity,
    show: (l) => (/^[\d.]+$/.test(l.quantity) ? shown(l.quantity, 2, 4) : shown(quantityOf(l), 2, 4)),
    title: (l) => l.quantity,
    ref: (l) => `build-up-line:${l.id}`,
  },
  { key: 'unit', label: 'Unit', width: '38px', show: (l) => l.unit },
  {
    key: 'allowance',
    label: '+ %',
    number: true,
    width: '46px',
    text: (l) => String(Number(l.allowance)),
    editable: (l) => l.basis !== 'percent',
    title: () => 'Allowance: waste, laps, bulking',
  },
  {
    key: 'price',
    label: 'Price',
    number: true,
    width: '76px',
    show: (l) => (l.basis === 'percent' ? '' : l.price === null ? 'none' : shown(l.price, 2, 4)),
    ref: (l) =>
      l.resource ? `resource:${l.resource}` : l.nested ? `build-up:${l.nested}` : `build-up-line:${l.id}`,
  },
  {
    key: 'escalation',
    label: 'Esc. %',
    number: true,
    width: '50px',
    text: (l) => String(Number(l.escalation)),
    editable: (l) => l.basis !== 'percent',
    title: () => 'Escalation of the price',
  },
  {
    key: 'amount',
    label: 'Amount',
    number: true,
    width: '72px',
    show: (l) => (l.basis === 'output' ? money(l.amount) : ''),
    ref: (l) => `build-up-line:${l.id}`,
  },
  {
    key: 'unit_price',
    label: `per ${rate.value?.unit ?? ''}`,
    number: true,
    width: '72px',
    show: (l) => money(l.gang ? (l.shares[groupOf(l)] ?? l.unit_price) : l.unit_price),
    ref: (l) => `build-up-line:${l.id}`,
  },
])
/** A gang stands with the group it was put in, also where those who work in it count in others. */
const groupOf = (l: Line) =>
  rate.value?.groups.some((g) => g.group === l.group) ? l.group : (rate.value?.groups[0]?.group ?? l.group)
/** What is entered, worked out: for the whole output, or for one unit. */
const quantityOf = (l: Line) =>
  Number(l.basis === 'output' ? l.total_quantity : l.unit_quantity) / (1 + Number(l.allowance) / 100)
const rows = computed<Row<Line>[]>(() => {
  const now = rate.value
  if (!now) return []
  const inGroups = now.groups.flatMap((group): Row<Line>[] => [
    {
      id: `group-${group.group}`,
      kind: 'head',
      label: group.group[0].toUpperCase() + group.group.slice(1),
      cells: {
        amount: now.lines.some((l) => l.group === group.group && l.basis === 'output')
          ? money(group.amount)
          : '',
        unit_price: money(group.unit_price),
      },
      ref: `build-up:${now.id}`,
    },
    ...now.lines
      .filter((l) => groupOf(l) === group.group)
      .map((l): Row<Line> => ({
        id: l.id,
        kind: 'line',
        data: l,
        warn: l.price === null && l.basis !== 'percent' ? `${l.name} has no price yet.` : '',
      })),
    // What a gang that stands in another group brings to this one.
    ...now.lines
      .filter((l) => l.gang && groupOf(l) !== group.group && l.shares[group.group])
      .map((l): Row<Line> => ({
        id: `share-${group.group}-${l.id}`,
        kind: 'step',
        label: `${l.name}, its ${group.group}`,
        cells: { unit_price: money(l.shares[group.group]) },
        ref: `build-up-line:${l.id}`,
      })),
  ])
  const ghost: Row<Line>[] = readonly.value ? [] : [{ id: 'new', kind: 'ghost' }]
  return [
    ...inGroups,
    ...ghost,
    {
      id: 'rate',
      kind: 'total',
      label: `Net rate per ${now.unit}`,
      cells: { unit_price: money(now.rate) },
      ref: `build-up:${now.id}`,
    },
  ]
})
const commit = (l: Line, key: string, text: string) =>
  trySave((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/build-up-lines/{line}', {
        params: { path: { project_id: projectId.value, line: l.id } },
        body: {
          version: version ?? l.version,
          [key]: ['allowance', 'escalation'].includes(key) ? text || '0' : text,
        },
      }),
    ),
  )
async function add(key: string, text: string): Promise<number | string> {
  const [kind, id] = text.split(':')
  if (key !== 'source' || !id || chosen.value === null)
    return 'A line begins with what it is made of: choose it in the first column.'
  return tryMake(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/{build_up}/lines', {
        params: { path: { project_id: projectId.value, build_up: chosen.value! } },
        body:
          kind === 'percent'
            ? { basis: 'percent', percent_of: id as Line['group'], quantity: '5', group: 'sundries' }
            : { [kind]: Number(id) },
      }),
    ),
  )
}
const removeLine = (l: Line) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/build-up-lines/{line}', {
        params: { path: { project_id: projectId.value, line: l.id } },
      }),
    ),
  )
function look(row: Row<Line>, column: Column<Line>) {
  if (row.ref) walk.look(row.ref)
  else if (row.data) walk.look(column.ref?.(row.data) ?? `build-up-line:${row.data.id}`)
}
const change = (body: {
  name?: string
  unit?: string
  output?: string
  hours?: string
  heading?: string
}) => {
  const now = rate.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/build-ups/{build_up}', {
        params: { path: { project_id: projectId.value, build_up: now.id } },
        body: { version: version ?? now.version, ...body },
      }),
    ),
  )
}
function begin(kind: 'rate' | 'gang') {
  fresh.kind = kind
  fresh.heading = kind === 'gang' ? 'Gangs' : ''
  making.value = true
}
async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups', {
        params: { path: { project_id: projectId.value } },
        body: { ...fresh },
      }),
    ),
  )
  if (!saved) return
  making.value = false
  fresh.name = ''
  await router.push(`/projects/${projectId.value}/rates/${saved.id}`)
}
async function remove() {
  const now = rate.value
  if (!now) return
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/build-ups/{build_up}', {
        params: { path: { project_id: projectId.value, build_up: now.id } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/rates`)
}
</script>

<template>
  <Stage label="Rates">
    <template #list>
      <ListPane find="Find a rate" :groups="groups" :chosen="chosen">
        <p v-if="!readonly" class="new">
          <NButton size="small" @click="begin('rate')">New rate</NButton>
          <NButton size="small" @click="begin('gang')">New gang</NButton>
        </p>
      </ListPane>
    </template>
    <template v-if="rate">
      <div :key="rate.id" class="desk-head">
        <EntryField
          class="name"
          :value="rate.name"
          :disabled="readonly"
          label="Name of the rate"
          @change="change({ name: $event })"
        />
        <label class="quiet"
          >per
          <ChoiceField
            class="unit"
            :value="rate.unit"
            :options="asOptions(project?.units ?? [])"
            label="Unit of the rate"
            :disabled="readonly || rate.kind === 'gang'"
            @choose="change({ unit: $event })"
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
              @change="change({ output: $event })"
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
              @change="change({ hours: $event })"
            />
            h</label
          >
        </template>
        <span v-else class="quiet">a gang, working together</span>
        <span class="push quiet">used in {{ rate.items }} item{{ rate.items === 1 ? '' : 's' }}</span>
        <button v-if="!readonly" class="plain quiet" @click="remove">Delete</button>
      </div>
      <RateParts :groups="rate.groups" :rate="rate.rate" />
      <p v-for="said in rate.findings" :key="said" class="found">{{ said }}</p>
      <LedgerTable
        :key="rate.id"
        :label="`Build-up of ${rate.name}`"
        :columns="columns"
        :rows="rows"
        :commit="commit"
        :add="add"
        :remove="removeLine"
        :readonly="readonly"
        @look="look"
      />
    </template>
    <div v-else-if="list && !list.length" class="empty">
      <h2>No rates yet</h2>
      <p>
        A rate is built up from resources: labour and plant by output, materials per unit, and other rates
        such as a concrete mix.
      </p>
      <p v-if="!readonly"><NButton type="primary" @click="begin('rate')">New rate</NButton></p>
    </div>
    <Dialog v-if="making" :title="fresh.kind === 'gang' ? 'New gang' : 'New rate'" @close="making = false">
      <form class="form" @submit.prevent="make">
        <label class="field"
          ><span>Name</span
          ><NInput
            v-model:value="fresh.name"
            placeholder=""
            :input-props="{ required: true, autofocus: true }"
        /></label>
        <p v-if="fresh.kind === 'gang'" class="quiet">
          Who and what works together for one hour: add 2 masons and 1 labourer, say. A rate draws on it by
          its output.
        </p>
        <div v-else class="field">
          <span>Per</span>
          <ChoiceField
            :value="fresh.unit"
            :options="asOptions(project?.units ?? [])"
            label="Per"
            @choose="fresh.unit = $event"
          />
        </div>
        <label class="field"
          ><span>Heading in the list</span><NInput v-model:value="fresh.heading" placeholder="Substructure"
        /></label>
        <NButton type="primary" attr-type="submit">Make it</NButton>
      </form>
    </Dialog>
  </Stage>
</template>

<style scoped>
.new {
  display: flex;
  gap: 6px;
  padding: 4px 12px;
}
.name {
  flex: 0 1 260px;
  min-width: 120px;
  font-weight: 600;
}
.desk-head label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.small {
  width: 62px;
}
.unit {
  width: 72px;
}
.found {
  margin: 0;
  padding: 4px 12px;
  color: var(--accent-ink);
}
</style>
