<script setup lang="ts">
// What the bill needs of each resource, what to buy, and how it stands; an order, line by line.
import { NButton, NCheckbox, NInputNumber } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useOrdering } from '../../api/order'
import { useProject, useSave } from '../../api/project'
import JobButton from '../../desk/JobButton.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import { day, money, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import NeedsBy from './NeedsBy.vue'
import OrderDesk from './OrderDesk.vue'

type Buy = Schemas['BuyView']
const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: view } = useOrdering()
const readonly = computed(() => project.value?.role === 'viewer')
const by = computed(() => (['section', 'stage'] as const).find((each) => each === route.query.by))
const order = computed(() => Number(route.params.order) || null)
const home = computed(() => `/projects/${projectId.value}/order`)
const FILTERS = [
  ['', 'all'],
  ['to order', 'still to order'],
  ['ordered', 'ordered'],
  ['late', 'late'],
  ['delivered', 'delivered'],
] as const
const filter = ref<(typeof FILTERS)[number][0]>('')
const KINDS = ['material', 'sundries', 'subcontract', 'plant', 'labour'] as const
const bought = (row: Buy) => row.kind !== 'labour'
const fits = (row: Buy) =>
  filter.value === ''
    ? true
    : filter.value === 'to order'
      ? bought(row) && Number(row.packs) > 0
      : filter.value === 'ordered'
        ? Number(row.ordered) > 0 && row.state !== 'delivered'
        : row.state === filter.value
const groups = computed(() =>
  KINDS.map((kind) => ({
    kind,
    rows: (view.value?.resources ?? []).filter((row) => row.kind === kind && fits(row)),
  })).filter((group) => group.rows.length),
)
const chosen = ref<Set<number>>(new Set())
const choose = (row: Buy, now: boolean) => {
  const next = new Set(chosen.value)
  if (now) next.add(row.resource)
  else next.delete(row.resource)
  chosen.value = next
}
const all = (rows: Buy[], now: boolean) => {
  const next = new Set(chosen.value)
  for (const row of rows.filter(open)) {
    if (now) next.add(row.resource)
    else next.delete(row.resource)
  }
  chosen.value = next
}
const open = (row: Buy) => bought(row) && Number(row.packs) > 0
const deliveries = ref(1)
async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/orders', {
        params: { path: { project_id: projectId.value } },
        body: { resources: [...chosen.value], deliveries: deliveries.value },
      }),
    ),
  )
  if (!saved) return
  chosen.value = new Set()
  await router.push(`${home.value}/${saved.id}`)
}
const lists = computed(() => [
  {
    key: 'needs',
    title: 'From the bill',
    entries: [
      { id: 'needs', name: 'What to buy', value: String(view.value?.resources.length ?? ''), to: home.value },
      { id: 'section', name: 'By section', to: `${home.value}?by=section` },
      { id: 'stage', name: 'By stage', to: `${home.value}?by=stage` },
    ],
  },
  {
    key: 'orders',
    title: 'Orders',
    empty: 'none yet',
    entries: (view.value?.orders ?? []).map((o) => ({
      id: o.id,
      mark: String(o.number),
      name: o.supplier,
      value: o.ordered_on ? o.state : 'not sent',
      to: `${home.value}/${o.id}`,
      warn: o.state === 'late',
    })),
  },
])
const cost = computed(() =>
  (view.value?.resources ?? [])
    .filter((row) => chosen.value.has(row.resource))
    .reduce((sum, row) => sum + Number(row.cost ?? 0), 0),
)
// Walked to a resource: its row is brought into view.
watch(
  [() => route.query.at, view],
  ([at]) => {
    const id = String(at ?? '').match(/^need:(\d+)$/)?.[1]
    if (id) setTimeout(() => document.getElementById(`need-${id}`)?.scrollIntoView({ block: 'center' }))
  },
  { immediate: true },
)
/** How much is ordered, what of it came, and when the rest is due. */
const told = (row: Buy) =>
  [
    `${shown(row.ordered, 0, 2)} ${row.unit}`,
    Number(row.delivered) ? `${shown(row.delivered, 0, 2)} came` : '',
    row.due && row.state !== 'delivered' ? `due ${day(row.due, true)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <Stage label="Orders">
    <template #list>
      <ListPane find="Find an order" :groups="lists" :chosen="order ?? by ?? 'needs'" />
    </template>
    <OrderDesk v-if="order" :key="order" :order="order" :readonly="readonly" />
    <NeedsBy v-else-if="by" :key="by" :by="by" />
    <template v-else-if="view">
      <div class="desk-head head">
        <NButton
          v-for="[key, words] in FILTERS"
          :key="key"
          text
          :type="filter === key ? 'primary' : 'default'"
          :aria-pressed="filter === key"
          @click="filter = key"
          >{{ words }}</NButton
        >
        <span class="files">
          <JobButton plain kind="to_buy" :asks="{ file: 'xlsx' }">as XLSX</JobButton>
          <JobButton plain kind="to_buy" :asks="{ file: 'pdf' }">as PDF</JobButton>
        </span>
      </div>
      <div v-if="!view.resources.length" class="empty">
        <h2>The bill takes nothing yet</h2>
        <p>Give its items rates: what those take of labour, plant and material stands here then.</p>
      </div>
      <div v-else class="scroll" tabindex="0" role="region" aria-label="What to buy">
        <table class="listing">
          <thead>
            <tr>
              <th></th>
              <th>Resource</th>
              <th class="num">With waste</th>
              <th>Sold by</th>
              <th class="num">To order</th>
              <th class="num">Cost {{ project?.currency }}</th>
              <th>Stands</th>
            </tr>
          </thead>
          <tbody v-for="group in groups" :key="group.kind">
            <tr class="group">
              <td>
                <NCheckbox
                  v-if="!readonly && group.rows.some(open)"
                  size="small"
                  :checked="group.rows.filter(open).every((row) => chosen.has(row.resource))"
                  :aria-label="`Choose all of ${group.kind}`"
                  @update:checked="all(group.rows, $event)"
                />
              </td>
              <td colspan="6">{{ group.kind }}</td>
            </tr>
            <tr
              v-for="row in group.rows"
              :id="`need-${row.resource}`"
              :key="row.resource"
              :class="{ quiet: row.state !== 'to order' && row.state !== 'outgrown' && row.state !== 'late' }"
            >
              <td>
                <NCheckbox
                  v-if="!readonly && open(row)"
                  size="small"
                  :checked="chosen.has(row.resource)"
                  :aria-label="`Choose ${row.name}`"
                  @update:checked="choose(row, $event)"
                />
              </td>
              <td class="name">
                <NButton text class="laid" @click="walk.look(`need:${row.resource}`)">{{ row.name }}</NButton>
              </td>
              <td class="num">
                {{ shown(row.gross, 2) }} {{ row.unit
                }}<span v-if="row.net !== row.gross" class="of">net {{ shown(row.net, 2) }}</span>
              </td>
              <td>
                {{ row.sold_by }}<span v-if="row.supplier" class="of">{{ row.supplier }}</span>
              </td>
              <td class="num">{{ bought(row) && Number(row.packs) ? shown(row.packs, 0, 2) : '' }}</td>
              <td class="num">
                {{ bought(row) && row.cost !== null && Number(row.packs) ? money(row.cost) : '' }}
              </td>
              <td :title="row.says" :class="{ bad: row.state === 'late' || row.state === 'outgrown' }">
                {{
                  Number(row.being_ordered)
                    ? 'being ordered'
                    : bought(row) || row.ordered > '0'
                      ? row.state
                      : ''
                }}<span v-if="Number(row.ordered)" class="of">{{ told(row) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="strip">
        <span
          >Labour <b class="num">{{ shown(view.labour_hours, 1) }}</b> h, plant
          <b class="num">{{ shown(view.plant_hours, 1) }}</b> h</span
        >
        <span class="quiet" title="Percentages, typed rates and sums, and what is added to costs"
          >in no resource <span class="num">{{ money(view.unexplained) }}</span> {{ project?.currency }}</span
        >
        <form v-if="chosen.size" class="make" @submit.prevent="make">
          <span
            >{{ chosen.size }} chosen, <b class="num">{{ money(cost) }}</b> {{ project?.currency }}, in</span
          >
          <NInputNumber
            v-model:value="deliveries"
            size="small"
            :min="1"
            :max="200"
            class="times"
            :input-props="{ 'aria-label': 'Deliveries' }"
          />
          <span>{{ deliveries === 1 ? 'delivery' : 'deliveries' }}</span>
          <NButton type="primary" size="small" attr-type="submit">Order them</NButton>
        </form>
      </div>
    </template>
  </Stage>
</template>

<style scoped>
.head {
  display: flex;
  gap: 16px;
  align-items: center;
}
.files {
  display: flex;
  gap: 12px;
  margin-left: auto;
}
.scroll {
  flex: 1;
}
th:first-child,
td:first-child {
  width: 26px;
  padding-right: 0;
}
.name {
  min-width: 150px;
}
.of {
  display: block;
  color: var(--quiet);
  font-size: 12px;
}
.strip,
.make {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
}
.strip {
  min-height: 38px;
  padding: 4px 12px;
  border-top: 1px solid var(--ink);
}
.make {
  margin-left: auto;
  gap: 8px;
}
.times {
  width: 84px;
}
</style>
