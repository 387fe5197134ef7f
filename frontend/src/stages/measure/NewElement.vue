<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { ask, client } from '../../api/client'
import { recipesOf, useLocations, useMakeUps, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

const props = defineProps<{ location: number | null }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()
const { save, projectId } = useSave()
const { data: locations } = useLocations()
const { data: makeups } = useMakeUps()
const fresh = reactive({
  mark: '',
  description: '',
  makeup: 'pad-footing',
  location: props.location,
  newLocation: '',
})
// The first place there is, once it is known which there are.
watch(locations, (known) => known && (fresh.location ??= known[0]?.id ?? 0), { immediate: true })
const busy = ref(false)
const places = computed(() => [
  ...(locations.value ?? []).map((l) => ({ value: l.id, label: l.name })),
  { value: 0, label: 'a new location…' },
])
const recipes = computed(() => recipesOf(makeups.value))
const about = computed(() => makeups.value?.find((m) => m.key === fresh.makeup)?.about)

async function make() {
  busy.value = true
  const params = { params: { path: { project_id: projectId.value } } }
  let location = fresh.location
  if (!location) {
    const added = await save(() =>
      ask(
        client.POST('/api/projects/{project_id}/locations', { ...params, body: { name: fresh.newLocation } }),
      ),
    )
    location = fresh.location = added?.id ?? 0
  }
  const { mark, makeup, description } = fresh
  const saved = location
    ? await save(() =>
        ask(
          client.POST('/api/projects/{project_id}/elements', {
            ...params,
            body: { location, mark, makeup, description },
          }),
        ),
      )
    : null
  busy.value = false
  if (saved?.id) emit('made', saved.id)
}
</script>

<template>
  <Dialog title="New element" @close="emit('close')">
    <form class="form" @submit.prevent="make">
      <label class="field"
        ><span>Mark, as on the drawing</span
        ><NInput
          v-model:value="fresh.mark"
          placeholder="PF2"
          :input-props="{ required: true, autofocus: true }"
      /></label>
      <label class="field"
        ><span>Description</span><NInput v-model:value="fresh.description" placeholder="Pad footing"
      /></label>
      <div class="field">
        <span>Location</span>
        <ChoiceField
          :value="fresh.location"
          :options="places"
          label="Location"
          @choose="fresh.location = $event"
        />
      </div>
      <label v-if="fresh.location === 0" class="field"
        ><span>Name of the new location</span
        ><NInput
          v-model:value="fresh.newLocation"
          placeholder="Pump house, foundations"
          :input-props="{ required: true }"
      /></label>
      <div class="field">
        <span>Make-up</span>
        <ChoiceField
          :value="fresh.makeup"
          :options="recipes"
          label="Make-up"
          @choose="fresh.makeup = $event"
        />
      </div>
      <p class="quiet">{{ about }}</p>
      <NButton type="primary" attr-type="submit" :loading="busy">Make it</NButton>
    </form>
  </Dialog>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
