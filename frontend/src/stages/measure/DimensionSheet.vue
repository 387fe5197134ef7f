<script setup lang="ts">
// The dimension sheet of an element: its lines, what they come to, and what its make-up asks.
import { NButton } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { quantity } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import LinesDialog from './LinesDialog.vue'
import MakeUpInputs from './MakeUpInputs.vue'
import OfferBar from './OfferBar.vue'
import Quantities from './Quantities.vue'
import ReplaceBar from './ReplaceBar.vue'
import TakeBar from './TakeBar.vue'
import { useDimensionLines } from './lines'

type Line = Schemas['LineView']
const props = defineProps<{ element: Schemas['ElementView']; line: number | null; readonly?: boolean }>()
const emit = defineEmits<{ look: [line: number | null]; remove: [] }>()
const { table, columns, rows, bound, look: lookAt, sumsOf } = useDimensionLines(() => props.element)
const walk = useWalkStore()
const tally = useTally()
const asking = ref(false)
// Whether it is taken off in dimension lines, as make-ups are.
/** What has no dimension lines, and what is drawn of it on a sheet. */
const ON_GROUND: Record<string, string> = {
  earthwork: 'an earthwork.',
  trench: 'a network of trenches: along an open run that is drawn here its nodes and runs are laid.',
  route: 'a route: an open run that is drawn here is its centreline.',
}
const dimensioned = computed(() => props.element.measurer === 'make-up' && !props.element.allowance)
const projectId = useProjectId()
const column = ref<Schemas['Replacement']['field']>('note')
const chosen = ref<number[]>([])
const moving = ref<'lines' | 'element' | null>(null)
const replacing = ref(false)
const taking = ref(false)

function look(row: Row<Line>, column_: Column<Line>) {
  const { key } = column_
  if (key === 'times' || key === 'length' || key === 'width' || key === 'height' || key === 'note')
    column.value = key
  emit('look', row.data?.id ?? null)
  lookAt(row, column_)
}
function select(cells: { row: Row<Line>; column: Column<Line> }[]) {
  chosen.value = [...new Set(cells.flatMap(({ row }) => (row.data ? [row.data.id] : [])))]
  const sums = cells.length > 1 ? sumsOf(cells) : []
  const headline = props.element.quantities.find((q) => q.label === props.element.headline)
  tally.selected = [
    ...sums,
    ...(headline
      ? [{ label: props.element.mark, value: quantity(headline.net, headline.unit), unit: headline.unit }]
      : []),
  ]
}
function focus() {
  table.value?.activateRow(props.element.lines[0]?.id ?? 'new', 0)
  table.value?.focus()
}
defineExpose({ focus })
function taken(id: number) {
  taking.value = false
  emit('look', id)
  void nextTick(() => {
    table.value?.activateRow(id, undefined, true)
    table.value?.focus()
  })
}
function leaveMakeUp() {
  asking.value = false
  table.value?.focus()
}
watch(asking, (now) => now && (walk.folded = false))
watch(
  () => props.element,
  () => select([]),
  { immediate: true },
)
watch(
  [() => props.line, table],
  () => props.line !== null && table.value?.activateRow(props.line, undefined, true),
)
</script>

<template>
  <section
    class="dimension-sheet"
    :aria-label="`Dimension sheet of ${element.mark}`"
    @keydown.ctrl.h.prevent="replacing = true"
  >
    <div class="desk-head">
      <b>{{ element.mark }}, dimension sheet</b>
      <NButton v-if="dimensioned" text type="primary" :aria-expanded="asking" @click="asking = !asking">
        Make-up: {{ element.made_by }}
      </NButton>
      <span v-if="element.says.length" class="found" :title="element.says.join('\n')"
        >{{ element.says[0] }}{{ element.says.length > 1 ? ` (+${element.says.length - 1})` : '' }}</span
      >
      <span class="push"></span>
      <Menu v-if="!readonly" v-slot="{ close }" label="Element" right>
        <NButton text @click="((replacing = true), close())"> Find and replace <kbd>Ctrl H</kbd> </NButton>
        <NButton text :disabled="!chosen.length" @click="((moving = 'lines'), close())">
          Move or copy {{ chosen.length === 1 ? 'the line' : `${chosen.length} lines` }} to another element
        </NButton>
        <NButton
          v-if="dimensioned"
          text
          title="A length, an area or a number of another element, such as kerb along a route"
          @click="((taking = true), close())"
        >
          Take a line from another element
        </NButton>
        <NButton text @click="((moving = 'element'), close())">
          Copy {{ element.mark }} to a location
        </NButton>
        <NButton
          text
          title="With its lines and figures; undo brings it back"
          @click="(emit('remove'), close())"
        >
          Delete {{ element.mark }}
        </NButton>
      </Menu>
    </div>
    <OfferBar
      v-if="element.offer && !readonly"
      :element="element"
      :offer="element.offer"
      @done="table?.focus()"
    />
    <ReplaceBar
      v-if="replacing"
      :element="element.id"
      :mark="element.mark"
      :field="column"
      @close="((replacing = false), table?.focus())"
    />
    <TakeBar
      v-if="taking"
      :element="element"
      :line="line"
      @close="((taking = false), table?.focus())"
      @taken="taken"
    />
    <LinesDialog v-if="moving" :element="element" :lines="chosen" :what="moving" @close="moving = null" />
    <p v-if="!dimensioned" class="elsewhere quiet">
      <template v-if="element.measurer in ON_GROUND">
        {{ element.mark }} is {{ ON_GROUND[element.measurer] }}
        <RouterLink :to="`/projects/${projectId}/ground/${element.measurer}/${element.id}`"
          >It is worked out on the ground</RouterLink
        >.
      </template>
      <template v-else-if="element.allowance">
        {{ element.mark }} is an allowance, without dimension lines.
        <RouterLink :to="`/projects/${projectId}/rates/allowance/${element.id}`"
          >What it asks stands among the rates</RouterLink
        >.
      </template>
      <template v-else>
        {{ element.mark }} has typed bars only.
        <RouterLink :to="`/projects/${projectId}/bars?member=${element.id}`"
          >They stand in the bending schedule</RouterLink
        >.
      </template>
    </p>
    <div v-else class="lines">
      <LedgerTable
        ref="table"
        :label="`Dimension lines of ${element.mark}`"
        :columns="columns"
        :rows="rows"
        v-bind="{ ...bound, onLook: look }"
        @select="select"
      />
    </div>
    <Teleport defer to="#beside" :disabled="walk.folded">
      <Quantities :element="element" :readonly="readonly ?? false" />
    </Teleport>
    <Teleport v-if="asking" defer to="#in-place">
      <MakeUpInputs :element="element" :readonly="readonly ?? false" @close="leaveMakeUp" />
    </Teleport>
  </section>
</template>

<style scoped>
.elsewhere {
  margin: 0;
  padding: 10px 12px;
}
.dimension-sheet {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.lines {
  display: flex;
  flex: 1;
  min-height: 0;
}
.found {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--accent-ink);
}
</style>
