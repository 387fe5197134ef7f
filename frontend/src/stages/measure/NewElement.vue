<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { ask, client } from '../../api/client'
import { useLocations, useMakeUps, useSave } from '../../api/project'
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
  location: props.location ?? locations.value?.[0]?.id ?? 0,
  newLocation: '',
})
const busy = ref(false)
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
        ><span>Mark, as on the drawing</span><input v-model="fresh.mark" required autofocus placeholder="PF2"
      /></label>
      <label class="field"
        ><span>Description</span><input v-model="fresh.description" placeholder="Pad footing"
      /></label>
      <label class="field">
        <span>Location</span>
        <select v-model.number="fresh.location">
          <option v-for="l in locations" :key="l.id" :value="l.id">{{ l.name }}</option>
          <option :value="0">a new location…</option>
        </select>
      </label>
      <label v-if="!fresh.location" class="field"
        ><span>Name of the new location</span
        ><input v-model="fresh.newLocation" required placeholder="Pump house, foundations"
      /></label>
      <label class="field">
        <span>Make-up</span>
        <select v-model="fresh.makeup">
          <option v-for="m in makeups" :key="m.key" :value="m.key">{{ m.name }}</option>
        </select>
      </label>
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
