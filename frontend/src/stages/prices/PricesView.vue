<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useEnquiries } from '../../api/prices'
import { useResources } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import { shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import EnquiryDesk from './EnquiryDesk.vue'
import NewEnquiry from './NewEnquiry.vue'
import NewResource from './NewResource.vue'
import NormMenu from './NormMenu.vue'
import QuotesIn from './QuotesIn.vue'
import QuoteSpread from './QuoteSpread.vue'
import ResourceHead from './ResourceHead.vue'
import WorkedForm from './WorkedForm.vue'
import { useQuotes } from './quotes'

const kinds: Schemas['NewResource']['kind'][] = ['labour', 'plant', 'material', 'sundries', 'subcontract']
const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
const { data: resources } = useResources()
const chosen = computed(
  () => resources.value?.find((r) => r.id === Number(route.params.resource)) ?? resources.value?.[0] ?? null,
)
const { data: enquiries } = useEnquiries()
const enquiry = computed(() => Number(route.params.enquiry) || null)
const {
  columns,
  rows,
  bound,
  readonly,
  line: quote,
  change: changeQuote,
  save,
  projectId,
  project,
} = useQuotes(chosen)
const making = ref<'' | 'resource' | 'enquiry' | 'quotes'>('')
const home = computed(() => `/projects/${projectId.value}/prices`)
watch(
  [chosen, enquiry],
  ([now, asking]) =>
    (tally.selected =
      now?.price && !asking
        ? [{ label: now.name, value: shown(now.price, 2, 4), unit: `${project.value?.currency}/${now.unit}` }]
        : []),
  { immediate: true },
)
watch(
  () => !enquiry.value && chosen.value?.id,
  (id) => id && walk.offer(`resource:${id}`),
  { immediate: true },
)

const groups = computed(() => [
  {
    key: 'enquiries',
    title: 'Enquiries',
    entries: (enquiries.value ?? []).map((e) => ({
      id: `enquiry:${e.id}`,
      mark: String(e.number),
      name: e.title || 'Enquiry',
      value: !e.asked_on ? 'not sent' : e.waited ? `${e.waited} to come` : 'answered',
      to: `${home.value}/enquiry/${e.id}`,
      warn: e.late && e.waited > 0,
    })),
  },
  ...kinds.map((kind) => ({
    key: kind,
    title: kind[0].toUpperCase() + kind.slice(1),
    entries: (resources.value ?? [])
      .filter((r) => r.kind === kind)
      .map((r) => ({
        id: r.id,
        name: r.name,
        value: r.price ? shown(r.price, 2, 3) : 'no price',
        unit: `/${r.unit}`,
        to: `${home.value}/${r.id}`,
        warn: r.findings.length > 0,
      })),
  })),
])
const sellers = computed(() => [
  ...new Set((resources.value ?? []).flatMap((r) => r.quotes.map((q) => q.supplier))),
])
const at = (resource: number) => ({ params: { path: { project_id: projectId.value, resource } } })
const change = (body: Omit<Schemas['ResourceChange'], 'version'>) => {
  const now = chosen.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/resources/{resource}', {
        ...at(now.id),
        body: { version: version ?? now.version, ...body },
      }),
    ),
  )
}
/** What was made just now: its table is gone on to. */
const begun = ref(0)
function made(id: number) {
  begun.value = id
  making.value = ''
  return router.push(`${home.value}/${id}`)
}
function asked(id: number) {
  making.value = ''
  return router.push(`${home.value}/enquiry/${id}`)
}
async function remove() {
  const now = chosen.value
  if (!now) return
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/resources/{resource}', at(now.id)))))
    await router.push(home.value)
}
</script>

<template>
  <Stage label="Resources">
    <template #list>
      <ListPane
        find="Find a resource"
        :groups="groups"
        :waits="!resources || !enquiries"
        :chosen="enquiry ? `enquiry:${enquiry}` : (chosen?.id ?? null)"
      >
        <p v-if="!readonly" class="new">
          <NButton size="small" @click="making = 'resource'">New resource</NButton>
          <NButton size="small" @click="making = 'enquiry'">New enquiry</NButton>
          <NButton size="small" @click="making = 'quotes'">Quotes of a list</NButton>
          <NormMenu />
        </p>
      </ListPane>
    </template>
    <EnquiryDesk v-if="enquiry" :enquiry="enquiry" />
    <template v-else-if="chosen">
      <ResourceHead :resource="chosen" :readonly="readonly" @change="change" @remove="remove" />
      <WorkedForm
        v-if="chosen.worked"
        :key="chosen.id"
        :resource="chosen"
        :resources="resources ?? []"
        :readonly="readonly"
      />
      <QuoteSpread
        v-if="chosen.quotes.length > 1 && !chosen.worked"
        :quotes="chosen.quotes"
        :price="chosen.price"
        :norm="{ low: chosen.norm_low, high: chosen.norm_high }"
      />
      <LedgerTable
        :key="chosen.id"
        :begin="begun === chosen.id"
        :label="`Quotes for ${chosen.name}`"
        :columns="columns"
        :rows="rows"
        v-bind="bound"
      />
      <p v-if="quote?.says" class="desk-says">{{ quote.says }}</p>
      <label v-if="quote" class="source">
        <span class="quiet">Source of {{ quote.supplier }}’s quote</span>
        <EntryField
          :value="quote.source"
          :disabled="readonly"
          placeholder="quotation number, e-mail, price list"
          @change="changeQuote(quote, { source: $event })"
        />
      </label>
    </template>
    <div v-else-if="resources" class="empty">
      <h2>No resources yet</h2>
      <p>
        A resource is labour, plant or material with a unit; its price comes from dated quotes. Rates are
        built up from them.
      </p>
      <p v-if="!readonly"><NButton type="primary" @click="making = 'resource'">New resource</NButton></p>
    </div>
    <NewResource v-if="making === 'resource'" :kinds="kinds" @close="making = ''" @made="made" />
    <NewEnquiry
      v-else-if="making === 'enquiry'"
      :resources="resources ?? []"
      :chosen="enquiry ? null : (chosen?.id ?? null)"
      @close="making = ''"
      @made="asked"
    />
    <QuotesIn v-else-if="making === 'quotes'" :suppliers="sellers" @done="making = ''" />
  </Stage>
</template>

<style scoped>
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 6px 12px;
}
.source {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
.source > span {
  flex: none;
}
</style>
