<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useBill } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { money } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import AdjustmentList from './AdjustmentList.vue'
import ItemQuantity from './ItemQuantity.vue'
import SectionTools from './SectionTools.vue'
import TypedQuantity from './TypedQuantity.vue'
import { useBillLines } from './lines'

type Item = Schemas['ItemView']
const route = useRoute()
const walk = useWalkStore()
const tally = useTally()
const { data: bill } = useBill()
const section = ref<number | null>(null)
const { table, columns, rows, bound, readonly, item, reasonFor, change, goTo, projectId, project } =
  useBillLines(bill, section)

walk.offer('bill')
const groups = computed(() => [
  {
    key: 'sections',
    title: 'Sections',
    empty: 'none yet',
    entries: (bill.value?.sections ?? []).map((s) => ({
      id: s.id,
      mark: s.ref,
      name: s.title,
      value: money(s.total),
      unit: '',
      to: `/projects/${projectId.value}/bill?at=section:${s.id}`,
    })),
  },
])
// Walking to an item or section: put the cursor there.
watch(
  [() => route.query.at, () => Boolean(bill.value), table],
  () => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    const columnOf: Record<string, number> = { item: 5, 'item-quantity': 3 }
    if (kind in columnOf && bill.value) void goTo(Number(id), columnOf[kind])
    if (kind === 'section') section.value = Number(id)
  },
  { immediate: true, flush: 'post' },
)

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
  tally.selected = sum ? [{ label: 'Selected', value: money(sum), unit: project.value?.currency ?? '' }] : []
}
</script>

<template>
  <Stage label="Sections">
    <template #list>
      <ListPane find="Find a section" :groups="groups" :chosen="section">
        <SectionTools v-if="bill && !readonly" v-model="section" :sections="bill.sections" />
        <AdjustmentList v-if="bill" :adjustments="bill.adjustments" :readonly="readonly" />
      </ListPane>
    </template>
    <div v-if="bill && !bill.sections.length" class="empty">
      <h2>The bill is empty</h2>
      <p>
        Measure an element and press “Into the bill”: the items it needs are made here and draw on its
        quantities. Or add a section at the left and type items.
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
      <ItemQuantity v-else-if="item" :item="item" :readonly="readonly" />
    </template>
  </Stage>
</template>
