<script setup lang="ts">
// A new earthwork, or a new network of trenches: its mark, where it stands in the job, the surface that is the ground.
import { NButton, NForm, NFormItem, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { ask, client } from '../../api/client'
import { useGround } from '../../api/ground'
import { useLocations, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

const props = defineProps<{ kind: 'earthwork' | 'trench' }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const trench = computed(() => props.kind === 'trench')
const { save, projectId } = useSave()
const { data: ground } = useGround()
const { data: locations } = useLocations()
const mark = ref('')
const description = ref('')
const location = ref<number | null>(null)
const surface = ref<number | null>(null)
const place = ref('')
watch(
  [ground, locations],
  () => {
    location.value ??= locations.value?.at(-1)?.id ?? null
    surface.value ??= ground.value?.surfaces[0]?.id ?? null
    if (mark.value || !ground.value) return
    const { earthworks, networks } = ground.value
    mark.value = trench.value ? `T${networks.length + 1}` : `E${earthworks.length + 1}`
  },
  { immediate: true },
)
const path = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const surfaces = computed(() => (ground.value?.surfaces ?? []).map((s) => ({ value: s.id, label: s.name })))
async function make() {
  let where = location.value
  if (where === null) {
    const made = await save(() =>
      ask(
        client.POST('/api/projects/{project_id}/locations', {
          ...path.value,
          body: { name: place.value || 'Site' },
        }),
      ),
    )
    where = made?.id ?? null
  }
  if (where === null) return
  const body = { mark: mark.value, description: description.value, location: where, ground: surface.value }
  const saved = await save(() =>
    trench.value
      ? ask(client.POST('/api/projects/{project_id}/networks', { ...path.value, body }))
      : ask(client.POST('/api/projects/{project_id}/earthworks', { ...path.value, body })),
  )
  if (saved) emit('done', saved.id ?? null)
}
</script>

<template>
  <Dialog :title="trench ? 'New trenches' : 'A new earthwork'" @close="emit('done', null)">
    <NForm size="small" label-placement="left" label-width="96" @submit.prevent="make">
      <NFormItem label="Mark" :show-feedback="false"
        ><NInput v-model:value="mark" autofocus :input-props="{ 'aria-label': 'Mark' }"
      /></NFormItem>
      <NFormItem label="Description" :show-feedback="false">
        <NInput
          v-model:value="description"
          :placeholder="trench ? 'Rising main, storm sewer' : 'Platform, valve chamber pit'"
          :input-props="{ 'aria-label': 'Description' }"
        />
      </NFormItem>
      <NFormItem label="Location" :show-feedback="false">
        <ChoiceField
          v-if="locations?.length"
          class="wide"
          :value="location"
          :options="locations.map((l) => ({ value: l.id, label: l.name }))"
          label="Location"
          @choose="location = $event"
        />
        <NInput v-else v-model:value="place" placeholder="Site" :input-props="{ 'aria-label': 'Location' }" />
      </NFormItem>
      <NFormItem label="Ground" :show-feedback="false">
        <ChoiceField
          class="wide"
          :value="surface"
          :options="surfaces"
          label="Surface that is the ground"
          :placeholder="trench ? 'none: levels are typed' : 'choose later'"
          @choose="surface = $event"
        />
      </NFormItem>
      <p>
        <NButton type="primary" attr-type="submit">{{
          trench ? 'Add the trenches' : 'Add the earthwork'
        }}</NButton>
      </p>
    </NForm>
  </Dialog>
</template>

<style scoped>
.wide {
  flex: 1;
}
</style>
