<script setup lang="ts">
// The firm's own norms: taken from a shelf by the names of resources, or put there.
import { useQueryClient } from '@tanstack/vue-query'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client } from '../../api/client'
import { useSave } from '../../api/project'
import { useShelves } from '../../api/shelves'
import EntryField from '../../desk/EntryField.vue'
import Menu from '../../desk/Menu.vue'

const { save, projectId } = useSave()
const shelves = useShelves()
const at = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const lists = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents.filter((each) => each.kind === 'norms').map((each) => ({ shelf, each })),
  ),
)
const name = ref('')
const take = (shelf: number, key: string) =>
  save(() =>
    ask(client.POST('/api/projects/{project_id}/norms/from-shelf', { ...at.value, body: { shelf, key } })),
  )
const queries = useQueryClient()
async function put(shelf: number) {
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/norms/shelf', {
        ...at.value,
        body: { shelf, name: name.value },
      }),
    ),
  )
  await queries.invalidateQueries({ queryKey: ['shelves'] })
}
</script>

<template>
  <Menu v-if="shelves?.length" label="Own norms">
    <template #default="{ close }">
      <NButton
        v-for="{ shelf, each } in lists"
        :key="`${shelf.id} ${each.key}`"
        text
        @click="(close(), take(shelf.id, each.key))"
        >{{ each.name }}, {{ each.number }} ({{ shelf.name }})</NButton
      >
      <label class="quiet"
        >put this project’s as
        <EntryField
          :value="name"
          placeholder="the firm’s name"
          label="Name of the norms"
          @change="name = $event"
        />
      </label>
      <NButton v-for="s in shelves" :key="s.id" text :disabled="!name" @click="(close(), put(s.id))"
        >on {{ s.name }}</NButton
      >
    </template>
  </Menu>
</template>
