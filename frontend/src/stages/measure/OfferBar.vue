<script setup lang="ts">
// What was found and is offered to be entered, such as junctions of drawn runs: taken or left, never by
// itself.
import { NButton } from 'naive-ui'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'

const props = defineProps<{ element: Schemas['ElementView']; offer: Schemas['OfferView'] }>()
const emit = defineEmits<{ done: [] }>()
const { save, projectId } = useSave()

async function enter(inputs: Record<string, string>) {
  const done = await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, inputs },
      }),
    ),
  )
  if (done) emit('done')
}
</script>

<template>
  <p class="desk-bar" role="status">
    <span>{{ offer.says }}</span>
    <NButton size="small" type="primary" @click="enter(offer.take)">Take off as drawn</NButton>
    <NButton text @click="enter(offer.leave)">Leave as it is</NButton>
  </p>
</template>
