<script setup lang="ts">
// A make-up as a form: what it asks, what it works out, its tables, its results and its picture. The text beside it is
// the same thing; what is put in here is written there at once.
import { NCheckbox, NTabPane, NTabs } from 'naive-ui'
import { computed, provide, ref, watch } from 'vue'
import { useProject } from '../../api/project'
import type { Schemas } from '../../api/client'
import { asOptions } from '../../desk/ChoiceField.vue'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'
import FormSeveral from './FormSeveral.vue'
import FormulaField from './FormulaField.vue'
import ValueTable, { type ValueRow } from './ValueTable.vue'
import {
  isUsed,
  nameFrom,
  read,
  rename,
  TABLES,
  write,
  type Bands,
  type Caution,
  type Choice,
  type Input,
  type MakeUpDocument,
  type Output,
  type Part,
  type Table,
} from './document'
import { VOCABULARY } from './vocabulary'

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
const { data: project } = useProject()
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

const tabs: { name: Table | 'head'; label: string }[] = [
  { name: 'head', label: 'What it is' },
  { name: 'inputs', label: 'It asks' },
  { name: 'bands', label: 'Tables by size' },
  { name: 'derived', label: 'Worked out' },
  { name: 'outputs', label: 'It gives' },
  { name: 'cautions', label: 'It warns' },
  { name: 'sketch', label: 'Picture' },
]
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
/** The row a refusal is about: it names its place, its words or its name. */
const place = computed<{ table: Table; at: number } | null>(() => {
  if (!props.wrong) return null
  const { field } = props.wrong
  const loc = /^(\w+) → (\d+)/.exec(field)
  const table = loc && TABLES.find((each) => each === loc[1])
  if (table) return { table, at: Number(loc[2]) }
  for (const each of TABLES) {
    const row = rowsOf(each).findIndex((r) =>
      [
        r.label,
        r.key,
        r.says && `caution “${r.says}”`,
        `a pack of ${r.label}`,
        `the sketch of ${r.label}`,
      ].includes(field),
    )
    if (row >= 0 && !(each !== 'sketch' && field.startsWith('the sketch'))) return { table: each, at: row }
  }
  return null
})
const wrongIn = (table: Table) =>
  place.value?.table === table ? { at: place.value.at, says: props.wrong!.sentence } : null
const labelOf = ({ name, label }: (typeof tabs)[number]) => {
  const count = name === 'head' ? 0 : rowsOf(name).length
  const mark = place.value && name === place.value.table ? ' !' : ''
  return (count ? `${label} ${count}` : label) + mark
}

// What formulas are offered: names as they stand in the form, and what was known of them when it last held.
const DIMENSIONS: Record<string, string> = {
  times: 'how many', length: 'of the line', width: 'of the line', height: 'of the line', area: 'of the line',
  girth: 'round the area', void_girth: 'round its voids', deduct: '1 for a ddt line',
} // prettier-ignore
const vocabulary = computed(() => {
  const own = [
    ...(document.value.inputs ?? []).map((i): [string, string] => [i.key, i.label]),
    ...(document.value.derived ?? []).map((d): [string, string] => [d.key, d.label]),
    ...(document.value.bands ?? []).flatMap((b) =>
      Object.keys(b.rows?.[0]?.sets ?? {}).map((name): [string, string] => [name, b.label]),
    ),
  ]
  const known = props.names.map((n): [string, string] => [n.name, `${n.words} ${n.unit}`.trim()])
  const names = new Map([...Object.entries(DIMENSIONS), ...own, ...known].filter(([name]) => name))
  return [
    ...[...names].map(([label, detail]) => ({ label, detail, type: 'variable', boost: 1 })),
    ...(props.words?.functions ?? []).map((f) => ({
      label: f.name,
      detail: `(${f.parameters.join(', ')})`,
      info: f.source,
      apply: `${f.name}(`,
      type: 'function',
    })),
  ]
})
provide(VOCABULARY, vocabulary)

const units = computed(() => asOptions(['', ...(project.value?.units ?? [])]))
const unitOptions = computed(() => units.value.map((u) => (u.value ? u : { value: '', label: 'a number' })))
const families = computed(() => asOptions(props.words?.families ?? []))
const takenAway = [
  { value: 'subtract', label: 'takes away' },
  { value: 'ignore', label: 'leaves it as it is' },
  { value: 'add', label: 'adds, as an edge of a void does' },
  { value: 'only', label: 'is all that counts, as for reveals' },
]
const kinds = [
  { value: 'number', label: 'a number with a unit' },
  { value: 'choices', label: 'one of some choices' },
  { value: 'bars', label: 'a bar size, by the detailing rules' },
  { value: 'concrete', label: 'a concrete, by the detailing rules' },
  { value: 'words', label: 'words' },
]
const kindOf = (i: Input) => i.table || (i.choices?.length ? 'choices' : i.words ? 'words' : 'number')
function turn(i: Input, kind: string) {
  if (kind === kindOf(i)) return
  delete i.choices
  delete i.table
  delete i.words
  delete i.minimum
  if (kind === 'words') i.words = true
  else if (kind === 'choices') {
    i.choices = [1, 2].map((n) => ({ label: `choice ${n}`, sets: { [`${i.key || 'value'}_is`]: String(n) } }))
    i.default = 'choice 1'
  } else if (kind !== 'number') {
    i.table = kind
    i.prefix = `${i.key}_`
    i.default = ''
  }
  if (kind !== 'number') i.unit = ''
}
/** Words give a name as long as it isn't one of its own. */
function call(row: Input | Bands | Output | { key: string; label: string }, label: string) {
  const follows =
    (row.key === '' || row.key === nameFrom(row.label)) && !(row.key && isUsed(document.value, row.key))
  row.label = label
  if (!follows) return
  if (document.value.headline === row.key) document.value.headline = nameFrom(label)
  row.key = nameFrom(label)
}
function callIt(name: string) {
  const keyOf = (words: string) => nameFrom(words).replaceAll('_', '-')
  const follows = !props.keyed && [keyOf(document.value.name), 'our-own'].includes(document.value.key)
  document.value.name = name
  if (follows) document.value.key = keyOf(name)
}
function nameAs(row: { key: string }, key: string) {
  if (!vocabulary.value.some((each) => each.label === key)) rename(document.value, row.key, key)
  if (document.value.headline === row.key) document.value.headline = key
  row.key = key
}
const numberIn = (entry: string) =>
  entry.trim() === '' || Number.isNaN(Number(entry)) ? undefined : Number(entry)
const asChoices = (i: Input) => (i.choices ?? []) as unknown as (ValueRow & Record<string, unknown>)[]
const asBands = (b: Bands) => (b.rows ?? []) as unknown as (ValueRow & Record<string, unknown>)[]
const tellInput = (i: Input): [string, string] => [
  i.label,
  [i.key, kindOf(i) === 'number' ? `${i.default ?? ''} ${i.unit ?? ''}`.trim() : kindOf(i)]
    .filter(Boolean)
    .join(' · '),
]
const makeOutput = (): Output => ({
  key: '', label: '', unit: 'm³', family: 'concrete', formula: 'times * length * width * height', deducts: 'subtract',
}) // prettier-ignore
const makePart = (): Part => ({
  label: '', family: 'concrete', view: 'section',
  points: [['0*m', '0*m'], ['length', '0*m'], ['length', 'height'], ['0*m', 'height']],
}) // prettier-ignore
const parts = computed(() =>
  (props.words?.parts ?? []).map((part) => ({ value: part.name, label: `${part.name}: ${part.gives}` })),
)
const figures = asOptions(['count', 'run', 'area'])
const dimensions = asOptions(['length', 'width', 'height', 'area'])
const outputs = computed(() =>
  (document.value.outputs ?? []).map((o) => ({ value: o.key, label: o.label || o.key })),
)
</script>

<template>
  <div class="form">
    <div v-if="unreadable" class="unreadable" role="alert">
      <p>The text can’t be shown as a form until it is put right: {{ unreadable }}</p>
      <button class="plain link" @click="emit('text')">To the text</button>
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
        v-for="tab in tabs"
        :key="tab.name"
        :name="tab.name"
        :tab="labelOf(tab)"
        class="scroll"
        :style="PANE"
        :tab-props="tabProps(tab.name)"
      >
        <div v-if="tab.name === 'head'" class="fields">
          <FormField
            :model-value="document.name"
            label="Name"
            :span="6"
            :readonly="readonly"
            @update:model-value="callIt"
          />
          <FormField
            v-model="document.key"
            label="Key: elements know it by this"
            :span="6"
            kind="name"
            :readonly="readonly || keyed"
          />
          <FormField
            :model-value="document.about ?? ''"
            label="What it is for, and what it leaves to others"
            :span="12"
            :readonly="readonly"
            @update:model-value="document.about = $event"
          />
          <FormSeveral
            v-model="document.needs"
            label="A line counts once it has its"
            :span="6"
            :options="dimensions"
            nothing="nothing"
            :readonly="readonly"
          />
          <FormSeveral
            v-model="document.figures"
            label="Measured on a sheet by a"
            :span="6"
            :options="figures"
            nothing="typed lines only"
            :readonly="readonly"
          />
          <FormField
            v-model="document.headline"
            label="The result it is known by"
            :span="6"
            :options="outputs"
            :readonly="readonly"
          />
          <FormField
            :model-value="document.steel ?? ''"
            label="Its steel is held against the band of"
            :span="6"
            :options="[{ value: '', label: 'nothing' }, ...asOptions(words?.steel ?? [])]"
            :readonly="readonly"
            @update:model-value="document.steel = $event"
          />
          <FormSeveral
            v-model="document.uses"
            label="It takes over, questions and results, from"
            :span="12"
            :options="parts"
            nothing="nothing that several make-ups share"
            :readonly="readonly"
          />
        </div>

        <FormRows
          v-else-if="tab.name === 'inputs'"
          v-slot="{ row }"
          :rows="document.inputs!"
          :told="tellInput"
          :make="(): Input => ({ key: '', label: '', unit: 'm', default: '0', minimum: 0 })"
          add="Another question"
          :readonly="readonly"
          :wrong="wrongIn('inputs')"
        >
          <FormField
            :model-value="row.label"
            label="The question"
            :span="6"
            :readonly="readonly"
            @update:model-value="call(row, $event)"
          />
          <FormField
            :model-value="row.key"
            label="Its name in formulas"
            kind="name"
            :readonly="readonly"
            @update:model-value="nameAs(row, $event)"
          />
          <FormField
            :model-value="row.group ?? ''"
            label="Under the heading"
            :readonly="readonly"
            @update:model-value="row.group = $event"
          />
          <FormField
            :model-value="kindOf(row)"
            label="Answered by"
            :span="4"
            :options="kinds"
            :readonly="readonly"
            @update:model-value="turn(row, $event)"
          />
          <FormField
            v-if="kindOf(row) === 'number'"
            :model-value="row.unit ?? ''"
            label="Unit"
            :span="2"
            :options="unitOptions"
            :readonly="readonly"
            @update:model-value="row.unit = $event"
          />
          <FormField
            v-if="kindOf(row) === 'choices'"
            :model-value="row.default ?? ''"
            label="When nothing is chosen"
            :options="(row.choices ?? []).map((c: Choice) => ({ value: c.label, label: c.label }))"
            :readonly="readonly"
            @update:model-value="row.default = $event"
          />
          <FormField
            v-else-if="!row.rule"
            :model-value="row.default ?? ''"
            label="When nothing is entered"
            :span="3"
            :readonly="readonly"
            @update:model-value="row.default = $event"
          />
          <FormField
            v-else
            :model-value="row.rule"
            label="By the detailing rules’"
            :readonly="readonly"
            @update:model-value="row.rule = $event"
          />
          <FormField
            v-if="kindOf(row) === 'number'"
            :model-value="String(row.minimum ?? '')"
            label="Not below"
            :span="3"
            :readonly="readonly"
            @update:model-value="row.minimum = numberIn($event)"
          />
          <FormField
            v-if="row.table"
            :model-value="row.prefix ?? ''"
            label="Its values’ names begin with"
            kind="name"
            :readonly="readonly"
            @update:model-value="row.prefix = $event"
          />
          <FormField
            :model-value="row.hint ?? ''"
            label="A hint for whoever answers"
            :span="12"
            :readonly="readonly"
            @update:model-value="row.hint = $event"
          />
          <ValueTable
            v-if="kindOf(row) === 'choices'"
            :rows="asChoices(row)"
            :heads="[{ key: 'label', label: 'Choice', placeholder: 'C30/37' }]"
            :readonly="readonly"
            @change="row.choices = $event as unknown as Choice[]"
            @renamed="(from, to) => rename(document, from, to)"
          />
        </FormRows>

        <FormRows
          v-else-if="tab.name === 'bands'"
          v-slot="{ row }"
          :rows="document.bands!"
          :told="(b: Bands): [string, string] => [b.label, `by ${b.by}, ${b.rows.length} rows`]"
          :make="
            (): Bands => ({
              key: '',
              label: '',
              by: 'length',
              rows: [{ from: '0 m', below: '1 m', sets: { depth: '0.2 m' } }],
            })
          "
          add="Another table"
          :readonly="readonly"
          :wrong="wrongIn('bands')"
        >
          <FormField
            :model-value="row.label"
            label="What it is a table of"
            :span="6"
            :readonly="readonly"
            @update:model-value="call(row, $event)"
          />
          <FormField v-model="row.key" label="Its name" kind="name" :readonly="readonly" />
          <FormField
            v-model="row.by"
            label="Read by"
            kind="formula"
            :readonly="readonly"
            hint="The name of the value that picks the row"
          />
          <ValueTable
            :rows="asBands(row)"
            :heads="[
              { key: 'from', label: 'From', placeholder: '1.2 m' },
              { key: 'below', label: 'to below', placeholder: '2.4 m' },
            ]"
            :readonly="readonly"
            @change="row.rows = $event as unknown as Bands['rows']"
            @renamed="(from, to) => rename(document, from, to)"
          />
        </FormRows>

        <FormRows
          v-else-if="tab.name === 'derived'"
          v-slot="{ row }"
          :rows="document.derived!"
          :told="(d): [string, string] => [d.label, `${d.key} = ${d.formula}`]"
          :make="() => ({ key: '', label: '', unit: 'm', formula: 'length' })"
          add="Another value"
          :readonly="readonly"
          :wrong="wrongIn('derived')"
        >
          <FormField
            :model-value="row.label"
            label="What it is"
            :span="6"
            :readonly="readonly"
            @update:model-value="call(row, $event)"
          />
          <FormField
            :model-value="row.key"
            label="Its name in formulas"
            :span="4"
            kind="name"
            :readonly="readonly"
            @update:model-value="nameAs(row, $event)"
          />
          <FormField
            :model-value="row.unit ?? ''"
            label="Unit"
            :span="2"
            :options="unitOptions"
            :readonly="readonly"
            @update:model-value="row.unit = $event"
          />
          <FormField v-model="row.formula" label="Formula" :span="12" kind="formula" :readonly="readonly" />
        </FormRows>

        <FormRows
          v-else-if="tab.name === 'outputs'"
          v-slot="{ row }"
          :rows="document.outputs!"
          :told="(o: Output): [string, string] => [o.label, `${o.unit} = ${o.formula}`]"
          :make="makeOutput"
          add="Another result"
          :readonly="readonly"
          :wrong="wrongIn('outputs')"
        >
          <FormField
            :model-value="row.label"
            label="What comes of it"
            :span="4"
            :readonly="readonly"
            @update:model-value="call(row, $event)"
          />
          <FormField
            :model-value="row.key"
            label="Its name"
            :span="3"
            kind="name"
            :readonly="readonly"
            @update:model-value="nameAs(row, $event)"
          />
          <FormField
            v-model="row.unit"
            label="Unit"
            :span="2"
            :options="unitOptions.slice(1)"
            :readonly="readonly"
          />
          <FormField v-model="row.family" label="Family" :options="families" :readonly="readonly" />
          <FormField
            v-model="row.formula"
            label="Formula, for one dimension line"
            :span="12"
            kind="formula"
            :readonly="readonly"
          />
          <FormField
            :model-value="row.deducts ?? 'subtract'"
            label="A ddt line"
            :span="4"
            :options="takenAway"
            :readonly="readonly"
            @update:model-value="row.deducts = $event"
          />
          <FormField
            :model-value="String(row.waste ?? 0)"
            label="Waste %"
            :span="2"
            :readonly="readonly"
            @update:model-value="row.waste = numberIn($event)"
          />
          <div class="cell six checks">
            <NCheckbox
              :checked="Boolean(row.optional)"
              :disabled="readonly"
              @update:checked="row.optional = $event"
              >not shown while it is zero</NCheckbox
            >
            <NCheckbox
              v-if="row.unit === 'nr'"
              :checked="Boolean(row.parts)"
              :disabled="readonly"
              @update:checked="row.parts = $event"
              >can be had in parts</NCheckbox
            >
          </div>
          <FormField
            :model-value="row.item ?? ''"
            label="Words of its bill item; {name} puts an answer in; empty for a material"
            :span="8"
            :readonly="readonly"
            @update:model-value="row.item = $event"
          />
          <FormField
            :model-value="row.section ?? ''"
            label="In the section"
            :span="4"
            :readonly="readonly"
            @update:model-value="row.section = $event"
          />
          <FormField
            :model-value="row.purchase?.pack ?? ''"
            label="Bought by the"
            placeholder="bag of {bag}"
            :span="4"
            :readonly="readonly"
            @update:model-value="
              row.purchase = $event ? { pack: $event, holds: row.purchase?.holds ?? '25*kg' } : undefined
            "
          />
          <FormField
            v-if="row.purchase"
            v-model="row.purchase.holds"
            label="which holds"
            :span="8"
            kind="formula"
            :readonly="readonly"
          />
        </FormRows>

        <FormRows
          v-else-if="tab.name === 'cautions'"
          v-slot="{ row }"
          :rows="document.cautions!"
          :told="(c): [string, string] => [c.says, c.when]"
          :make="(): Caution => ({ when: 'length > 10*m', says: '' })"
          add="Another warning"
          :readonly="readonly"
          :wrong="wrongIn('cautions')"
        >
          <FormField v-model="row.says" label="What it says" :span="8" :readonly="readonly" />
          <FormField
            :model-value="row.on ?? 'adds'"
            label="of a line that"
            :span="4"
            :options="[
              { value: 'adds', label: 'adds' },
              { value: 'ddts', label: 'is deducted' },
            ]"
            :readonly="readonly"
            @update:model-value="row.on = $event"
          />
          <FormField v-model="row.when" label="When" :span="12" kind="formula" :readonly="readonly" />
        </FormRows>

        <FormRows
          v-else
          v-slot="{ row }"
          :rows="document.sketch!"
          :told="
            (p: Part): [string, string] => [p.label, `${p.view ?? 'section'}, ${p.points.length} corners`]
          "
          :make="makePart"
          add="Another outline"
          :readonly="readonly"
          :wrong="wrongIn('sketch')"
        >
          <FormField v-model="row.label" label="What is drawn" :span="4" :readonly="readonly" />
          <FormField v-model="row.family" label="Family" :options="families" :readonly="readonly" />
          <FormField
            :model-value="row.view ?? 'section'"
            label="Seen in"
            :options="asOptions(['section', 'plan', 'elevation'])"
            :readonly="readonly"
            @update:model-value="row.view = $event"
          />
          <div class="cell two checks">
            <NCheckbox
              :checked="Boolean(row.hollow)"
              :disabled="readonly"
              @update:checked="row.hollow = $event"
              >hollow</NCheckbox
            >
          </div>
          <span class="five quiet">Corners, across in m</span><span class="five quiet">and up in m</span>
          <template v-for="(point, n) in row.points" :key="n">
            <div class="cell five">
              <FormulaField v-model="point[0]" :label="`Corner ${n + 1}, across`" :readonly="readonly" />
            </div>
            <div class="cell five">
              <FormulaField v-model="point[1]" :label="`Corner ${n + 1}, up`" :readonly="readonly" />
            </div>
            <div class="cell two">
              <button
                v-if="!readonly && row.points.length > 1"
                class="plain quiet"
                :aria-label="`Take corner ${n + 1} out`"
                @click="row.points.splice(n, 1)"
              >
                ×
              </button>
            </div>
          </template>
          <div v-if="!readonly" class="cell twelve">
            <button class="plain link" @click="row.points.push(['0*m', '0*m'])">+ corner</button>
          </div>
          <FormField
            v-if="row.points.length === 1"
            :model-value="row.radius ?? ''"
            label="Radius of the circle there"
            kind="formula"
            :span="6"
            :readonly="readonly"
            @update:model-value="row.radius = $event"
          />
        </FormRows>
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
.fields {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  align-items: end;
  gap: 10px;
}
.cell {
  display: grid;
  min-width: 0;
}
.two {
  grid-column: span 2;
}
.five {
  grid-column: span 5;
}
.six {
  grid-column: span 6;
}
.twelve {
  grid-column: 1 / -1;
}
.checks {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  min-height: 28px;
}
</style>
