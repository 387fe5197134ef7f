<script setup lang="ts">
// Bars of somebody else's schedule, seen before they are kept.
import { computed } from 'vue'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import TableIn from '../../desk/TableIn.vue'

const props = defineProps<{ location: number | null }>()
const emit = defineEmits<{ done: [] }>()
const projectId = useProjectId()
const { save } = useSave()
const at = computed(() => ({ path: { project_id: projectId.value } }))
const LEGS = 'ABCDEFGHIJKLR'
const NAMES: Record<string, string> = {
  '': 'left out', member: 'member', mark: 'mark', size: 'size', members: 'nr of members', each: 'in each', total: 'total',
  length: 'length, to compare', shape: 'shape code', revision: 'revision', mass: 'mass per metre', note: 'note',
  ...Object.fromEntries([...LEGS].map((leg) => [leg, `leg ${leg}`])),
} // prettier-ignore
const readText = (text: string, columns: string[] | null) =>
  ask(
    client.POST('/api/projects/{project_id}/bars/read', {
      params: at.value,
      body: { text, columns: columns as never },
    }),
  )
function readFile(file: File, columns: string[] | null) {
  const form = new FormData()
  form.append('file', file)
  if (columns) form.append('columns', columns.join(','))
  return sendFile<Schemas['SheetRead']>(`/api/projects/${projectId.value}/bars/read-file`, form)
}
const OWN = ['mark', 'size', 'members', 'each', 'shape', 'mass', 'note', 'member']
async function keep(good: Record<string, string>[]) {
  const rows = good.map((fields) => {
    const bar: Record<string, unknown> = Object.fromEntries(
      Object.entries(fields).filter(([key]) => OWN.includes(key)),
    )
    const legs = Object.fromEntries(Object.entries(fields).filter(([key]) => LEGS.includes(key)))
    if (Object.keys(legs).length) bar.legs = legs
    if (!fields.each && fields.total) Object.assign(bar, { members: '1', each: fields.total })
    if (fields.corners) bar.corners = fields.corners.split(';').map((point) => point.split(',').map(Number))
    return bar
  })
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/bars/typed', {
        params: at.value,
        body: { rows: rows as never, location: props.location },
      }),
    ),
  )
  if (saved) emit('done')
}
</script>

<template>
  <TableIn
    title="Bars of a schedule"
    hint="Copy the rows out of a spreadsheet and paste them here, or choose a CSV, XLSX or BVBS file."
    placeholder="Member  Mark  Size  Nr of  In each  Total  Length  Code  A  B  C …"
    accept=".csv,.txt,.xlsx,.abs,.bvbs"
    test="bars-file"
    noun="bar"
    :names="NAMES"
    :called="(fields) => (fields.mark ? `mark ${fields.mark}` : '')"
    :read-text="readText"
    :read-file="readFile"
    @keep="keep"
    @close="emit('done')"
  />
</template>
