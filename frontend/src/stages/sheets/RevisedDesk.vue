<script setup lang="ts">
// What a revision did to the bill, item by item.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import { useRevised } from '../../api/revisions'
import JobButton from '../../desk/JobButton.vue'
import { day, money, quantity, rateShown, signed } from '../../desk/numbers'
import Stage from '../../desk/Stage.vue'

type Item = Schemas['RevisedItem']
const route = useRoute()
const projectId = useProjectId()
const revision = computed(() => Number(route.params.revision))
const { data: revised, error } = useRevised(revision)
const here = computed(() => revised.value?.items.filter((each) => each.measured_here) ?? [])
const elsewhere = computed(() => revised.value?.items.filter((each) => !each.measured_here) ?? [])
const groups = computed(() =>
  [
    { title: `Measured on ${revised.value?.number}`, items: here.value },
    { title: 'Moved otherwise since', items: elsewhere.value },
  ].filter((group) => group.items.length),
)
const amount = (value: string | null, unit: string) => (value === null ? '–' : quantity(value, unit))
const step = (each: Item) => Number(each.quantity_after ?? 0) - Number(each.quantity_before ?? 0)
const stepShown = (each: Item) => {
  const by = step(each)
  return by ? `${by > 0 ? '+' : ''}${quantity(by, each.unit)}` : ''
}
const figures = (number: number) => `${number} ${number === 1 ? 'figure' : 'figures'}`
const total = computed(() => (revised.value ? Number(revised.value.after) - Number(revised.value.before) : 0))
</script>

<template>
  <Stage label="Revision" keeps>
    <template #list>
      <dl v-if="revised" class="sums">
        <dt>Drawing</dt>
        <dd>{{ revised.number }}, revision {{ revised.letter }} after {{ revised.former }}</dd>
        <dt>Came</dt>
        <dd>{{ day(revised.received) }}</dd>
        <dt>Bill before</dt>
        <dd class="num">{{ money(revised.before) }} {{ revised.currency }}</dd>
        <dt>Bill {{ revised.near ? 'so far' : 'now' }}</dt>
        <dd class="num">{{ money(revised.after) }} {{ revised.currency }}</dd>
        <dt>Difference</dt>
        <dd class="num">
          <b>{{ signed(total) }} {{ revised.currency }}</b>
        </dd>
        <dt>Items measured on it, by quantity</dt>
        <dd class="num">{{ signed(Number(revised.here)) }}</dd>
        <dt>Items, all else that moved</dt>
        <dd class="num">{{ signed(Number(revised.elsewhere)) }}</dd>
        <dt>Percentages at the foot</dt>
        <dd class="num">{{ signed(total - Number(revised.here) - Number(revised.elsewhere)) }}</dd>
        <template v-if="revised.near">
          <dt class="bad">Not settled</dt>
          <dd class="bad">{{ figures(revised.near) }} near a change to be looked at</dd>
        </template>
      </dl>
    </template>
    <div class="desk-head">
      <b v-if="revised">What revision {{ revised.letter }} of {{ revised.number }} did to the bill</b>
      <span class="push"></span>
      <template v-if="revised">
        <JobButton kind="revision_report" :asks="{ revision, file: 'xlsx' }" plain>XLSX</JobButton>
        <JobButton kind="revision_report" :asks="{ revision, file: 'pdf' }" plain>PDF</JobButton>
      </template>
    </div>
    <p v-if="error" class="empty">{{ (error as Error).message }}</p>
    <div v-else-if="revised && !revised.items.length" class="empty">
      <h2>Nothing moved yet</h2>
      <p>
        What is measured went over to the new revision as it was. Put right what changed: the items that move
        by it are listed here.
      </p>
    </div>
    <div v-else-if="revised" class="scroll" tabindex="0" role="region" aria-label="Items that moved">
      <table class="listing">
        <thead>
          <tr>
            <th>Item</th>
            <th>Description</th>
            <th class="num">Before</th>
            <th class="num">After</th>
            <th>Unit</th>
            <th class="num">By</th>
            <th class="num">Rate</th>
            <th class="num">By quantity</th>
            <th class="num">Otherwise</th>
          </tr>
        </thead>
        <tbody v-for="group in groups" :key="group.title">
          <tr class="group">
            <td colspan="9">{{ group.title }}</td>
          </tr>
          <tr v-for="each in group.items" :key="`${each.ref} ${each.description}`">
            <td class="ref">
              <RouterLink
                v-if="each.id !== null"
                :to="{ path: `/projects/${projectId}/bill`, query: { at: `item:${each.id}` } }"
                >{{ each.ref }}</RouterLink
              >
              <template v-else>{{ each.ref }}</template>
            </td>
            <td class="words" :title="`${each.section}: ${each.description}`">
              {{ each.description }}
              <span v-if="each.waits" class="bad">{{ each.waits }} to look at</span>
            </td>
            <td class="num">{{ amount(each.quantity_before, each.unit) }}</td>
            <td class="num">{{ amount(each.quantity_after, each.unit) }}</td>
            <td>{{ each.unit }}</td>
            <td class="num">{{ stepShown(each) }}</td>
            <td class="num">{{ rateShown(each.rate) }}</td>
            <td class="num">{{ Number(each.by_quantity) ? signed(Number(each.by_quantity)) : '' }}</td>
            <td class="num">{{ Number(each.otherwise) ? signed(Number(each.otherwise)) : '' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="revised.more" class="quiet more">{{ revised.more }} more items moved by less.</p>
    </div>
  </Stage>
</template>

<style scoped>
.sums {
  display: grid;
  gap: 2px;
  margin: 0;
  padding: 10px 12px;
  overflow-y: auto;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0 0 7px;
}
.ref {
  white-space: nowrap;
}
.words {
  min-width: 96px;
}
.listing th,
.listing td {
  padding: 2px 5px;
}
.more {
  padding: 6px 8px;
}
</style>
