<script setup lang="ts">
// What the item in focus draws on, and letting it draw on more.
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useLinks, useSave } from '../../api/project'
import { quantity } from '../../desk/numbers'
import QuantityPick from '../../desk/QuantityPick.vue'
import { useWalkStore } from '../../desk/walk'

const props = defineProps<{ item: Schemas['ItemView']; readonly: boolean }>()
const { save, projectId } = useSave()
const walk = useWalkStore()
const { data: links } = useLinks(() => props.item.id)
/** By how much what is typed is more than what is measured. */
const apart = computed(() => {
  const more = Number(props.item.quantity) - Number(props.item.measured ?? 0)
  return more ? `${more > 0 ? '+' : '−'}${quantity(Math.abs(more), props.item.unit)}` : 'the same'
})
/** The item that was let draw on something here: what it draws on next is asked for at once. */
const linked = ref(0)
function link(element: number, output: string) {
  linked.value = props.item.id
  return save(() =>
    ask(
      client.POST('/api/projects/{project_id}/items/{item}/links', {
        params: { path: { project_id: projectId.value, item: props.item.id } },
        body: { element, output },
      }),
    ),
  )
}
const unlink = (id: number) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/links/{link}', {
        params: { path: { project_id: projectId.value, link: id } },
      }),
    ),
  )
function go(each: Schemas['LinkView']) {
  void walk.go(projectId.value, {
    ref: `quantity:${each.element}:${each.output}`,
    name: each.name,
    value: '',
    unit: '',
    stage: 'measure',
    target: each.element,
  })
}
</script>

<template>
  <div class="draws">
    <b>{{ item.ref }} draws on</b>
    <span v-if="!links?.length" class="quiet">{{
      item.typed_quantity
        ? `a typed quantity: ${item.typed_reason}`
        : item.kind === 'time'
          ? 'how long the work lasts'
          : 'nothing yet'
    }}</span>
    <span v-else-if="item.measured !== null" class="both"
      >typed <b class="num">{{ quantity(item.quantity, item.unit) }}</b> {{ item.unit }},
      {{ item.typed_reason }}; measured <b class="num">{{ quantity(item.measured, item.unit) }}</b>
      {{ item.unit }}, <b class="num">{{ apart }}</b></span
    >
    <span v-for="each in links" :key="each.id" class="each">
      <NButton text type="primary" @click="go(each)">{{ each.name }}</NButton>
      <span class="num"
        >{{ quantity(each.net, each.unit) }} {{ each.unit
        }}{{ each.factor === '1' ? '' : ` × ${each.factor}` }}</span
      >
      <NButton
        v-if="!readonly"
        text
        :aria-label="`No longer draw on ${each.name}`"
        title="No longer draw on it"
        @click="unlink(each.id)"
      >
        ×
      </NButton>
    </span>
    <QuantityPick
      v-if="!readonly && !item.typed_quantity"
      :key="`${item.id} ${links?.length}`"
      :autofocus="linked === item.id"
      label="Draw on an element"
      placeholder="+ an element…"
      @choose="link"
    />
  </div>
</template>

<style scoped>
.draws {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
  min-height: 36px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
.each {
  display: flex;
  gap: 6px;
  white-space: nowrap;
}
</style>
