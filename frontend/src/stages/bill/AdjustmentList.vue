<script setup lang="ts">
// The adjustments at the foot of the bill, in their order, each on a named base.
import { NAutoComplete, NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'

type Adjustment = Schemas['AdjustmentView']
const props = defineProps<{ adjustments: Adjustment[]; bill: number | null; readonly: boolean }>()
const { save, projectId } = useSave()
const name = ref('')
const usual = ['Overheads', 'Profit', 'Risk', 'Discount', 'Contingency', 'Tax']
const offered = computed(() =>
  usual.filter(
    (each) =>
      each.toLowerCase().startsWith(name.value.toLowerCase()) &&
      !props.adjustments.some((a) => a.name === each),
  ),
)

const path = (a: Adjustment) => ({ params: { path: { project_id: projectId.value, adjustment: a.id } } })
const change = (a: Adjustment, body: { name?: string; percent?: string; base?: string }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/adjustments/{adjustment}', {
        ...path(a),
        body: { version: version ?? a.version, ...body },
      }),
    ),
  )
const move = (a: Adjustment, by: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/adjustments/{adjustment}/move', { ...path(a), body: { by } }),
    ),
  )
const remove = (a: Adjustment) =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/adjustments/{adjustment}', path(a))))
async function add() {
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/adjustments', {
        params: { path: { project_id: projectId.value } },
        body: { name: name.value, percent: '0', base: 'running', bill: props.bill },
      }),
    ),
  )
  if (done) name.value = ''
}
const addUsual = (usual: string | number) => {
  name.value = String(usual)
  return add()
}
const basesFor = (a: Adjustment) => [
  { value: 'items', label: 'of the items' },
  { value: 'work', label: 'of the items without sums' },
  { value: 'running', label: 'of the total so far' },
  ...props.adjustments.slice(0, props.adjustments.indexOf(a)).map((before) => ({
    value: `after:${before.name}`,
    label: `of the total after ${before.name.toLowerCase()}`,
  })),
]
</script>

<template>
  <div class="foot">
    <h3>At the foot</h3>
    <div v-for="(a, at) in adjustments" :key="a.id" class="adjustment">
      <EntryField
        class="name"
        :value="a.name"
        :disabled="readonly"
        :label="`Name of ${a.name}`"
        @change="change(a, { name: $event })"
      />
      <EntryField
        number
        :value="Number(a.percent)"
        :disabled="readonly"
        :label="`${a.name} percent`"
        @change="change(a, { percent: $event })"
      />
      <span class="quiet">%</span>
      <ChoiceField
        :value="a.base"
        :disabled="readonly"
        :options="basesFor(a)"
        :label="`${a.name} is taken on`"
        @choose="change(a, { base: $event })"
      />
      <span v-if="!readonly" class="order">
        <NButton text :disabled="!at" :aria-label="`${a.name} earlier`" @click="move(a, -1)"> ↑ </NButton>
        <NButton
          text
          :disabled="at === adjustments.length - 1"
          :aria-label="`${a.name} later`"
          @click="move(a, 1)"
        >
          ↓
        </NButton>
        <NButton text :aria-label="`Take ${a.name} off`" @click="remove(a)">×</NButton>
      </span>
    </div>
    <form v-if="!readonly" @submit.prevent="add">
      <NAutoComplete
        v-model:value="name"
        size="small"
        :options="offered"
        placeholder="Another adjustment"
        :get-show="() => true"
        blur-after-select
        :input-props="{ 'aria-label': 'Name of a new adjustment' }"
        @select="addUsual"
      />
      <NButton text type="primary" :disabled="!name.trim()" attr-type="submit">Add</NButton>
    </form>
  </div>
</template>

<style scoped>
.foot {
  margin-top: 12px;
  padding: 0 12px;
}
h3 {
  padding-bottom: 4px;
  color: var(--quiet);
}
.adjustment {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 64px 12px;
  align-items: center;
  gap: 2px 6px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.order {
  display: flex;
  justify-content: space-between;
  grid-column: 2 / 4;
  padding: 0 4px;
}
.order button:disabled {
  opacity: 0.3;
}
form {
  display: flex;
  gap: 8px;
  padding: 8px 0;
}
</style>
