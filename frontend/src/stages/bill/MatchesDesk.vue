<script setup lang="ts">
// The items of a client's bill that aren't priced yet, each with what it may be priced as.
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useMatches } from '../../api/bill'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import { quantity, rateShown } from '../../desk/numbers'

const props = defineProps<{ bill: Schemas['BillOutline']; readonly: boolean }>()
const projectId = useProjectId()
const { save } = useSave()
const { data: matches, error } = useMatches(() => props.bill.id)
const chosen = ref<Record<number, number>>({})
const sure = computed(() => (matches.value ?? []).filter((m) => m.sure))
const asOf = (m: Schemas['MatchView']) => chosen.value[m.item!.id] ?? (m.sure ? m.offered[0].id : 0)
const ready = computed(() => (matches.value ?? []).filter((m) => asOf(m)))
const label = (item: Schemas['StoodView']) =>
  `${item.description}, ${quantity(item.quantity, item.unit)} ${item.unit} at ${rateShown(item.rate)}`
const options = (m: Schemas['MatchView']) => [
  { value: 0, label: 'nothing yet' },
  ...m.offered.map((item) => ({ value: item.id, label: label(item) })),
]
async function take(which: Schemas['MatchView'][]) {
  const taken = Object.fromEntries(which.map((m) => [m.item!.id, asOf(m)]))
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/bills/{bill_id}/matches', {
        params: { path: { project_id: projectId.value, bill_id: props.bill.id } },
        body: { taken },
      }),
    ),
  )
  if (done) chosen.value = {}
}
</script>

<template>
  <div class="desk-head head">
    <b>Items of {{ bill.title }} without a rate</b>
    <span v-if="matches" class="quiet"
      >{{ matches.length }}, of which {{ sure.length }} have the words and unit of an item that is
      priced</span
    >
    <NButton v-if="!readonly && ready.length" type="primary" size="small" class="all" @click="take(ready)"
      >Price {{ ready.length }} as chosen</NButton
    >
  </div>
  <p v-if="error" class="bad told" role="alert">{{ error.message }}</p>
  <div v-else-if="matches?.length" class="scroll" tabindex="0" role="region" aria-label="Items to be matched">
    <table>
      <thead>
        <tr>
          <th>Item</th>
          <th>Description</th>
          <th class="num">Quantity</th>
          <th class="as">Priced as</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in matches" :key="m.item!.id">
          <td class="num">{{ m.item!.ref }}</td>
          <td>{{ m.item!.description }}</td>
          <td class="num">{{ quantity(m.item!.quantity, m.item!.unit) }} {{ m.item!.unit }}</td>
          <td class="as">
            <ChoiceField
              v-if="m.offered.length"
              :value="asOf(m)"
              :options="options(m)"
              :disabled="readonly"
              :label="`What ${m.item!.ref} is priced as`"
              @choose="chosen[m.item!.id] = $event"
            />
            <span v-else class="quiet">nothing like it is priced yet: give it a rate in the bill</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else-if="matches" class="told quiet">Every item has a rate.</p>
</template>

<style scoped>
.head {
  display: flex;
  gap: 14px;
  align-items: center;
}
.all {
  margin-left: auto;
}
.told {
  padding: 8px 12px;
}
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
}
th {
  padding: 3px 12px;
  border-bottom: 1px solid var(--ink);
  color: var(--quiet);
  font-weight: 500;
  text-align: left;
}
td {
  padding: 3px 12px;
  border-bottom: 1px solid var(--rule);
}
.num {
  text-align: right;
}
td.num:first-child {
  text-align: left;
}
th:first-child {
  width: 60px;
}
th:nth-child(3) {
  width: 110px;
}
.as {
  width: 42%;
}
</style>
