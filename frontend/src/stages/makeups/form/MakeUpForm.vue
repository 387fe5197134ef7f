<script setup lang="ts">
// A make-up as a form: what it asks, what it works out, its tables, its results and its picture. The text
// beside it is the same thing; what is put in here is written there at once.
import { NButton, NTabPane, NTabs } from 'naive-ui'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Schemas } from '../../../api/client'
import { read, TABLES, write, type MakeUpDocument, type Table } from '../document'
import BandTables from './BandTables.vue'
import Bars from './Bars.vue'
import Derived from './Derived.vue'
import { provideForm, type Refused } from './form'
import Head from './Head.vue'
import Picture from './Picture.vue'
import Questions from './Questions.vue'
import Results from './Results.vue'
import Warnings from './Warnings.vue'

const props = defineProps<{
  readonly: boolean
  /** Elements know it by its key, which stays. */
  keyed: boolean
  /** What was refused of it. */
  wrong: { sentence: string; field: string } | null
  /** Names that formulas may use, as they were when it last held; and what make-ups are written with. */
  names: Schemas['NameView'][]
  words: Schemas['MakeUpWords'] | undefined
}>()
const emit = defineEmits<{ text: [] }>()
const text = defineModel<string>({ required: true })
const document = ref<MakeUpDocument>({ key: '', name: '', headline: '' })
const unreadable = ref('')
let written = ''

watch(
  text,
  (now) => {
    if (now === written) return
    try {
      const found = read(now)
      for (const table of TABLES) found[table] ??= [] as never
      written = now
      document.value = found
      unreadable.value = ''
    } catch (error) {
      unreadable.value = error instanceof Error ? error.message.split('\n')[0] : String(error)
    }
  },
  { immediate: true },
)
watch(
  document,
  (now) => {
    if (props.readonly || unreadable.value) return
    const fresh = write(now, text.value)
    if (fresh === write(read(text.value), text.value)) return
    written = text.value = fresh
  },
  { deep: true },
)

const tabs = [
  { name: 'head', label: 'What it is', part: Head },
  { name: 'inputs', label: 'It asks', part: Questions },
  { name: 'bands', label: 'Tables by size', part: BandTables },
  { name: 'derived', label: 'Worked out', part: Derived },
  { name: 'outputs', label: 'It gives', part: Results },
  { name: 'cautions', label: 'It warns', part: Warnings },
  { name: 'bars', label: 'Bars', part: Bars },
  { name: 'sketch', label: 'Picture', part: Picture },
] as const
// An allowance has neither bars nor a picture.
const open = computed(() =>
  tabs.filter((tab) => document.value.kind !== 'allowance' || (tab.name !== 'bars' && tab.name !== 'sketch')),
)
const at = ref<Table | 'head'>('head')
const PANE = { height: '100%', padding: '10px 16px 24px', overflow: 'auto' }
// Tabs are reached and taken by keys as anything else is.
const tabProps = (name: Table | 'head') => ({
  role: 'tab',
  tabindex: 0,
  'aria-selected': at.value === name,
  onKeydown: (event: KeyboardEvent) => {
    if (event.key === 'Enter' || event.key === ' ') at.value = name
  },
})
function asTablist(tabs: unknown) {
  const { $el } = (tabs ?? {}) as { $el?: HTMLElement }
  $el?.querySelector('.n-tabs-nav')?.setAttribute('role', 'tablist')
}
const rowsOf = (table: Table) =>
  (document.value[table] ?? []) as { key?: string; label?: string; says?: string }[]
/** The row that a refusal names by its place, its words or its name. */
function named(field: string): { table: Table; row: object } | null {
  const loc = /^(\w+) → (\d+)/.exec(field)
  for (const table of TABLES) {
    const rows = rowsOf(table)
    if (loc?.[1] === table) return rows[Number(loc[2])] ? { table, row: rows[Number(loc[2])] } : null
    const row = rows.find((r) =>
      [
        r.label,
        r.key,
        r.says && `caution “${r.says}”`,
        `a pack of ${r.label}`,
        `the sketch of ${r.label}`,
      ].includes(field),
    )
    if (row && (table === 'sketch' || !field.startsWith('the sketch'))) return { table, row }
  }
  return null
}
// It stays with its row while that gets other words or another place, until it is proved anew: nothing jumps.
const about = shallowRef<ReturnType<typeof named>>(null)
watch(
  () => props.wrong,
  (wrong) => (about.value = wrong && named(wrong.field)),
  { immediate: true },
)
const place = computed<Refused | null>(() => {
  if (!props.wrong || !about.value) return null
  const { table, row } = about.value
  const at = (rowsOf(table) as object[]).indexOf(row)
  return at < 0 ? null : { table, at, says: props.wrong.sentence }
})
provideForm(document, props, place)
const labelOf = ({ name, label }: (typeof tabs)[number]) => {
  const count = name === 'head' ? 0 : rowsOf(name).length
  const mark = place.value && name === place.value.table ? ' !' : ''
  return (count ? `${label} ${count}` : label) + mark
}
</script>

<template>
  <div class="form">
    <div v-if="unreadable" class="unreadable" role="alert">
      <p>The text can’t be shown as a form until it is put right: {{ unreadable }}</p>
      <NButton text type="primary" @click="emit('text')">To the text</NButton>
    </div>
    <p v-if="wrong && !place && !unreadable" class="unreadable" role="alert">{{ wrong.sentence }}</p>
    <NTabs
      v-if="!unreadable"
      :ref="asTablist"
      v-model:value="at"
      size="small"
      type="line"
      :animated="false"
      class="tabs"
    >
      <NTabPane
        v-for="tab in open"
        :key="tab.name"
        :name="tab.name"
        :tab="labelOf(tab)"
        class="scroll"
        :style="PANE"
        :tab-props="tabProps(tab.name)"
      >
        <component :is="tab.part" :keyed="tab.name === 'head' ? keyed : undefined" />
      </NTabPane>
    </NTabs>
  </div>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  background: var(--panel);
}
.unreadable {
  padding: 12px 16px;
  color: var(--bad);
}
.tabs {
  flex: 1;
  min-height: 0;
}
.tabs :deep(.n-tabs-nav) {
  padding: 0 16px;
}
.tabs :deep(.n-tabs-pane-wrapper),
.tabs :deep(.n-tab-pane) {
  min-height: 0;
}
</style>
