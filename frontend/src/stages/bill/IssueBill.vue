<script setup lang="ts">
// The project's own bill kept as it goes out.
import { NButton, NInput } from 'naive-ui'
import { ref } from 'vue'
import { ask, client } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import DateField from '../../desk/DateField.vue'
import Dialog from '../../desk/Dialog.vue'

const emit = defineEmits<{ done: [bill: number | null] }>()
const projectId = useProjectId()
const { save } = useSave()
const title = ref('')
const dated = ref(new Date().toISOString().slice(0, 10))
async function issue() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/bills/issued', {
        params: { path: { project_id: projectId.value } },
        body: { title: title.value, dated: dated.value },
      }),
    ),
  )
  if (saved) emit('done', saved.id ?? null)
}
</script>

<template>
  <Dialog title="Issue our own bill" @close="emit('done', null)">
    <form class="form" @submit.prevent="issue">
      <p class="quiet">It is kept as it is now: nothing that moves later moves it.</p>
      <label
        >Called
        <NInput
          v-model:value="title"
          placeholder="Tender, revision A"
          :input-props="{ autofocus: true, 'aria-label': 'Title of the issued bill' }"
      /></label>
      <label>Dated <DateField :value="dated" @change="dated = $event" /></label>
      <NButton type="primary" attr-type="submit" :disabled="!title.trim()">Issue it</NButton>
    </form>
  </Dialog>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
}
label {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
}
</style>
