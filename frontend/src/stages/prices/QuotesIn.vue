<script setup lang="ts">
// Quotes of a supplier's list of prices, seen before they are kept.
import { NAutoComplete } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import TableIn from '../../desk/TableIn.vue'

const props = defineProps<{ suppliers: string[] }>()
const emit = defineEmits<{ done: [] }>()
const projectId = useProjectId()
const { save } = useSave()
const at = computed(() => ({ path: { project_id: projectId.value } }))
const supplier = ref('')
const table = ref<{ again: () => void }>()
const found = computed(() =>
  props.suppliers.filter((each) => each.toLowerCase().includes(supplier.value.trim().toLowerCase())),
)
const NAMES: Record<string, string> = {
  '': 'left out', resource: 'resource', supplier: 'supplier', price: 'price', unit: 'for one', contains: 'holding',
  least: 'at least', quoted_on: 'quoted on', valid_to: 'valid to', source: 'source',
} // prettier-ignore
const readText = (text: string, columns: string[] | null) =>
  ask(
    client.POST('/api/projects/{project_id}/quotes/read', {
      params: at.value,
      body: { text, columns: columns as never, supplier: supplier.value },
    }),
  )
function readFile(file: File, columns: string[] | null) {
  const form = new FormData()
  form.append('file', file)
  form.append('supplier', supplier.value)
  if (columns) form.append('columns', columns.join(','))
  return sendFile<Schemas['TableRead']>(`/api/projects/${projectId.value}/quotes/read-file`, form)
}
async function keep(rows: Record<string, string>[]) {
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/quotes/taken', { params: at.value, body: { rows } })),
  )
  if (saved) emit('done')
}
</script>

<template>
  <TableIn
    ref="table"
    title="Quotes of a list"
    hint="Copy the rows out of a spreadsheet and paste them here, or choose a CSV or XLSX file. A resource there isn’t yet is made."
    placeholder="Resource  Supplier  Price  Sold by  Min. quantity  Date  Valid until  Source"
    accept=".csv,.txt,.xlsx"
    test="quotes-file"
    noun="quote"
    :names="NAMES"
    :called="(fields) => fields.resource ?? ''"
    :read-text="readText"
    :read-file="readFile"
    @keep="keep"
    @close="emit('done')"
  >
    <label class="whose"
      ><span class="quiet">Whose list it is, where no column says</span>
      <NAutoComplete
        v-model:value="supplier"
        size="small"
        :options="found"
        :get-show="() => true"
        :input-props="{ 'aria-label': 'Whose list it is' }"
        @blur="table?.again()"
        @select="table?.again()"
      />
    </label>
  </TableIn>
</template>

<style scoped>
.whose {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 8px;
}
.whose > span {
  flex: none;
}
</style>
