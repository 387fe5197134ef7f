<script setup lang="ts">
// Who else is in the project just now: told and asked every quarter of a minute while it is looked at.
import { useIntervalFn, useDocumentVisibility } from '@vueuse/core'
import { ref, watch } from 'vue'
import { ask, client } from '../api/client'
import { useProjectId } from '../api/project'

const EVERY = 15_000
const project = useProjectId()
const others = ref<string[]>([])
const seen = useDocumentVisibility()
async function look() {
  const id = project.value
  if (!id || seen.value === 'hidden') return
  try {
    const found = await ask(
      client.POST('/api/projects/{project_id}/here', { params: { path: { project_id: id } } }),
    )
    if (id === project.value) others.value = found.names
  } catch {
    // Whether the server can be reached is told in the tally.
  }
}
useIntervalFn(look, EVERY)
watch([project, seen], () => void look(), { immediate: true })
const initialsOf = (name: string) =>
  name
    .split(' ')
    .map((word) => word[0])
    .join('')
const MOST = 3
</script>

<template>
  <span v-if="others.length" class="present" :aria-label="`Here now: ${others.join(', ')}`" role="status">
    <span
      v-for="name in others.slice(0, MOST)"
      :key="name"
      class="other"
      :title="`${name} is here now`"
      aria-hidden="true"
      >{{ initialsOf(name) }}</span
    >
    <span v-if="others.length > MOST" class="quiet" :title="others.slice(MOST).join(', ')" aria-hidden="true"
      >+{{ others.length - MOST }}</span
    >
  </span>
</template>

<style scoped>
.present {
  display: flex;
  align-items: center;
  gap: 3px;
}
.other {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 1px solid var(--main);
  border-radius: 50%;
  color: var(--main);
  font-size: 11px;
  font-weight: 600;
}
</style>
