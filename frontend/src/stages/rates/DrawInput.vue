<script setup lang="ts">
// What an input of an allowance draws from the project: a resource over items of the bill, or a quantity line.
import { NButton, NSelect, NTabPane, NTabs } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useNeeding, useResources, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import { shown } from '../../desk/numbers'
import QuantityPick from '../../desk/QuantityPick.vue'

const props = defineProps<{ element: Schemas['ElementView']; input: Schemas['InputView'] }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const { data: resources } = useResources()
const kept = props.input.drawn
const way = ref<'resource' | 'quantity'>(kept[0]?.element ? 'quantity' : 'resource')
const resource = ref<number | null>(kept[0]?.resource ?? null)
const { data: items } = useNeeding(resource)
const over = ref<number[]>(kept.flatMap((each) => each.item ?? []))
const taken = ref<{ element: number; output: string }[]>(
  kept.flatMap((each) => (each.element ? { element: each.element, output: each.output } : [])),
)
const fitting = computed(() =>
  (resources.value ?? [])
    .filter((each) => each.unit === props.input.unit)
    .map((each) => ({ value: each.id, label: `${each.name}, ${each.kind}` })),
)
const billed = computed(() =>
  (items.value ?? []).map((each) => ({
    value: each.id,
    label: `${each.ref} ${each.description}: ${shown(each.needs, 2, 2)} ${props.input.unit}`,
  })),
)
async function draw(draws: Schemas['InputDrawn'][]) {
  const done = await save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/allowances/{element}/draws', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, input: props.input.key, draws },
      }),
    ),
  )
  if (done) emit('close')
}
const chosen = computed<Schemas['InputDrawn'][]>(() =>
  way.value === 'quantity'
    ? taken.value
    : resource.value === null
      ? []
      : over.value.map((item) => ({ resource: resource.value, item })),
)
const before = taken.value.length
const add = (element: number, output: string) => (taken.value = [...taken.value, { element, output }])
</script>

<template>
  <Dialog :title="`${input.label}, drawn from the project`" wide @close="emit('close')">
    <form class="form" @submit.prevent="draw(chosen)">
      <NTabs v-model:value="way" type="line" size="small" :animated="false">
        <NTabPane name="resource" :tab="`${input.unit || 'Number'} of a resource over items`">
          <div class="field">
            <span>Resource, in {{ input.unit || 'numbers' }}</span>
            <ChoiceField
              :value="resource"
              :options="fitting"
              label="Resource"
              placeholder="choose a resource"
              @choose="((resource = $event), (over = []))"
            />
          </div>
          <div class="field">
            <span
              >Over these items, which need it
              <NButton v-if="billed.length > 1" text type="primary" @click="over = billed.map((b) => b.value)"
                >all {{ billed.length }}</NButton
              ></span
            >
            <NSelect
              v-model:value="over"
              :options="billed"
              :input-props="{ 'aria-label': 'Items' }"
              placeholder="choose items; type to find one"
              multiple
              filterable
              clearable
              size="small"
            />
          </div>
          <p class="quiet">
            Each item’s quantity times what one unit of its rate takes of the resource, also through rates
            within.<template v-if="resource && items && !items.length">
              No item of the bill is priced by a rate that takes it.</template
            >
          </p>
        </NTabPane>
        <NTabPane name="quantity" tab="A quantity line">
          <p v-for="(each, at) in taken" :key="at" class="taken">
            {{
              kept.find((k) => k.element === each.element && k.output === each.output)?.name ?? each.output
            }}
            <NButton text aria-label="Not this one" @click="taken = taken.filter((_, n) => n !== at)"
              >×</NButton
            >
          </p>
          <QuantityPick
            :key="taken.length"
            :autofocus="taken.length > before"
            :units="[input.unit]"
            :without="element.id"
            @choose="add"
          />
        </NTabPane>
      </NTabs>
      <p class="buttons">
        <NButton type="primary" attr-type="submit" :disabled="!chosen.length">Draw it</NButton>
        <NButton v-if="kept.length" @click="draw([])">Type it instead</NButton>
      </p>
    </form>
  </Dialog>
</template>

<style scoped>
.form {
  grid-template-columns: minmax(0, 1fr);
}
.field {
  margin-bottom: 10px;
}
.taken,
.buttons {
  display: flex;
  gap: 8px;
  margin: 4px 0;
}
</style>
