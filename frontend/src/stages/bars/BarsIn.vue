<script setup lang="ts">
// Rows of somebody else's schedule: pasted or from a file, their columns seen and put right before any is kept.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import FileDrop from '../../desk/FileDrop.vue'
import { useNotices } from '../../desk/notices'

type Column = Schemas['SheetRead']['columns'][number]
const props = defineProps<{ location: number | null }>()
const emit = defineEmits<{ done: [] }>()
const projectId = useProjectId()
const notices = useNotices()
const { save } = useSave()
const text = ref('')
const file = ref<File | null>(null)
const read = ref<Schemas['SheetRead'] | null>(null)
const wrong = ref('')
const at = computed(() => ({ path: { project_id: projectId.value } }))
const NAMES: Record<string, string> = {
  '': 'left out', member: 'member', mark: 'mark', size: 'size', members: 'nr of members', each: 'in each', total: 'total',
  length: 'length, to compare', shape: 'shape code', revision: 'revision', mass: 'mass per metre', note: 'note',
} // prettier-ignore
const choices = [...Object.keys(NAMES), ...'ABCDEFGHIJKLR'].map((value) => ({
  value,
  label: NAMES[value] ?? `leg ${value}`,
}))

async function look(columns: Column[] | null = null) {
  wrong.value = ''
  try {
    if (file.value) {
      const form = new FormData()
      form.append('file', file.value)
      if (columns) form.append('columns', columns.join(','))
      read.value = await sendFile<Schemas['SheetRead']>(
        `/api/projects/${projectId.value}/bars/read-file`,
        form,
      )
    } else
      read.value = await ask(
        client.POST('/api/projects/{project_id}/bars/read', {
          params: at.value,
          body: { text: text.value, columns: columns as never },
        }),
      )
  } catch (error) {
    read.value = null
    wrong.value = error instanceof Error ? error.message : ''
    notices.show(error)
  }
}
function chooseFile(chosen: File) {
  file.value = chosen
  text.value = ''
  void look()
}
function paste() {
  file.value = null
  read.value = null
}
function setColumn(place: number, column: string) {
  const now = [...(read.value?.columns ?? [])]
  now.forEach((each, n) => each === column && n !== place && (now[n] = '' as Column))
  now[place] = column as Column
  void look(now)
}
const good = computed(() => read.value?.rows.filter((row) => !row.says) ?? [])
const LEGS = 'ABCDEFGHIJKLR'
const OWN = ['mark', 'size', 'members', 'each', 'shape', 'mass', 'note', 'member']
async function keep() {
  const rows = good.value.map(({ fields }) => {
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
  <Dialog title="Bars of a schedule" wide @close="emit('done')">
    <p class="quiet">
      Copy the rows out of a spreadsheet and paste them here, or choose a CSV, XLSX or BVBS file. Nothing is
      kept until it was seen below.
    </p>
    <div class="from">
      <NInput
        v-model:value="text"
        type="textarea"
        :rows="4"
        placeholder="Member  Mark  Size  Nr of  In each  Total  Length  Code  A  B  C …"
        :input-props="{ 'aria-label': 'Rows pasted' }"
        @update:value="paste"
      />
      <div class="ways">
        <NButton size="small" :disabled="!text.trim()" @click="look()">Read these rows</NButton>
        <FileDrop accept=".csv,.txt,.xlsx,.abs,.bvbs" test="bars-file" @chosen="chooseFile">
          <NButton size="small">Choose a file</NButton>
        </FileDrop>
        <span v-if="file" class="quiet">{{ file.name }}</span>
      </div>
    </div>
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
    <template v-if="read">
      <div v-if="read.columns.length" class="scroll sample">
        <table>
          <thead>
            <tr>
              <th v-for="(column, n) in read.columns" :key="n">
                <span v-if="read.heads.length" class="quiet">{{ read.heads[n] }}</span>
                <ChoiceField
                  :value="column as string"
                  :options="choices"
                  :label="`Column ${n + 1} is`"
                  @choose="setColumn(n, $event)"
                />
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, r) in read.sample" :key="r">
              <td v-for="(_, n) in read.columns" :key="n" class="num">{{ row[n] }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p>
        <b>{{ good.length }}</b> of {{ read.rows.length }} rows can be taken in<template v-if="read.wrong"
          >; the others say why:</template
        >
      </p>
      <ul v-if="read.rows.some((row) => row.says || row.looks)" class="said">
        <li
          v-for="row in read.rows.filter((r) => r.says || r.looks).slice(0, 30)"
          :key="row.line"
          :class="{ bad: row.says }"
        >
          Row {{ row.line }}<template v-if="row.fields.mark">, mark {{ row.fields.mark }}</template
          >: {{ row.says || row.looks }}
        </li>
      </ul>
      <NButton type="primary" :disabled="!good.length" @click="keep"
        >Take in {{ good.length }} bar{{ good.length === 1 ? '' : 's' }}</NButton
      >
    </template>
  </Dialog>
</template>

<style scoped>
p {
  margin: 4px 0 8px;
}
.ways {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px 0;
}
.sample {
  max-width: 100%;
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th {
  min-width: 96px;
  padding: 2px 4px;
  font-weight: 400;
  text-align: left;
}
td {
  padding: 2px 6px;
  border-top: 1px solid var(--rule);
}
.said {
  max-height: 150px;
  margin: 4px 0 10px;
  padding-left: 18px;
  overflow-y: auto;
}
</style>
