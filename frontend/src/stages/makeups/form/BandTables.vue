<script setup lang="ts">
// The tables by size of a make-up, such as the one of its lintels.
import { computed, ref } from 'vue'
import { usePutOnShelf, useShelves } from '../../../api/shelves'
import ChoiceField from '../../../desk/ChoiceField.vue'
import PutOnShelf from '../../../desk/PutOnShelf.vue'
import { useNotices } from '../../../desk/notices'
import { read, rename, writeSizes, type Bands } from '../document'
import { useForm } from './form'
import FormField from './FormField.vue'
import FormRows from './FormRows.vue'
import ValueTable, { type ValueRow } from './ValueTable.vue'

const { document, call, wrongIn, readonly } = useForm()
const notices = useNotices()
const placed = ref('')
const shelves = useShelves()
const putOnShelf = usePutOnShelf()
const tables = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents
      .filter((each) => each.kind === 'sizes')
      .map((each) => ({
        value: each.source,
        label: `${each.name}, ${each.number} (${shelf.name})`,
      })),
  ),
)
async function put(shelf: number, table: Bands) {
  try {
    await putOnShelf(shelf, 'sizes', writeSizes(table))
    placed.value = `“${table.label}” stands there now.`
  } catch (error) {
    notices.show(error)
  }
}
/** The rows of a table that stands on a shelf; its name here stays, as formulas may use it. */
function take(source: string, table: Bands) {
  const taken = read(source) as unknown as Bands
  Object.assign(table, { label: taken.label, by: taken.by, rows: taken.rows })
}
const asBands = (b: Bands) => (b.rows ?? []) as unknown as (ValueRow & Record<string, unknown>)[]
</script>

<template>
  <FormRows
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
    :wrong="wrongIn('bands')"
  >
    <FormField
      :model-value="row.label"
      label="What it is a table of"
      :span="6"
      @update:model-value="call(row, $event)"
    />
    <FormField v-model="row.key" label="Its name" kind="name" />
    <FormField
      v-model="row.by"
      label="Read by"
      kind="formula"
      hint="The name of the value that picks the row"
    />
    <ValueTable
      :rows="asBands(row)"
      :heads="[
        { key: 'from', label: 'From', placeholder: '1.2 m' },
        { key: 'below', label: 'to below', placeholder: '2.4 m' },
      ]"
      @change="row.rows = $event as unknown as Bands['rows']"
      @renamed="(from, to) => rename(document, from, to)"
    />
    <p v-if="shelves?.length" class="shelved">
      <ChoiceField
        v-if="tables.length && !readonly"
        :value="null"
        :options="tables"
        label="Take a table from a shelf"
        placeholder="Take from a shelf…"
        @choose="take($event, row)"
      />
      <PutOnShelf label="Put the table on a shelf" @put="put($event, row)" />
      <span class="quiet" role="status">{{ placed }}</span>
    </p>
  </FormRows>
</template>

<style scoped>
.shelved {
  display: flex;
  gap: 8px;
  align-items: center;
  width: 100%;
  margin: 6px 0 0;
}
.shelved > * {
  flex: 0 0 170px;
}
</style>
