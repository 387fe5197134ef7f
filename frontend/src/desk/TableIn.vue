<script setup lang="ts" generic="Column extends string">
// Rows of somebody else's table: pasted or from a file, their columns seen and put right before any is kept.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import ChoiceField from './ChoiceField.vue'
import Dialog from './Dialog.vue'
import FileDrop from './FileDrop.vue'
import { useNotices } from './notices'

interface Read {
  columns: Column[]
  heads: string[]
  sample: string[][]
  rows: Schemas['RowRead'][]
  wrong: number
}
const props = defineProps<{
  title: string
  hint: string
  /** What rows look like. */
  placeholder: string
  accept: string
  test: string
  /** What columns may be, in words. */
  names: Record<string, string>
  /** What one row is called. */
  noun: string
  /** What a row is known by, in words. */
  called: (fields: Record<string, string>) => string
  readText: (text: string, columns: Column[] | null) => Promise<Read>
  readFile: (file: File, columns: Column[] | null) => Promise<Read>
}>()
const emit = defineEmits<{ close: []; keep: [rows: Record<string, string>[]] }>()
const notices = useNotices()
const text = ref('')
const file = ref<File | null>(null)
const read = ref<Read | null>(null)
const wrong = ref('')
const choices = computed(() => Object.entries(props.names).map(([value, label]) => ({ value, label })))

async function look(columns: Column[] | null = null) {
  wrong.value = ''
  try {
    read.value = file.value
      ? await props.readFile(file.value, columns)
      : await props.readText(text.value, columns)
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
  const now = [...((read.value?.columns ?? []) as Column[])]
  now.forEach((each, n) => each === column && n !== place && (now[n] = '' as Column))
  now[place] = column as Column
  void look(now)
}
/** What rows hang on is asked anew when it changed. */
const again = () => read.value && look(read.value.columns as Column[])
defineExpose({ again })
const good = computed(() => read.value?.rows.filter((row) => !row.says) ?? [])
const said = computed(() => read.value?.rows.filter((row) => row.says || row.looks) ?? [])
</script>

<template>
  <Dialog :title="title" wide @close="emit('close')">
    <p class="quiet">{{ hint }} Nothing is kept until it was seen below.</p>
    <slot></slot>
    <div class="from">
      <NInput
        v-model:value="text"
        type="textarea"
        :rows="4"
        :placeholder="placeholder"
        :input-props="{ 'aria-label': 'Rows pasted' }"
        @update:value="paste"
      />
      <div class="ways">
        <NButton size="small" :disabled="!text.trim()" @click="look()">Read these rows</NButton>
        <FileDrop :accept="accept" :test="test" @chosen="chooseFile">
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
      <ul v-if="said.length" class="said">
        <li v-for="row in said.slice(0, 30)" :key="row.line" :class="{ bad: row.says }">
          Row {{ row.line }}{{ called(row.fields) && `, ${called(row.fields)}` }}: {{ row.says || row.looks }}
        </li>
        <li v-if="said.length > 30" class="quiet">and {{ said.length - 30 }} more</li>
      </ul>
      <NButton
        type="primary"
        :disabled="!good.length"
        @click="
          emit(
            'keep',
            good.map((row) => row.fields),
          )
        "
        >Take in {{ good.length }} {{ noun }}{{ good.length === 1 ? '' : 's' }}</NButton
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
