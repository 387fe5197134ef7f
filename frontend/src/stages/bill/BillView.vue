<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useBillOf, useBills } from '../../api/bill'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { money } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import AdjustmentList from './AdjustmentList.vue'
import BillPick from './BillPick.vue'
import ItemNote from './ItemNote.vue'
import ItemQuantity from './ItemQuantity.vue'
import ItemRate from './ItemRate.vue'
import SectionTools from './SectionTools.vue'
import TypedQuantity from './TypedQuantity.vue'
import { useBillLines } from './lines'

const ComparedDesk = defineAsyncComponent(() => import('./ComparedDesk.vue'))
const MakesDesk = defineAsyncComponent(() => import('./MakesDesk.vue'))
const MatchesDesk = defineAsyncComponent(() => import('./MatchesDesk.vue'))
const TrialsDesk = defineAsyncComponent(() => import('./TrialsDesk.vue'))
const ReportDesk = defineAsyncComponent(() => import('./ReportDesk.vue'))

type Item = Schemas['ItemView']
const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
/** Which bill; none for the project's own. */
const which = computed(() => Number(route.query.bill) || null)
const what = computed(() => String(route.params.what ?? ''))
const { data: bill } = useBillOf(which)
const { data: bills } = useBills()
const section = ref<number | null>(null)
const {
  table,
  columns,
  rows,
  bound,
  readonly,
  item,
  focusedIn,
  reasonFor,
  change,
  save,
  goTo,
  billOf,
  projectId,
  project,
} = useBillLines(bill, which, section)

watch(which, (id) => walk.offer(id ? `bill-of:${id}` : 'bill'), { immediate: true })
const groups = computed(() => [
  {
    key: 'sections',
    title: 'Sections',
    empty: 'none yet',
    entries: (bill.value?.sections ?? []).map((s) => ({
      id: s.id,
      mark: s.number || s.ref,
      name: s.title,
      level: s.depth,
      value: money(s.total),
      unit: '',
      to: `/projects/${projectId.value}/bill?${which.value ? `bill=${which.value}&` : ''}at=section:${s.id}`,
    })),
  },
])
// Walking to an item or section: put the cursor there.
watch(
  [() => route.query.at, () => bill.value?.id, table],
  () => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    const columnOf: Record<string, number> = { item: 5, 'item-quantity': 3, 'item-rate': 4 }
    if (kind in columnOf && bill.value) void goIn(Number(id), columnOf[kind])
    if (kind === 'section') section.value = Number(id)
  },
  { immediate: true, flush: 'post' },
)

/** A section dragged to where another stands, among those of its level. */
function putSection(entry: number | string, onto: number | string) {
  const goal = bill.value?.sections.find((s) => s.id === onto)
  if (!goal) return
  const path = { project_id: projectId.value, section: Number(entry) }
  const body = { parent: goal.parent, before: goal.id }
  void save(() =>
    ask(client.POST('/api/projects/{project_id}/sections/{section}/move', { params: { path }, body })),
  )
}
/** An item walked to may be in another bill. */
async function goIn(id: number, column: number) {
  const of = await billOf(id).catch(() => which.value)
  if (of === which.value) return goTo(id, column)
  const query = { ...route.query, bill: of ? String(of) : undefined }
  await router.replace({ query })
}
async function keepReason(reason: string) {
  const now = reasonFor.value
  if (!now || !(await change(now.item, { typed_quantity: now.text, typed_reason: reason }))) return
  reasonFor.value = null
  table.value?.forget(now.item.id, 'typed_quantity')
  table.value?.activateRow(now.item.id, 3)
  table.value?.focus()
}
function select(cells: { row: Row<Item>; column: Column<Item> }[]) {
  const sum = cells.reduce(
    (total, { row, column }) =>
      total + (row.data && column.key === 'typed_amount' ? Number(row.data.amount) : 0),
    0,
  )
  tally.selected = sum ? [{ label: 'Selected', value: money(sum), unit: bill.value?.currency ?? '' }] : []
}
</script>

<template>
  <Stage label="Sections">
    <template #list>
      <BillPick v-if="bill && bills" :bill="bill" :bills="bills" :readonly="project?.role === 'viewer'" />
      <ListPane
        v-if="bill && bills"
        find="Find a section"
        :groups="groups"
        :chosen="section"
        :arranges="!readonly"
        @put="putSection"
      >
        <SectionTools v-if="!readonly" v-model="section" :bill="which" :sections="bill.sections" />
        <AdjustmentList :adjustments="bill.adjustments" :bill="which" :readonly="readonly" />
      </ListPane>
    </template>
    <ComparedDesk v-if="what === 'compared'" />
    <ReportDesk v-else-if="bill && what === 'report'" :bill="bill" />
    <MakesDesk v-else-if="bill && what === 'makes'" :bill="bill" :project-id="projectId" />
    <TrialsDesk v-else-if="bill && what === 'trials'" />
    <MatchesDesk v-else-if="bill && what === 'matches'" :bill="bill" :readonly="readonly" />
    <div v-else-if="bill && !bill.sections.length" class="empty">
      <h2>The bill is empty</h2>
      <p>
        Measure an element and press “Into the bill”: the items it needs are made here and draw on its
        quantities. Or add a section at the left and type items; or receive a client’s bill.
      </p>
    </div>
    <template v-else-if="bill">
      <LedgerTable
        ref="table"
        label="Bill of quantities"
        :columns="columns"
        :rows="rows"
        v-bind="bound"
        @select="select"
      />
      <TypedQuantity v-if="reasonFor" :text="reasonFor.text" :unit="reasonFor.item.unit" @keep="keepReason" />
      <ItemRate
        v-else-if="item && focusedIn === 'build_up' && item.kind !== 'heading'"
        :item="item"
        :readonly="readonly"
        :currency="bill.currency"
      />
      <ItemNote
        v-else-if="item && ['number', 'description', 'kind'].includes(focusedIn)"
        :item="item"
        :readonly="readonly"
        @change="change(item, { note: $event })"
      />
      <ItemQuantity v-else-if="item" :item="item" :readonly="readonly" />
    </template>
  </Stage>
</template>
