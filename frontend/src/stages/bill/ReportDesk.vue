<script setup lang="ts">
// The bill by what one asks of it, a table for each, with the percentages that are chosen.
import { NCheckbox, NSelect } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useReport } from '../../api/bill'
import type { Schemas } from '../../api/client'
import JobButton from '../../desk/JobButton.vue'
import { money, shown } from '../../desk/numbers'

type By = Schemas['NewJob']['grouped'] extends (infer T)[] | undefined ? T : never
const props = defineProps<{ bill: Schemas['BillOutline'] }>()
const WORDS: Record<By, string> = {
  section: 'section', location: 'location', element: 'element', sheet: 'sheet', family: 'family',
  cost: 'kind of cost', resource: 'resource', stage: 'stage', stretch: 'stretch',
} // prettier-ignore
const options = Object.entries(WORDS).map(([value, label]) => ({ value, label }))
const by = ref<By[]>(['section', 'cost'])
const adjustments = ref<number[]>([])
const subcontract = ref(true)
watch(
  () => props.bill.id,
  () => (adjustments.value = props.bill.adjustments.map((a) => a.id)),
  { immediate: true },
)
const { data: view, error } = useReport(() => ({
  by: by.value.join(','),
  bill: props.bill.kind === 'own' ? null : props.bill.id,
  adjustments: adjustments.value.join(','),
  subcontract: subcontract.value,
}))
const asks = computed(() => ({
  bill: props.bill.id,
  grouped: by.value,
  adjustments: adjustments.value,
  subcontract: subcontract.value,
}))
const toggle = (id: number, now: boolean) =>
  (adjustments.value = props.bill.adjustments
    .map((a) => a.id)
    .filter((a) => (a === id ? now : adjustments.value.includes(a))))
</script>

<template>
  <div class="desk-head head">
    <span class="quiet">By</span>
    <NSelect
      v-model:value="by"
      class="by"
      multiple
      filterable
      size="small"
      :options="options"
      :input-props="{ 'aria-label': 'What the bill is reported by' }"
    />
    <NCheckbox
      v-for="a in bill.adjustments"
      :key="a.id"
      :checked="adjustments.includes(a.id)"
      @update:checked="toggle(a.id, $event)"
      >{{ a.name }} {{ shown(a.percent, 0, 2) }} %</NCheckbox
    >
    <NCheckbox v-model:checked="subcontract">subcontract</NCheckbox>
    <span class="files">
      <JobButton
        v-for="file in ['xlsx', 'pdf'] as const"
        :key="file"
        plain
        kind="bill_report"
        :asks="{ ...asks, file }"
        >as {{ file.toUpperCase() }}</JobButton
      >
    </span>
  </div>
  <p v-if="error" class="bad told" role="alert">{{ error.message }}</p>
  <p v-else-if="!by.length" class="quiet told">Choose what the bill is reported by.</p>
  <div v-else-if="view" class="scroll tables" tabindex="0" role="region" aria-label="Tables of the report">
    <table v-for="table in view.tables" :key="table.by">
      <thead>
        <tr>
          <th>By {{ WORDS[table.by as By] }}</th>
          <th class="num">Items {{ view.currency }}</th>
          <th v-for="name in view.adjustments" :key="name" class="num">{{ name }}</th>
          <th v-if="view.adjustments.length" class="num">Together {{ view.currency }}</th>
          <th class="num share">% of it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in table.rows" :key="row.name">
          <td>{{ row.name }}</td>
          <td class="num">{{ money(row.amount) }}</td>
          <td v-for="(added, n) in row.added" :key="n" class="num">{{ money(added) }}</td>
          <td v-if="view.adjustments.length" class="num">{{ money(row.total) }}</td>
          <td class="num share">
            <span class="bar" :style="{ width: `${Math.max(row.share, 0) * 60}px` }"></span
            >{{ shown(row.share * 100, 1) }}
          </td>
        </tr>
        <tr class="whole">
          <td>Whole</td>
          <td class="num">{{ money(table.amount) }}</td>
          <td v-for="(name, n) in view.adjustments" :key="name" class="num">
            {{ money(table.rows.reduce((sum, row) => sum + Number(row.added[n]), 0)) }}
          </td>
          <td v-if="view.adjustments.length" class="num">{{ money(table.total) }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  height: auto;
  min-height: 40px;
}
.by {
  width: 300px;
}
.files {
  display: flex;
  gap: 12px;
  margin-left: auto;
}
.told {
  padding: 8px 12px;
}
.tables {
  flex: 1;
  padding: 0 12px 20px;
}
table {
  width: 100%;
  margin-top: 14px;
  border-collapse: collapse;
}
th {
  padding: 3px 8px;
  border-bottom: 1px solid var(--ink);
  color: var(--quiet);
  font-weight: 500;
  text-align: left;
}
td {
  height: 26px;
  padding: 2px 8px;
  border-bottom: 1px solid var(--rule);
}
.num {
  text-align: right;
}
.share {
  width: 130px;
}
.bar {
  display: inline-block;
  height: 8px;
  margin-right: 8px;
  background: var(--main);
}
.whole td {
  border-top: 1px solid var(--ink);
  font-weight: 600;
}
</style>
