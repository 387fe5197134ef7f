<script setup lang="ts">
// Two bills beside one another: what came, what went, what differs and by how much.
import { NButton, NDataTable, type DataTableColumns } from 'naive-ui'
import { computed, h, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useBills, useCompared } from '../../api/bill'
import type { Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import JobButton from '../../desk/JobButton.vue'
import { day, money, quantity, rateShown, signed } from '../../desk/numbers'

type Pair = Schemas['PairView']
const route = useRoute()
const router = useRouter()
const { data: bills } = useBills()
const before = computed(() => Number(route.query.before) || 0)
const after = computed(() => Number(route.query.after) || 0)
const { data: view, error } = useCompared(before, after)
const choices = computed(() =>
  (bills.value ?? []).map((b) => ({
    value: b.id,
    label: b.dated ? `${b.title}, ${day(b.dated)}` : b.title,
  })),
)
const put = (name: string, bill: number) =>
  router.replace({ query: { ...route.query, [name]: String(bill) } })
const turn = () =>
  router.replace({ query: { ...route.query, before: String(after.value), after: String(before.value) } })
const only = ref<'' | 'new' | 'gone' | 'changed'>('')
const kindOf = (pair: Pair) => (!pair.before ? 'new' : !pair.after ? 'gone' : 'changed')
const pairs = computed(() => (view.value?.pairs ?? []).filter((p) => !only.value || kindOf(p) === only.value))
const counts = computed(() =>
  view.value
    ? ([
        ['new', view.value.added, 'new'],
        ['gone', view.value.removed, 'gone'],
        ['changed', view.value.changed, 'otherwise'],
      ] as const)
    : [],
)
/** A number before and after, one below the other where they differ. */
const numbers = (pair: Pair, name: 'quantity' | 'rate' | 'amount') => {
  const say = (item: Schemas['StoodView'] | null) =>
    !item || item[name] === null
      ? ''
      : name === 'quantity'
        ? `${quantity(item.quantity, item.unit)} ${item.unit}`
        : name === 'rate'
          ? rateShown(item.rate)
          : money(item.amount)
  const [was, now] = [say(pair.before), say(pair.after)]
  if (!pair.before || !pair.after || was === now) return was || now
  return [h('span', { class: 'was' }, was || 'none'), h('br'), now || 'none']
}
const what = (pair: Pair) =>
  kindOf(pair) === 'changed'
    ? pair.differs.filter((d) => d !== 'amount' || pair.differs.length === 1).join(', ')
    : kindOf(pair)
const columns: DataTableColumns<Pair> = [
  { title: 'Item', key: 'ref', width: 64, className: 'num ref', render: (p) => (p.after ?? p.before)!.ref },
  {
    title: 'Description',
    key: 'description',
    minWidth: 150,
    render: (p) => [
      p.differs.includes('words')
        ? `${p.before!.description} → ${p.after!.description}`
        : (p.after ?? p.before)!.description,
      h('span', { class: `what ${kindOf(p)}` }, what(p)),
    ],
  },
  {
    title: 'Quantity',
    key: 'quantity',
    width: 116,
    align: 'right',
    className: 'num',
    render: (p) => numbers(p, 'quantity'),
  },
  {
    title: 'Rate',
    key: 'rate',
    width: 84,
    align: 'right',
    className: 'num',
    render: (p) => numbers(p, 'rate'),
  },
  {
    title: 'Amount',
    key: 'amount',
    width: 112,
    align: 'right',
    className: 'num',
    render: (p) => numbers(p, 'amount'),
  },
  {
    title: 'Moved',
    key: 'moved',
    width: 116,
    align: 'right',
    className: 'num',
    render: (p) => (Number(p.moved) ? signed(Number(p.moved)) : ''),
  },
]
</script>

<template>
  <div class="desk-head head">
    <span class="quiet">From</span>
    <ChoiceField
      class="bill"
      :value="before || null"
      :options="choices"
      label="The bill before"
      @choose="put('before', $event)"
    />
    <NButton text title="The other way round" aria-label="The other way round" @click="turn">⇄</NButton>
    <span class="quiet">to</span>
    <ChoiceField
      class="bill"
      :value="after || null"
      :options="choices"
      label="The bill after"
      @choose="put('after', $event)"
    />
    <template v-if="view">
      <JobButton
        v-for="file in ['xlsx', 'pdf'] as const"
        :key="file"
        plain
        kind="bill_compared"
        :asks="{ before, after, file }"
        >as {{ file.toUpperCase() }}</JobButton
      >
    </template>
  </div>
  <p v-if="error" class="bad told" role="alert">{{ error.message }}</p>
  <div v-else-if="view" class="scroll" tabindex="0" role="region" aria-label="What differs">
    <p class="told">
      <template v-for="[key, count, word] in counts" :key="key">
        <NButton
          text
          :type="only === key ? 'primary' : 'default'"
          :aria-pressed="only === key"
          @click="only = only === key ? '' : key"
          ><b class="num">{{ count }}</b
          >&nbsp;{{ word }}</NButton
        >
      </template>
      <span class="quiet"
        ><b class="num">{{ view.same }}</b> the same</span
      >
      <span
        >the items move by <b class="num">{{ signed(Number(view.moved)) }}</b> {{ view.after.currency }}</span
      >
      <span v-if="view.told < view.added + view.removed + view.changed" class="quiet"
        >the first {{ view.told }} are told</span
      >
    </p>
    <NDataTable
      size="small"
      :bordered="false"
      :columns="columns"
      :data="pairs"
      :row-key="(p: Pair) => `${p.before?.id}-${p.after?.id}`"
      :row-class-name="(p: Pair) => kindOf(p)"
    />
    <table class="foot">
      <tbody>
        <tr v-for="line in view.foot" :key="line.name">
          <td>{{ line.name }}</td>
          <td class="num">{{ line.before === null ? 'none' : money(line.before) }}</td>
          <td class="num">{{ line.after === null ? 'none' : money(line.after) }}</td>
          <td class="num">{{ signed(Number(line.after ?? 0) - Number(line.before ?? 0)) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else class="told quiet">Choose two bills to see what the second has otherwise.</p>
</template>

<style scoped>
.head {
  display: flex;
  gap: 10px;
  align-items: center;
}
.bill {
  width: 260px;
}
.told {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  margin: 0;
  padding: 8px 12px;
}
.foot {
  width: 100%;
  margin: 10px 0 16px;
  border-collapse: collapse;
}
.foot td {
  padding: 3px 12px;
  border-top: 1px solid var(--rule);
  text-align: right;
}
.foot td:first-child {
  text-align: left;
}
.foot tr:last-child td {
  border-top-color: var(--ink);
  font-weight: 600;
}
:deep(.what) {
  margin-left: 8px;
  color: var(--quiet);
}
:deep(.what.new) {
  color: var(--good);
  font-weight: 600;
}
:deep(.what.gone) {
  color: var(--bad);
  font-weight: 600;
}
:deep(.was) {
  color: var(--quiet);
}
:deep(tr.gone td.num:not(.ref)) {
  color: var(--quiet);
  text-decoration: line-through;
}
</style>
