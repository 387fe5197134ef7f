<script setup lang="ts">
// Known costs of a reference from somebody's table, seen before they are kept.
import { computed } from 'vue'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import TableIn from '../../desk/TableIn.vue'

const props = defineProps<{ rate: Schemas['BuildUpView'] }>()
const emit = defineEmits<{ done: [] }>()
const projectId = useProjectId()
const { save } = useSave()
const at = computed(() => ({ path: { project_id: projectId.value, build_up: props.rate.id } }))
const names = computed<Record<string, string>>(() => ({
  '': 'left out', size: props.rate.sized_by || 'size', labour: 'labour', plant: 'plant', material: 'material', whole: 'whole',
})) // prettier-ignore
const readText = (text: string, columns: string[] | null) =>
  ask(
    client.POST('/api/projects/{project_id}/build-ups/{build_up}/sizes/read', {
      params: at.value,
      body: { text, columns: columns as never },
    }),
  )
function readFile(file: File, columns: string[] | null) {
  const form = new FormData()
  form.append('file', file)
  if (columns) form.append('columns', columns.join(','))
  return sendFile<Schemas['TableRead']>(
    `/api/projects/${projectId.value}/build-ups/${props.rate.id}/sizes/read-file`,
    form,
  )
}
async function keep(rows: Record<string, string>[]) {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/{build_up}/sizes/taken', {
        params: at.value,
        body: { rows },
      }),
    ),
  )
  if (saved) emit('done')
}
</script>

<template>
  <TableIn
    title="Known costs of a table"
    hint="Copy the rows out of a spreadsheet and paste them here, or choose a CSV or XLSX file."
    placeholder="Thickness mm  Labour  Plant  Material  Whole"
    accept=".csv,.txt,.xlsx"
    test="sizes-file"
    noun="size"
    :names="names"
    :called="(fields) => fields.size ?? ''"
    :read-text="readText"
    :read-file="readFile"
    @keep="keep"
    @close="emit('done')"
  />
</template>
