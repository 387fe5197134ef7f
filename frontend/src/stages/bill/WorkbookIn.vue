<script setup lang="ts">
// A client's bill in their workbook: its sheets and columns seen, and put right, before anything is kept.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { sendFile, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import DateField from '../../desk/DateField.vue'
import Dialog from '../../desk/Dialog.vue'
import FileDrop from '../../desk/FileDrop.vue'
import { useNotices } from '../../desk/notices'

type Sheet = Schemas['SheetSeen']
const emit = defineEmits<{ done: [bill: number | null] }>()
const projectId = useProjectId()
const { save } = useSave()
const notices = useNotices()
const file = ref<File | null>(null)
const seen = ref<Schemas['WorkbookSeen'] | null>(null)
const wrong = ref('')
const title = ref('')
const dated = ref(new Date().toISOString().slice(0, 10))
const NAMES: Record<string, string> = {
  '': 'left out', number: 'number', description: 'description', unit: 'unit', quantity: 'quantity',
  rate: 'rate', amount: 'amount', note: 'note',
} // prettier-ignore
const choices = Object.entries(NAMES).map(([value, label]) => ({ value, label }))
const taken = computed(() => seen.value?.sheets.filter((sheet) => sheet.taken) ?? [])
const layout = (sheets: Sheet[]) =>
  JSON.stringify({
    sheets: Object.fromEntries(sheets.filter((s) => s.taken).map((s) => [s.name, s.columns])),
  })

async function look(sheets: Sheet[] | null = null) {
  if (!file.value) return
  const form = new FormData()
  form.append('file', file.value)
  if (sheets) form.append('layout', layout(sheets))
  wrong.value = ''
  try {
    seen.value = await sendFile<Schemas['WorkbookSeen']>(
      `/api/projects/${projectId.value}/bills/read-file`,
      form,
    )
  } catch (error) {
    seen.value = null
    wrong.value = error instanceof Error ? error.message : ''
    notices.show(error)
  }
}
function choose(chosen: File) {
  file.value = chosen
  title.value ||= chosen.name.replace(/\.(xlsx|x8\d|xml)$/i, '')
  void look()
}
function setColumn(sheet: Sheet, place: number, column: string) {
  const columns = sheet.columns.map((each, n) => (n === place ? column : each === column ? '' : each))
  void look(seen.value!.sheets.map((s) => (s === sheet ? { ...s, columns: columns as never } : s)))
}
const setTaken = (sheet: Sheet, now: boolean) =>
  void look(seen.value!.sheets.map((s) => (s === sheet ? { ...s, taken: now } : s)))
async function keep() {
  const form = new FormData()
  form.append('file', file.value!)
  form.append('layout', layout(seen.value!.sheets))
  form.append('title', title.value)
  form.append('dated', dated.value)
  const saved = await save(() =>
    sendFile<Schemas['Answer']>(`/api/projects/${projectId.value}/bills/received`, form),
  )
  if (saved) emit('done', saved.id ?? null)
}
</script>

<template>
  <Dialog title="A client’s bill" widest @close="emit('done', null)">
    <p class="quiet">
      Choose their XLSX workbook: it is kept as it came, and priced the same file is given back with nothing
      but rates and amounts changed. Or a bill in GAEB DA XML (X81 to X86).
    </p>
    <div class="ways">
      <FileDrop accept=".xlsx,.x81,.x82,.x83,.x84,.x85,.x86,.xml" test="bill-file" @chosen="choose">
        <NButton :type="seen ? 'default' : 'primary'" size="small">Choose the file</NButton>
      </FileDrop>
      <span v-if="file" class="quiet">{{ file.name }}</span>
    </div>
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
    <template v-if="seen">
      <section v-for="sheet in seen.sheets" :key="sheet.name">
        <h3>
          <NCheckbox
            :checked="sheet.taken"
            :aria-label="`Take in ${sheet.name}`"
            @update:checked="setTaken(sheet, $event)"
          >
            {{ sheet.name }}
          </NCheckbox>
          <span class="quiet">
            {{ sheet.hidden ? 'hidden; ' : '' }}{{ sheet.items }} items in {{ sheet.sections }} sections{{
              sheet.words ? `, ${sheet.words} heading${sheet.words === 1 ? '' : 's'}` : ''
            }}{{
              sheet.totals
                ? `; ${sheet.totals} row${sheet.totals === 1 ? '' : 's'} of totals left in the file`
                : ''
            }}
          </span>
        </h3>
        <div v-if="sheet.taken && sheet.columns.length" class="scroll sample">
          <table>
            <thead>
              <tr>
                <th class="quiet">row</th>
                <th v-for="(column, n) in sheet.columns" :key="n">
                  <span class="quiet">{{ sheet.heads[n] }}</span>
                  <ChoiceField
                    :value="column as string"
                    :options="choices"
                    :label="`Column ${n + 1} of ${sheet.name} is`"
                    @choose="setColumn(sheet, n, $event)"
                  />
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, r) in sheet.sample" :key="r">
                <td v-for="n in sheet.columns.length + 1" :key="n" :class="{ num: n === 1 }">
                  {{ row[n - 1] }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <ul v-if="sheet.taken && sheet.says.length" class="said">
          <li v-for="says in sheet.says" :key="says">{{ says }}</li>
          <li v-if="sheet.more" class="quiet">and {{ sheet.more }} more</li>
        </ul>
      </section>
      <form class="keep" @submit.prevent="keep">
        <NInput
          v-model:value="title"
          class="title"
          size="small"
          placeholder="What it is called"
          :input-props="{ 'aria-label': 'Title of the bill' }"
        />
        <DateField :value="dated" @change="dated = $event" />
        <NButton type="primary" attr-type="submit" :disabled="!seen.items || !title.trim()"
          >Take in {{ seen.items }} item{{ seen.items === 1 ? '' : 's' }} of {{ taken.length }} sheet{{
            taken.length === 1 ? '' : 's'
          }}</NButton
        >
      </form>
    </template>
  </Dialog>
</template>

<style scoped>
p {
  margin: 4px 0 8px;
}
.ways,
.keep {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px 0;
}
.title {
  flex: 1;
}
h3 {
  display: flex;
  gap: 14px;
  align-items: baseline;
  padding: 8px 0 4px;
}
h3 .quiet {
  font-weight: 400;
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
  vertical-align: bottom;
}
th:first-child {
  min-width: 36px;
}
td {
  max-width: 340px;
  padding: 2px 6px;
  border-top: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.said {
  max-height: 110px;
  margin: 4px 0 6px;
  padding-left: 18px;
  overflow-y: auto;
}
</style>
