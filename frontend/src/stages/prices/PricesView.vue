<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useResources, useSave, type Send } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { day, money, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import QuoteSpread from './QuoteSpread.vue'

type Quote = Schemas['QuoteView']
type Basis = Schemas['ResourceView']['basis']
const kinds: Schemas['NewResource']['kind'][] = ['labour', 'plant', 'material', 'sundries', 'subcontract']
const bases: { value: Basis; label: string }[] = [
  { value: 'latest', label: 'latest valid quote' },
  { value: 'lowest', label: 'lowest valid quote' },
  { value: 'mean', label: 'mean of valid quotes' },
  { value: 'median', label: 'median of valid quotes' },
  { value: 'chosen', label: 'chosen quote' },
]
const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
const { save, trySave, tryMake, projectId } = useSave()
const { data: project } = useProject()
const { data: resources } = useResources()
const chosen = computed(
  () => resources.value?.find((r) => r.id === Number(route.params.resource)) ?? resources.value?.[0] ?? null,
)
const readonly = computed(() => project.value?.role === 'viewer')
const making = ref(false)
const looked = ref<number | null>(null)
const quote = computed(() => chosen.value?.quotes.find((q) => q.id === looked.value) ?? null)
const fresh = reactive<Schemas['NewResource']>({ name: '', kind: 'material', unit: 'm³' })
watch(
  chosen,
  (now) =>
    (tally.selected = now?.price
      ? [{ label: now.name, value: shown(now.price, 2, 4), unit: `${project.value?.currency}/${now.unit}` }]
      : []),
  { immediate: true },
)

watch(
  () => chosen.value?.id,
  (id) => id && walk.offer(`resource:${id}`),
  { immediate: true },
)

const groups = computed(() =>
  kinds.map((kind) => ({
    key: kind,
    title: kind[0].toUpperCase() + kind.slice(1),
    entries: (resources.value ?? [])
      .filter((r) => r.kind === kind)
      .map((r) => ({
        id: r.id,
        name: r.name,
        value: r.price ? shown(r.price, 2, 3) : 'no price',
        unit: `/${r.unit}`,
        to: `/projects/${projectId.value}/prices/${r.id}`,
        warn: r.findings.length > 0,
      })),
  })),
)
const columns = computed<Column<Quote>[]>(() => [
  { key: 'supplier', label: 'Supplier', text: (q) => q.supplier, wrap: true, hint: 'add a quote' },
  {
    key: 'price',
    label: `Price ${project.value?.currency ?? ''}`,
    number: true,
    width: '80px',
    text: (q) => String(Number(q.price)),
    show: (q) => money(q.price),
    ref: (q) => `quote:${q.id}`,
  },
  { key: 'unit', label: 'for one', width: '88px', text: (q) => q.unit },
  {
    key: 'contains',
    label: `holding ${chosen.value?.unit ?? ''}`,
    number: true,
    width: '82px',
    text: (q) => String(Number(q.contains)),
    show: (q) => shown(q.contains, 0, 4),
  },
  {
    key: 'per_unit',
    label: `per ${chosen.value?.unit ?? ''}`,
    number: true,
    width: '74px',
    show: (q) => shown(q.per_unit, 2, 4),
    ref: (q) => `quote:${q.id}`,
  },
  {
    key: 'quoted_on',
    label: 'Quoted on',
    width: '82px',
    text: (q) => q.quoted_on,
    show: (q) => day(q.quoted_on, true),
  },
  {
    key: 'valid_to',
    label: 'Valid to',
    width: '82px',
    text: (q) => q.valid_to ?? '',
    show: (q) => day(q.valid_to, true) || 'no end',
  },
  { key: 'state', label: '', width: '54px', show: (q) => (q.used ? 'used' : q.lapsed ? 'lapsed' : '') },
])
const rows = computed<Row<Quote>[]>(() => [
  ...(chosen.value?.quotes ?? []).map((q): Row<Quote> => ({
    id: q.id,
    kind: 'line',
    data: q,
    struck: q.lapsed && !q.used,
  })),
  ...(readonly.value ? [] : [{ id: 'new', kind: 'ghost' } as Row<Quote>]),
])
const numeric = (text: string) => text.trim().replace(/(?<=\d)[\s\u00a0](?=\d)/g, '')
const valueOf = (key: string, text: string) =>
  key === 'valid_to' ? text || null : ['price', 'contains'].includes(key) ? numeric(text) : text
const written =
  (q: Quote, key: string, text: string): Send =>
  (version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/quotes/{quote}', {
        params: { path: { project_id: projectId.value, quote: q.id } },
        body: { version: version ?? q.version, [key]: valueOf(key, text) },
      }),
    )
const commit = (q: Quote, key: string, text: string) => trySave(written(q, key, text))
async function add(key: string, text: string): Promise<number | string> {
  const now = chosen.value
  if (!now || !project.value) return 'Choose a resource first.'
  const start = {
    supplier: 'Supplier',
    price: '0',
    quoted_on: project.value.price_date,
    [key]: valueOf(key, text),
  }
  return tryMake(() =>
    ask(
      client.POST('/api/projects/{project_id}/resources/{resource}/quotes', {
        params: { path: { project_id: projectId.value, resource: now.id } },
        body: start as Schemas['NewQuote'],
      }),
    ),
  )
}
const removeQuote = (q: Quote) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/quotes/{quote}', {
        params: { path: { project_id: projectId.value, quote: q.id } },
      }),
    ),
  )
function look(row: Row<Quote>, column: Column<Quote>) {
  looked.value = row.data?.id ?? null
  if (row.data) walk.look(column.ref?.(row.data) ?? `quote:${row.data.id}`)
}
const change = (body: Omit<Schemas['ResourceChange'], 'version'>) => {
  const now = chosen.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/resources/{resource}', {
        params: { path: { project_id: projectId.value, resource: now.id } },
        body: { version: version ?? now.version, ...body },
      }),
    ),
  )
}
const priceBy = (basis: Basis) =>
  change({
    basis,
    ...(basis === 'chosen' ? { chosen: chosen.value?.quotes[0]?.id ?? null } : {}),
  })
async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/resources', {
        params: { path: { project_id: projectId.value } },
        body: { ...fresh },
      }),
    ),
  )
  if (!saved) return
  making.value = false
  fresh.name = ''
  await router.push(`/projects/${projectId.value}/prices/${saved.id}`)
}
async function remove() {
  const now = chosen.value
  if (!now) return
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/resources/{resource}', {
        params: { path: { project_id: projectId.value, resource: now.id } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/prices`)
}
</script>

<template>
  <Stage label="Resources">
    <template #list>
      <ListPane find="Find a resource" :groups="groups" :chosen="chosen?.id ?? null">
        <p v-if="!readonly" class="new">
          <NButton size="small" @click="making = true">New resource</NButton>
        </p>
      </ListPane>
    </template>
    <template v-if="chosen">
      <div class="desk-head">
        <EntryField
          class="name"
          :value="chosen.name"
          :disabled="readonly"
          label="Name of the resource"
          @change="change({ name: $event })"
        />
        <label class="quiet"
          >priced by
          <ChoiceField
            class="basis"
            :value="chosen.basis"
            :options="bases"
            label="Price basis"
            :disabled="readonly"
            @choose="priceBy"
          />
        </label>
        <ChoiceField
          v-if="chosen.basis === 'chosen'"
          class="basis"
          :value="chosen.chosen"
          :options="chosen.quotes.map((q) => ({ value: q.id, label: q.supplier }))"
          label="Chosen quote"
          :disabled="readonly"
          @choose="change({ chosen: $event })"
        />
        <span class="push quiet">used in {{ chosen.used_in }} rate{{ chosen.used_in === 1 ? '' : 's' }}</span>
        <button v-if="!readonly" class="plain quiet" @click="remove">Delete</button>
      </div>
      <div class="price">
        <button
          class="plain"
          title="Show how this price comes about"
          @click="walk.look(`resource:${chosen.id}`)"
        >
          <span class="num big">{{ chosen.price ? shown(chosen.price, 2, 4) : 'no price' }}</span>
          <span class="quiet"
            >{{ project?.currency }} per {{ chosen.unit }} on {{ day(project?.price_date ?? null) }}</span
          >
        </button>
        <span v-for="said in chosen.findings" :key="said" class="found">{{ said }}</span>
      </div>
      <QuoteSpread v-if="chosen.quotes.length > 1" :quotes="chosen.quotes" :price="chosen.price" />
      <LedgerTable
        :key="chosen.id"
        :label="`Quotes for ${chosen.name}`"
        :columns="columns"
        :rows="rows"
        :commit="commit"
        :add="add"
        :remove="removeQuote"
        :readonly="readonly"
        @look="look"
      />
      <label v-if="quote" class="source">
        <span class="quiet">Source of {{ quote.supplier }}’s quote</span>
        <EntryField
          :value="quote.source"
          :disabled="readonly"
          placeholder="quotation number, e-mail, price list"
          @change="save(written(quote, 'source', $event))"
        />
      </label>
    </template>
    <div v-else-if="resources" class="empty">
      <h2>No resources yet</h2>
      <p>
        A resource is labour, plant or material with a unit; its price comes from dated quotes. Rates are
        built up from them.
      </p>
      <p v-if="!readonly"><NButton type="primary" @click="making = true">New resource</NButton></p>
    </div>
    <Dialog v-if="making" title="New resource" @close="making = false">
      <form class="form" @submit.prevent="make">
        <label class="field"
          ><span>Name</span
          ><NInput
            v-model:value="fresh.name"
            placeholder=""
            :input-props="{ required: true, autofocus: true }"
        /></label>
        <div class="field">
          <span>Kind</span>
          <ChoiceField
            :value="fresh.kind"
            :options="asOptions(kinds)"
            label="Kind"
            @choose="fresh.kind = $event"
          />
        </div>
        <div class="field">
          <span>Unit it is used in</span>
          <ChoiceField
            :value="fresh.unit"
            :options="asOptions(project?.units ?? [])"
            label="Unit it is used in"
            @choose="fresh.unit = $event"
          />
        </div>
        <NButton type="primary" attr-type="submit">Make it</NButton>
      </form>
    </Dialog>
  </Stage>
</template>

<style scoped>
.new {
  padding: 4px 12px;
}
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
.source {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
.found {
  color: var(--accent-ink);
}
</style>
