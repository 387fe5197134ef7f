<script setup lang="ts">
// Earthworks, trenches and routes summed as one job: by work, by stage, by stretch.
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useWhole } from '../../api/ground'
import ChoiceField from '../../desk/ChoiceField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import { writeBlock, type Column, type Row } from '../../desk/ledger/ledger'
import { quantity } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import PaperDialog from './PaperDialog.vue'
import type { Schemas } from '../../api/client'

type Summed = Schemas['WholeRow'] & { id: number }
const walk = useWalkStore()
const by = ref<Schemas['WholeView']['by']>('work')
const BY = [
  { value: 'work' as const, label: 'each work' },
  { value: 'stage' as const, label: 'stages' },
  { value: 'stretch' as const, label: 'stretches' },
]
const { data: whole } = useWhole(by)
const columns = computed<Column<Summed>[]>(() => [
  { key: 'name', label: 'Quantity', width: '218px', wrap: true, show: (r) => r.name },
  { key: 'unit', label: '', width: '38px', show: (r) => r.unit },
  ...(whole.value?.heads ?? []).map((head, n): Column<Summed> => ({
    key: `head ${n}`,
    label: head || (by.value === 'stage' ? 'in no stage' : 'in no stretch'),
    number: true,
    width: '84px',
    show: (r) => (r.values[n] ? quantity(r.values[n], r.unit) : ''),
  })),
  { key: 'whole', label: 'Whole', number: true, width: '84px', show: (r) => quantity(r.whole, r.unit) },
])
const rows = computed<Row<Summed>[]>(() =>
  (whole.value?.rows ?? []).map((row, n) => ({ id: n + 1, kind: 'line', data: { ...row, id: n + 1 } })),
)
/** A number of several works is walked by the first of them in the column; the whole by the first there is. */
function look(row: Row<Summed>, column: Column<Summed>) {
  if (!row.data) return
  const n = by.value === 'work' ? (whole.value?.heads.indexOf(column.label) ?? -1) : -1
  const works = (whole.value?.heads ?? []).filter((_, at) => row.data!.values[at])
  const own = n >= 0 ? works.indexOf(column.label) : 0
  walk.look(row.data.refs[Math.max(own, 0)])
}
const papers = ref(false)
const copied = ref('')
async function copy() {
  const head = columns.value.map((c) => c.label)
  const cells = rows.value.map((r) => columns.value.map((c) => c.show!(r.data!).replace(/\u00a0/g, '')))
  await navigator.clipboard.writeText(writeBlock([head, ...cells]))
  copied.value = `${cells.length} rows copied`
  setTimeout(() => (copied.value = ''), 3000)
}
</script>

<template>
  <div class="desk-head">
    <b>The whole job</b>
    <span class="quiet">earthworks, trenches and routes together, by</span>
    <ChoiceField class="by" :value="by" :options="BY" label="Summed by" @choose="by = $event" />
    <span class="push"></span>
    <span v-if="copied" class="quiet" role="status">{{ copied }}</span>
    <NButton text @click="copy">Copy the table</NButton>
    <NButton text :disabled="!whole?.rows.length" @click="papers = true">PDF, workbook or CSV…</NButton>
  </div>
  <p v-if="whole?.waiting.length" class="desk-says" role="status">
    {{ whole.waiting.join(', ') }} being worked out; what stands here is from before.
  </p>
  <LedgerTable
    v-if="whole?.rows.length"
    class="table"
    label="The whole job"
    :columns="columns"
    :rows="rows"
    readonly
    @look="look"
  />
  <p v-else-if="whole" class="quiet nothing">No earthwork, trench or route comes to anything yet.</p>
  <PaperDialog v-if="papers" title="Papers of the whole job" :by="by" @close="papers = false" />
</template>

<style scoped>
.by {
  width: 130px;
}
.table {
  flex: 1;
  min-height: 0;
}
.nothing {
  padding: 8px 14px;
}
</style>
