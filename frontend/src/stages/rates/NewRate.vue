<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive } from 'vue'
import { ask, client } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import { unitHere } from '../../desk/ways'

const props = defineProps<{ kind: 'rate' | 'gang' | 'reference' | 'banded' }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()
const { save, projectId } = useSave()
const { data: project } = useProject()
const fresh = reactive({
  name: '',
  unit: unitHere('m³'),
  heading: { rate: '', gang: 'Gangs', reference: 'References', banded: '' }[props.kind],
})

async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups', {
        params: { path: { project_id: projectId.value } },
        body: { ...fresh, kind: props.kind },
      }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
</script>

<template>
  <Dialog :title="kind === 'banded' ? 'New banded rate' : `New ${kind}`" @close="emit('close')">
    <form class="form" @submit.prevent="make">
      <label class="field"
        ><span>Name</span
        ><NInput v-model:value="fresh.name" placeholder="" :input-props="{ required: true, autofocus: true }"
      /></label>
      <p v-if="kind === 'gang'" class="quiet">
        Who and what works together for one hour: add 2 masons and 1 labourer, say. A rate draws on it by its
        output.
      </p>
      <p v-if="kind === 'reference'" class="quiet">
        Known costs by size, from a price book or a finished job. A rate draws on it and says at which size.
      </p>
      <p v-if="kind === 'banded'" class="quiet">
        One rate with a cost for each band of a height, a depth, a thickness or a floor. An item of the bill
        says its own, which picks the band.
      </p>
      <div v-if="kind !== 'gang'" class="field">
        <span>Per</span>
        <ChoiceField
          :value="fresh.unit"
          :options="asOptions(project?.units ?? [])"
          label="Per"
          @choose="fresh.unit = $event"
        />
      </div>
      <label class="field"
        ><span>Heading in the list</span><NInput v-model:value="fresh.heading" placeholder="Substructure"
      /></label>
      <NButton type="primary" attr-type="submit">Make it</NButton>
    </form>
  </Dialog>
</template>
