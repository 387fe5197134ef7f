<script setup lang="ts">
// Lines moved or copied to another element; or an element copied to a location.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useLocations, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import ElementPick from '../../desk/ElementPick.vue'

const props = defineProps<{ element: Schemas['ElementView']; lines: number[]; what: 'lines' | 'element' }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { save, projectId } = useSave()
const { data: locations } = useLocations()
const to = ref<number | null>(null)
const copies = ref(false)
const location = ref(props.element.location)
const mark = ref('')
const figures = ref(false)
const places = computed(() => (locations.value ?? []).map((l) => ({ value: l.id, label: l.name })))
const number = computed(() => `${props.lines.length} line${props.lines.length === 1 ? '' : 's'}`)

async function moveLines() {
  if (to.value === null) return
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/lines/move', {
        params: { path: { project_id: projectId.value } },
        body: { lines: props.lines, element: to.value!, copy_them: copies.value },
      }),
    ),
  )
  if (done) emit('close')
}
async function copyElement() {
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/copy', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { location: location.value, mark: mark.value, figures: figures.value },
      }),
    ),
  )
  if (!done) return
  emit('close')
  await router.push(`/projects/${projectId.value}/measure/${done.id}`)
}
</script>

<template>
  <Dialog
    :title="what === 'lines' ? `${number} of ${element.mark}` : `An element like ${element.mark}`"
    @close="emit('close')"
  >
    <form v-if="what === 'lines'" class="form" @submit.prevent="moveLines">
      <div class="field">
        <span>To</span>
        <ElementPick :value="to" label="To" :without="element.id" autofocus @choose="to = $event" />
      </div>
      <NCheckbox v-model:checked="copies">copy them, and leave these where they are</NCheckbox>
      <NButton type="primary" attr-type="submit">{{ copies ? 'Copy' : 'Move' }} {{ number }}</NButton>
    </form>
    <form v-else class="form" @submit.prevent="copyElement">
      <div class="field">
        <span>Location</span>
        <ChoiceField :value="location" :options="places" label="Location" @choose="location = $event" />
      </div>
      <label class="field"
        ><span>Mark, when it isn't {{ element.mark }} there too</span
        ><NInput v-model:value="mark" placeholder=""
      /></label>
      <NCheckbox v-model:checked="figures">copy its figures on the sheet as well</NCheckbox>
      <NButton type="primary" attr-type="submit">Copy {{ element.mark }}</NButton>
    </form>
  </Dialog>
</template>
