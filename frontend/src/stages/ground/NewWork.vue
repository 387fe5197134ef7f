<script setup lang="ts">
// A new earthwork, network of trenches or route: its mark, where it stands in the job, the surface that is the ground.
import { NButton, NForm, NFormItem, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { ask, client } from '../../api/client'
import { useGround } from '../../api/ground'
import { useLocations, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

const props = defineProps<{ kind: 'earthwork' | 'trench' | 'route' }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const WORDS = {
  earthwork: { title: 'A new earthwork', does: 'Add the earthwork', such: 'Platform, valve chamber pit', none: 'choose later' },
  trench: { title: 'New trenches', does: 'Add the trenches', such: 'Rising main, storm sewer', none: 'none: levels are typed' },
  route: { title: 'A new route', does: 'Add the route', such: 'Access road, embankment', none: 'choose later' },
} // prettier-ignore
const words = computed(() => WORDS[props.kind])
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
    const { earthworks, networks, routes } = ground.value
    const there = { earthwork: earthworks, trench: networks, route: routes }[props.kind]
    mark.value = `${{ earthwork: 'E', trench: 'T', route: 'R' }[props.kind]}${there.length + 1}`
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
  const given = { ...path.value, body }
  const send = {
    earthwork: () => client.POST('/api/projects/{project_id}/earthworks', given),
    trench: () => client.POST('/api/projects/{project_id}/networks', given),
    route: () => client.POST('/api/projects/{project_id}/routes', given),
  }[props.kind]
  const saved = await save(() => ask(send()))
  if (saved) emit('done', saved.id ?? null)
}
</script>

<template>
  <Dialog :title="words.title" @close="emit('done', null)">
    <NForm size="small" label-placement="left" label-width="96" @submit.prevent="make">
      <NFormItem label="Mark" :show-feedback="false"
        ><NInput v-model:value="mark" autofocus :input-props="{ 'aria-label': 'Mark' }"
      /></NFormItem>
      <NFormItem label="Description" :show-feedback="false">
        <NInput
          v-model:value="description"
          :placeholder="words.such"
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
          :placeholder="words.none"
          @choose="surface = $event"
        />
      </NFormItem>
      <p>
        <NButton type="primary" attr-type="submit">{{ words.does }}</NButton>
      </p>
    </NForm>
  </Dialog>
</template>

<style scoped>
.wide {
  flex: 1;
}
</style>
