<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import { unitHere } from '../../desk/ways'

type Kind = Schemas['NewResource']['kind']
defineProps<{ kinds: Kind[] }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()
const { save, projectId } = useSave()
const { data: project } = useProject()
const fresh = reactive<Schemas['NewResource']>({ name: '', kind: 'material', unit: unitHere('m³') })

/** Labour and plant are by the hour until someone says otherwise. */
function be(kind: Kind) {
  const before = usual(fresh.kind)
  fresh.kind = kind
  if (fresh.unit === before) fresh.unit = usual(kind)
}
const usual = (kind: Kind) => (kind === 'labour' || kind === 'plant' ? 'h' : unitHere('m³'))

async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/resources', {
        params: { path: { project_id: projectId.value } },
        body: { ...fresh },
      }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
</script>

<template>
  <Dialog title="New resource" @close="emit('close')">
    <form class="form" @submit.prevent="make">
      <label class="field"
        ><span>Name</span
        ><NInput v-model:value="fresh.name" placeholder="" :input-props="{ required: true, autofocus: true }"
      /></label>
      <div class="field">
        <span>Kind</span>
        <ChoiceField :value="fresh.kind" :options="asOptions(kinds)" label="Kind" @choose="be" />
      </div>
      <div class="field">
        <span>Unit it is used in</span>
        <ChoiceField
          :value="fresh.unit"
          :options="asOptions(project?.units ?? [])"
          label="Unit it is used in"
          @choose="fresh.unit = $event"
        />
      </div>
      <NButton type="primary" attr-type="submit">Make it</NButton>
    </form>
  </Dialog>
</template>
