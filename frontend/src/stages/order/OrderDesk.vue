<script setup lang="ts">
// An order: its lines in packs, when they are due, and what came.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useOrder } from '../../api/order'
import { useProject, useSave } from '../../api/project'
import DateField from '../../desk/DateField.vue'
import EntryField from '../../desk/EntryField.vue'
import JobButton from '../../desk/JobButton.vue'
import { day, money, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'

type Line = Schemas['OrderLineView']
const props = defineProps<{ order: number; readonly: boolean }>()
const router = useRouter()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: order } = useOrder(() => props.order)
const open = computed(() => !props.readonly && order.value?.ordered_on === null)
const at = computed(() => ({ params: { path: { project_id: projectId.value, order_id: props.order } } }))
const change = (body: { supplier?: string; note?: string }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/orders/{order_id}', {
        ...at.value,
        body: { version: version ?? order.value!.version, ...body },
      }),
    ),
  )
const line = (id: number) => ({ params: { path: { project_id: projectId.value, order_line: id } } })
const changeLine = (row: Line, body: Partial<Schemas['OrderLineChange']>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/order-lines/{order_line}', {
        ...line(row.id),
        body: { version: version ?? row.version, ...body } as never,
      }),
    ),
  )
const dropLine = (row: Line) =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/order-lines/{order_line}', line(row.id))))
const send = () => save(() => ask(client.POST('/api/projects/{project_id}/orders/{order_id}/send', at.value)))
async function remove() {
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/orders/{order_id}', at.value))))
    await router.push(`/projects/${projectId.value}/order`)
}
/** The line that something came of. */
const coming = ref<number | null>(null)
const number = ref('')
const came = ref('')
function begin(row: Line) {
  coming.value = row.id
  number.value = String(Number(row.packs) - Number(row.came))
  came.value = new Date().toISOString().slice(0, 10)
}
async function keep(row: Line) {
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/order-lines/{order_line}/deliveries', {
        ...line(row.id),
        body: { number: number.value, came_on: came.value },
      }),
    ),
  )
  if (done) coming.value = null
}
const takeBack = (delivery: number) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/deliveries/{delivery}', {
        params: { path: { project_id: projectId.value, delivery } },
      }),
    ),
  )
</script>

<template>
  <template v-if="order">
    <div class="desk-head head">
      <b>Order {{ order.number }}</b>
      <EntryField
        class="whose"
        :value="order.supplier"
        :disabled="!open"
        label="Of whom"
        @change="change({ supplier: $event })"
      />
      <span class="quiet">{{
        order.ordered_on
          ? `sent ${day(order.ordered_on)}`
          : order.email
            ? `letter to ${order.email}`
            : 'no address is known'
      }}</span>
      <span class="does">
        <JobButton plain kind="order_list" :asks="{ order: order.id, file: 'xlsx' }">as XLSX</JobButton>
        <JobButton plain kind="order_list" :asks="{ order: order.id, file: 'pdf' }">as PDF</JobButton>
        <NButton v-if="!readonly" text @click="remove">Take it back</NButton>
        <NButton v-if="open" type="primary" size="small" :disabled="!order.lines.length" @click="send"
          >Send it</NButton
        >
      </span>
    </div>
    <div class="scroll" tabindex="0" role="region" aria-label="Lines of the order">
      <table class="listing">
        <thead>
          <tr>
            <th>Resource</th>
            <th>Sold by</th>
            <th class="num">Number</th>
            <th class="num">Holds</th>
            <th class="num">Price</th>
            <th class="num">Cost {{ project?.currency }}</th>
            <th>Due</th>
            <th>Came</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in order.lines" :key="row.id">
            <td>
              <NButton text class="laid" @click="walk.look(`need:${row.resource}`)">{{ row.name }}</NButton>
            </td>
            <td>{{ row.sold_by }}</td>
            <td class="num">
              <EntryField
                class="number"
                number
                :value="row.number"
                :disabled="!open"
                :label="`Number of ${row.name}`"
                @change="changeLine(row, { number: $event })"
              />
            </td>
            <td class="num">{{ shown(row.holds, 2, 3) }} {{ row.unit }}</td>
            <td class="num">{{ row.price === null ? '' : money(row.price) }}</td>
            <td class="num">{{ row.cost === null ? '' : money(row.cost) }}</td>
            <td class="due">
              <DateField
                :value="row.due ?? ''"
                :disabled="readonly"
                @change="changeLine(row, { due: $event })"
              />
            </td>
            <td>
              <form v-if="coming === row.id" class="came" @submit.prevent="keep(row)">
                <NInput
                  v-model:value="number"
                  size="small"
                  class="number"
                  :input-props="{ autofocus: true, 'aria-label': `How many of ${row.name} came` }"
                />
                <DateField :value="came" @change="came = $event" />
                <NButton size="small" type="primary" attr-type="submit">Keep it</NButton>
                <NButton size="small" @click="coming = null">Leave</NButton>
              </form>
              <template v-else>
                <span v-for="each in row.deliveries" :key="each.id" class="each"
                  ><span class="num">{{ each.number }}</span> on {{ day(each.came_on, true) }}
                  <NButton
                    v-if="!readonly"
                    text
                    :aria-label="`Take back ${each.number} of ${row.name}`"
                    title="Take it back"
                    @click="takeBack(each.id)"
                    >×</NButton
                  ></span
                >
                <span v-if="row.state" :class="{ bad: row.state === 'late' }" class="quiet">{{
                  row.state
                }}</span>
                <NButton
                  v-if="!readonly && order.ordered_on && Number(row.came) < Number(row.packs)"
                  text
                  type="primary"
                  @click="begin(row)"
                  >some came</NButton
                >
              </template>
            </td>
            <td>
              <NButton
                v-if="open"
                text
                :aria-label="`Take ${row.name} out`"
                title="Take it out"
                @click="dropLine(row)"
                >×</NButton
              >
            </td>
          </tr>
          <tr class="whole">
            <td colspan="5">Together</td>
            <td class="num">{{ money(order.cost) }}</td>
            <td colspan="3"></td>
          </tr>
        </tbody>
      </table>
      <label class="note"
        ><span class="quiet">Note on the order</span>
        <EntryField
          :value="order.note"
          :disabled="readonly"
          placeholder="goes out with the letter"
          label="Note on the order"
          @change="change({ note: $event })"
        />
      </label>
    </div>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  height: auto;
  min-height: 40px;
}
.whose {
  flex: none;
  width: 200px;
}
.does {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-left: auto;
}
.scroll {
  flex: 1;
}
.number {
  width: 84px;
}
.due {
  width: 140px;
}
.came,
.each {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  margin-right: 10px;
  white-space: nowrap;
}
.whole td {
  font-weight: 600;
}
.note {
  display: grid;
  grid-template-columns: auto minmax(0, 420px);
  gap: 10px;
  align-items: center;
  padding: 12px;
}
</style>
