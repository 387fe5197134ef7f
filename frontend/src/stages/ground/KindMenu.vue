<script setup lang="ts">
// A new kind of trench, or a new typical section: one to begin with, or one from a shelf.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { ask, client } from '../../api/client'
import { useSave } from '../../api/project'
import { useShelves } from '../../api/shelves'
import Menu from '../../desk/Menu.vue'
import { FIRST } from './kinds'
import { FIRST_TYPICAL } from './typicals'

const props = defineProps<{ of: 'trench-kind' | 'typical' }>()
const emit = defineEmits<{ made: [id: number | null | undefined] }>()
const { save, projectId } = useSave()
const shelves = useShelves()
const params = computed(() => ({ path: { project_id: projectId.value } }))
const there = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents
      .filter((each) => each.kind === (props.of === 'typical' ? 'typical section' : 'trench'))
      .map((each) => ({ shelf, each })),
  ),
)
async function begin() {
  const saved = await save(() =>
    props.of === 'typical'
      ? ask(
          client.POST('/api/projects/{project_id}/typicals', {
            params: params.value,
            body: { document: FIRST_TYPICAL },
          }),
        )
      : ask(
          client.POST('/api/projects/{project_id}/trench-kinds', {
            params: params.value,
            body: { document: FIRST },
          }),
        ),
  )
  if (saved) emit('made', saved.id)
}
async function take(shelf: number, key: string) {
  const given = { params: params.value, body: { shelf, key } }
  const saved = await save(() =>
    props.of === 'typical'
      ? ask(client.POST('/api/projects/{project_id}/typicals/from-shelf', given))
      : ask(client.POST('/api/projects/{project_id}/trench-kinds/from-shelf', given)),
  )
  if (saved) emit('made', saved.id)
}
</script>

<template>
  <NButton v-if="!there.length" text @click="begin">add</NButton>
  <Menu v-else label="add" right>
    <template #default="{ close }">
      <NButton text @click="(close(), begin())">{{ of === 'typical' ? 'A new one' : 'A new kind' }}</NButton>
      <NButton
        v-for="{ shelf, each } in there"
        :key="`${shelf.id} ${each.key}`"
        text
        @click="(close(), take(shelf.id, each.key))"
        >{{ each.name }}, {{ each.number }} ({{ shelf.name }})</NButton
      >
    </template>
  </Menu>
</template>
