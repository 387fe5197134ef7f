<script setup lang="ts">
// Sections made, called something else, and put up or down.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'

const props = defineProps<{ sections: Schemas['SectionHead'][]; bill: number | null }>()
/** The section in focus. */
const section = defineModel<number | null>({ required: true })
const { save, projectId } = useSave()
const title = ref('')
async function addSection() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/sections', {
        params: { path: { project_id: projectId.value } },
        body: { title: title.value, bill: props.bill },
      }),
    ),
  )
  if (!saved) return
  title.value = ''
  section.value = saved.id ?? null
}
const inFocus = computed(() => props.sections.find((s) => s.id === section.value))
const renameSection = (words: string) => {
  const now = inFocus.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/sections/{section}', {
        params: { path: { project_id: projectId.value, section: now.id } },
        body: { version: version ?? now.version, title: words },
      }),
    ),
  )
}
/** The section in focus, put up or down among those of its level. */
async function shiftSection(by: number) {
  const all = props.sections
  const now = all.find((s) => s.id === section.value)
  if (!now) return
  const level = all.filter((s) => s.parent === now.parent)
  const place = level.indexOf(now)
  if (!level[place + by]) return
  const before = by < 0 ? level[place - 1].id : (level[place + 2]?.id ?? null)
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/sections/{section}/move', {
        params: { path: { project_id: projectId.value, section: now.id } },
        body: { parent: now.parent, before },
      }),
    ),
  )
}
/** The section in focus, into the one above it, or out of the one it lies in. */
async function nestSection(into: boolean) {
  const all = props.sections
  const now = inFocus.value
  if (!now) return
  const level = all.filter((s) => s.parent === now.parent)
  const outer = all.find((s) => s.id === now.parent)
  const goal = into ? level[level.indexOf(now) - 1] : outer
  if (!goal) return
  const after = all.filter((s) => s.parent === goal.parent)
  const body = into
    ? { parent: goal.id, before: null }
    : { parent: goal.parent, before: after[after.indexOf(goal) + 1]?.id ?? null }
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/sections/{section}/move', {
        params: { path: { project_id: projectId.value, section: now.id } },
        body,
      }),
    ),
  )
}
</script>

<template>
  <form class="new" @submit.prevent="addSection">
    <NInput
      v-model:value="title"
      size="small"
      placeholder="A new section"
      :input-props="{ 'aria-label': 'Title of a new section' }"
    /><NButton size="small" attr-type="submit" :disabled="!title.trim()">Add</NButton>
  </form>
  <div v-if="inFocus" class="order">
    <EntryField :value="inFocus.title" :label="`Title of section ${inFocus.ref}`" @change="renameSection" />
    <NButton text @click="shiftSection(-1)">↑ section up</NButton>
    <NButton text @click="shiftSection(1)">↓ section down</NButton>
    <NButton text @click="nestSection(true)">→ into the one above</NButton>
    <NButton v-if="inFocus.parent" text @click="nestSection(false)">← out of it</NButton>
  </div>
</template>

<style scoped>
.new {
  display: flex;
  gap: 6px;
  padding: 8px 12px;
}
.order {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  padding: 0 12px 6px;
}
</style>
