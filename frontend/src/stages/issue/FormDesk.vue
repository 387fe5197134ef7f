<script setup lang="ts">
// A workbook of our own: a cell is chosen, a number is walked to, and the two are tied.
import { NButton, NInput } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useForm } from '../../api/issue'
import { useSave, useWalk } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import FileDrop from '../../desk/FileDrop.vue'
import JobButton from '../../desk/JobButton.vue'
import { precise } from '../../desk/numbers'
import { useTying } from '../../desk/tying'
import { useWalkStore } from '../../desk/walk'

type Cell = Schemas['FormCellView']
const props = defineProps<{ form: number; readonly: boolean }>()
const route = useRoute()
const router = useRouter()
const tying = useTying()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: form, error } = useForm(() => props.form)
const { data: walked } = useWalk(() => walk.focus)
const number = computed(() => (walked.value?.ref === walk.focus ? walked.value : null))
const path = computed(() => ({ params: { path: { project_id: projectId.value, own_form: props.form } } }))

const shown = ref('')
const sheet = computed(
  () =>
    form.value?.sheets.find((each) => each.name === shown.value) ??
    form.value?.sheets.find((each) => !each.hidden) ??
    form.value?.sheets[0],
)
const MOST_COLUMNS = 26
const LEAST = { rows: 16, columns: 8 }
const texts = computed(() => new Map(sheet.value?.rows.map(([row, ...cells]) => [Number(row), cells])))
const rows = computed(() => {
  const last = Math.max(0, ...texts.value.keys())
  return Array.from({ length: Math.min(Math.max(last + 2, LEAST.rows), 200) }, (_, n) => n + 1)
})
const letter = (n: number) => String.fromCharCode(65 + n)
const columns = computed(() => {
  const wide = Math.max(0, ...[...texts.value.values()].map((cells) => cells.length))
  return Array.from({ length: Math.min(Math.max(wide + 1, LEAST.columns), MOST_COLUMNS) }, (_, n) =>
    letter(n),
  )
})
const formulas = computed(() => new Set(sheet.value?.formulas))
/** The tied cells of the sheet that is shown, by where they are. */
const tied = computed(
  () =>
    new Map(
      (form.value?.cells ?? [])
        .filter((cell) => cell.sheet === sheet.value?.name)
        .map((cell) => [cell.cell, cell]),
    ),
)
const at = ref('A1')
const place = ref('')
watch(
  [sheet, at],
  () => {
    if (sheet.value) place.value = `${sheet.value.name}!${at.value}`
  },
  { immediate: true },
)
const grid = ref<HTMLElement>()
/** The cell waits, and one goes to find its number. */
function wait() {
  tying.waiting = {
    project: projectId.value,
    form: props.form,
    name: form.value!.name,
    place: place.value.trim(),
  }
  void router.push(`/projects/${projectId.value}/bill`)
}
// Back from there, one stands where one left.
watch(
  form,
  (now, before) => {
    if (!now || before) return
    tying.waiting = null
    const [, name, cell] = /^(.+)!([A-Z]\d+)$/.exec(String(route.query.cell ?? '')) ?? []
    if (!cell) return
    shown.value = name
    void nextTick(async () => {
      await pick(cell)
      grid.value?.focus()
    })
  },
  { immediate: true },
)
async function pick(cell: string) {
  at.value = cell
  const here = tied.value.get(cell)
  if (here && !here.says) walk.look(here.ref)
  await nextTick()
  grid.value?.querySelector(`[data-cell="${cell}"]`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
}
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1],
} // prettier-ignore
function step(event: KeyboardEvent) {
  if (event.key === 'Enter') return void (event.preventDefault(), tie())
  if (event.key === 'Delete') {
    const here = tied.value.get(at.value)
    return here && void untie(here)
  }
  const by = STEPS[event.key]
  if (!by) return
  event.preventDefault()
  const [, column, row] = /^([A-Z])(\d+)$/.exec(at.value) ?? ['', 'A', '1']
  const next = Math.min(Math.max(columns.value.indexOf(column) + by[0], 0), columns.value.length - 1)
  void pick(`${columns.value[next]}${Math.min(Math.max(Number(row) + by[1], 1), rows.value.length)}`)
}
function open(cell: Cell) {
  if (cell.sheet) shown.value = cell.sheet
  if (cell.cell) at.value = cell.cell
  void nextTick(() => (place.value = cell.place))
  if (!cell.says) walk.look(cell.ref)
}
const tie = () =>
  number.value && !props.readonly
    ? save(() =>
        ask(
          client.POST('/api/projects/{project_id}/forms/{own_form}/cells', {
            ...path.value,
            body: { place: place.value, ref: number.value!.ref },
          }),
        ),
      )
    : undefined
const untie = (cell: Cell) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/form-cells/{form_cell}', {
        params: { path: { project_id: projectId.value, form_cell: cell.id } },
      }),
    ),
  )
const rename = (name: string) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/forms/{own_form}', {
        ...path.value,
        body: { version: version ?? form.value!.version, name },
      }),
    ),
  )
function replace(file: File) {
  const body = new FormData()
  body.append('file', file)
  void save(() =>
    sendFile<Schemas['Answer']>(`/api/projects/${projectId.value}/forms/${props.form}/file`, body),
  )
}
async function remove() {
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/forms/{own_form}', path.value))))
    await router.push(`/projects/${projectId.value}/issue`)
}
</script>

<template>
  <div v-if="error" class="empty">
    <p>{{ error.message }}</p>
  </div>
  <template v-else-if="form && sheet">
    <div class="desk-head head">
      <EntryField
        class="name"
        :value="form.name"
        :disabled="readonly"
        label="Name of the form"
        @change="rename"
      />
      <span class="does">
        <NButton v-if="!readonly" text @click="remove">Take it out</NButton>
        <FileDrop v-if="!readonly" accept=".xlsx" test="form-again" @chosen="replace">
          <NButton text title="Its cells stay tied where they are">Another file for it</NButton>
        </FileDrop>
        <JobButton kind="form_filled" primary :asks="{ form: form.id }" :disabled="!form.cells.length"
          >Fill it</JobButton
        >
      </span>
    </div>
    <div class="sheets">
      <NButton
        v-for="each in form.sheets"
        :key="each.name"
        text
        :type="each === sheet ? 'primary' : 'default'"
        :aria-pressed="each === sheet"
        @click="((shown = each.name), (at = 'A1'))"
        >{{ each.name }}{{ each.hidden ? ' (hidden)' : '' }}</NButton
      >
      <span class="quiet file">{{ form.file }}</span>
    </div>
    <div
      ref="grid"
      class="scroll grid"
      tabindex="0"
      role="application"
      :aria-label="`${sheet.name}: arrows choose a cell, Enter ties it, Delete lets it be`"
      @keydown="step"
    >
      <table>
        <thead>
          <tr>
            <th></th>
            <th v-for="column in columns" :key="column">{{ column }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row">
            <th>{{ row }}</th>
            <td
              v-for="(column, n) in columns"
              :key="column"
              :data-cell="`${column}${row}`"
              :class="{ at: at === `${column}${row}`, tied: tied.has(`${column}${row}`) }"
              :title="tied.get(`${column}${row}`)?.name"
              @click="pick(`${column}${row}`)"
            >
              <template v-if="tied.has(`${column}${row}`)"
                ><span class="num">{{ precise(tied.get(`${column}${row}`)!.value) }}</span></template
              ><span v-else-if="formulas.has(`${column}${row}`)" class="quiet"
                >= {{ texts.get(row)?.[n] }}</span
              ><template v-else>{{ texts.get(row)?.[n] }}</template>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="sheet.more" class="quiet more">
        {{ sheet.more }} more rows: type such a cell below, {{ sheet.name }}!B400.
      </p>
    </div>
    <form v-if="!readonly" class="tie" @submit.prevent="tie">
      <NInput
        v-model:value="place"
        size="small"
        class="place"
        title="A cell, or the name of a range"
        :input-props="{ 'aria-label': 'Cell, or name of a range' }"
      />
      <span v-if="number" class="which"
        >is <b>{{ number.working.name }}</b>
        <span class="num">{{ precise(number.working.value) }} {{ number.working.unit }}</span></span
      >
      <span v-else class="which quiet">No number stands in the working column.</span>
      <NButton type="primary" size="small" attr-type="submit" :disabled="!number || !place.trim()"
        >Tie them</NButton
      >
      <NButton size="small" :disabled="!place.trim()" @click="wait">Walk to another…</NButton>
    </form>
    <div
      v-if="form.cells.length || form.names.length"
      class="scroll cells"
      tabindex="0"
      role="region"
      aria-label="Tied cells"
    >
      <p v-if="form.names.length" class="quiet names">
        Ranges it names:
        <NButton v-for="name in form.names" :key="name" text @click="place = name">{{ name }}</NButton>
      </p>
      <table v-if="form.cells.length">
        <tbody>
          <tr v-for="cell in form.cells" :key="cell.id">
            <td>
              <NButton text class="laid" @click="open(cell)">{{ cell.place }}</NButton>
            </td>
            <td>
              {{ cell.name }}<span v-if="cell.says" class="bad"> {{ cell.says }}</span>
            </td>
            <td class="num">{{ cell.value === null ? '' : precise(cell.value) }} {{ cell.unit }}</td>
            <td class="drop">
              <NButton
                v-if="!readonly"
                text
                :aria-label="`Let ${cell.place} be`"
                title="Let it be"
                @click="untie(cell)"
                >×</NButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </template>
</template>

<style scoped>
.head,
.sheets,
.does,
.tie {
  display: flex;
  gap: 14px;
  align-items: center;
}
.name {
  width: 260px;
}
.does {
  margin-left: auto;
}
.does > * {
  flex: none;
}
.sheets {
  min-height: 30px;
  padding: 0 12px;
}
.file {
  margin-left: auto;
}
.grid {
  flex: 1;
  min-height: 120px;
  border-top: 1px solid var(--rule);
}
table {
  border-collapse: collapse;
}
.grid th {
  position: sticky;
  top: 0;
  min-width: 34px;
  height: 24px;
  background: var(--ground);
  color: var(--quiet);
  font-weight: 500;
}
.grid tbody th {
  left: 0;
}
.grid td {
  min-width: 84px;
  max-width: 260px;
  height: 24px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: default;
}
.grid td.tied {
  background: var(--accent-soft);
  text-align: right;
}
.grid td.at {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.more {
  padding: 4px 12px;
}
.tie {
  min-height: 42px;
  padding: 4px 12px;
  border-top: 1px solid var(--ink);
}
.place {
  flex: 0 0 220px;
}
.which {
  flex: 1;
  min-width: 0;
}
.cells {
  flex: 0 1 auto;
  max-height: 34%;
  border-top: 1px solid var(--rule);
}
.cells table {
  width: 100%;
}
.cells td {
  height: var(--row);
  padding: 2px 12px;
  border-bottom: 1px solid var(--rule);
}
.cells .num {
  text-align: right;
  white-space: nowrap;
}
.drop {
  width: 20px;
}
.names {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  margin: 4px 12px;
}
</style>
