<script setup lang="ts">
// Levels as they came: what looks wrong is marked on the plan, listed, and decided by place or by kind.
import { NButton } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import { usePoints, useSurvey } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { shown } from '../../desk/numbers'
import GroundPlan, { type PlanLevel } from '../../desk/plan/GroundPlan.vue'
import type { PlanShape } from '../../desk/plan/looks'
import { useWalkStore } from '../../desk/walk'
import SheetPicking from './SheetPicking.vue'
import { useLevels, type Level } from './levels'

const props = defineProps<{ survey: number; readonly: boolean }>()
const walk = useWalkStore()
const { data: survey } = useSurvey(() => props.survey)
const { data: points } = usePoints(() => props.survey)
const only = ref('')
const onSheet = ref(true)
const { table, columns, rows, bound, levels, total, line, save, isTyped, goTo, decide, undecide, projectId } =
  useLevels(survey, only)
const plan = ref<InstanceType<typeof GroundPlan>>()
watch(() => props.survey, () => walk.offer(`survey:${props.survey}`), { immediate: true }) // prettier-ignore
// Those in doubt stand first, once it is known whether there are any.
const stop = watch(
  () => (survey.value?.state === 'fresh' ? survey.value.undecided : undefined),
  (open) => {
    if (open === undefined) return
    if (open && !isTyped.value) only.value = 'doubt'
    void nextTick(() => stop())
  },
  { immediate: true },
)

const chosen = ref<Level[]>([])
function select(cells: { row: Row<Level>; column: Column<Level> }[]) {
  chosen.value = [
    ...new Map(cells.flatMap(({ row }) => (row.data ? [[row.data.id, row.data]] : []))).values(),
  ]
}
const shownLevels = computed<PlanLevel[]>(() => {
  const { points: plain = [], doubtful = [], kinds = [] } = points.value ?? {}
  const here = line.value?.at
  return [
    ...plain.map(([e, n, z, at]) => ({ at, place: [e, n], level: z, strong: at === here })),
    ...doubtful.map(([e, n, z, at], k) => ({
      at,
      place: [e, n],
      level: z < -90000 ? null : z,
      kind: kinds[k],
      strong: at === here,
    })),
  ]
})
const shapes = computed<PlanShape[]>(() =>
  (points.value?.lines ?? []).map((l, at) => {
    const places = l.corners.map((c) => [c[0] ?? 0, c[1] ?? 0])
    const kind = l.kind as PlanShape['kind']
    const closed = kind === 'boundary' || kind === 'hole'
    return { key: `line:${at}`, kind, line: closed ? [...places, places[0]] : places }
  }),
)
const onLines = computed(() => {
  const lines = points.value?.lines ?? []
  const corners = lines.reduce((sum, l) => sum + l.corners.length, 0)
  return corners ? `, and ${shown(corners, 0)} corners of ${shown(lines.length, 0)} lines` : ''
})
// The level in focus comes into view.
watch(
  () => line.value?.at,
  () => {
    const here = line.value
    if (here?.east != null && here.north != null)
      plan.value?.show([here.east, here.north, here.east, here.north])
  },
)
const path = computed(() => ({ params: { path: { project_id: projectId.value, survey: props.survey } } }))
const change = (fields: Partial<Schemas['SurveyChange']>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/surveys/{survey}', {
        ...path.value,
        body: { version: version ?? survey.value!.version, ...fields },
      }),
    ),
  )
const remove = () => save(() => ask(client.DELETE('/api/projects/{project_id}/surveys/{survey}', path.value)))
const decideKind = (kind: string, does: 'keep' | 'leave out') => save(() => decide([], does, kind))
// The cursor stays where it was: the next level is decided from there.
async function decideChosen(does: 'keep' | 'leave out') {
  const places = chosen.value.map((each) => each.at)
  await save(() => decide(places, does, chosen.value[0]?.doubts[0] ?? ''))
  table.value?.focus()
}
async function takeBack() {
  await save(() => undecide(chosen.value.map((each) => each.at)))
  table.value?.focus()
}
const UNITS = ['m', 'mm', 'cm', 'km', 'ft', 'us-ft', 'in'].map((value) => ({
  value: value as Schemas['SurveyChange']['unit'],
  label: value === 'us-ft' ? 'US survey ft' : String(value),
}))
const ORIGIN: Record<string, string> = {
  typed: 'typed',
  sheet: 'picked off a sheet',
  feed: 'from the survey feed',
}
const doubtful = computed(() => (survey.value?.doubts ?? []).filter((d) => d.number || d.general))
</script>

<template>
  <template v-if="survey">
    <div class="desk-head">
      <EntryField
        class="name"
        :value="survey.name"
        label="Name of the survey"
        :disabled="readonly"
        @change="change({ name: $event })"
      />
      <span class="num">{{ shown(survey.used, 0) }}</span>
      <span class="quiet told-of"
        >of {{ shown(survey.number, 0) }} levels used{{ onLines }},
        {{ ORIGIN[survey.origin] ?? survey.file }}</span
      >
      <span v-if="survey.state === 'working'" class="quiet" role="status">being looked through…</span>
      <span class="push"></span>
      <NButton v-if="survey.sheet" text type="primary" @click="onSheet = !onSheet">{{
        onSheet ? 'On the plan' : 'On the sheet'
      }}</NButton>
      <Menu v-if="!readonly && !isTyped" label="Units, columns" right>
        <label class="asked"
          >Easting, northing in
          <ChoiceField
            class="unit"
            :value="survey.unit as 'm'"
            :options="UNITS as never"
            label="Unit of easting and northing"
            @choose="change({ unit: $event })"
        /></label>
        <label class="asked"
          >Levels in
          <ChoiceField
            class="unit"
            :value="survey.level_unit as 'm'"
            :options="UNITS as never"
            label="Unit of levels"
            @choose="change({ level_unit: $event })"
        /></label>
        <NButton text @click="change({ swapped: !survey.swapped })">{{
          survey.swapped ? 'Easting and northing as in the file' : 'Swap easting and northing'
        }}</NButton>
      </Menu>
      <NButton v-if="!readonly" text @click="remove">Delete</NButton>
    </div>
    <SheetPicking v-if="onSheet && survey.sheet" :survey="survey" :readonly="readonly" />
    <GroundPlan
      v-else
      ref="plan"
      class="map"
      :label="`Plan of ${survey.name}`"
      :shapes="shapes"
      :levels="shownLevels"
      :bounds="survey.bounds"
      tool=""
      @pick-level="goTo"
    />
    <div class="below">
      <section class="doubts" aria-label="What looks wrong">
        <p class="pick">
          <NButton text :class="{ on: only === '' }" @click="only = ''">All levels</NButton>
          <NButton text :class="{ on: only === 'doubt' }" @click="only = 'doubt'">In doubt</NButton>
        </p>
        <p v-if="!doubtful.length && survey.state === 'fresh'" class="quiet">Nothing looks wrong.</p>
        <div v-for="d in doubtful" :key="d.kind" class="doubt" :class="{ on: only === d.kind }">
          <NButton text class="laid what" :title="d.says" @click="only = d.general ? only : d.kind">
            <b :class="{ open: d.undecided }">{{ d.name }}</b>
            <span class="num">{{ d.number || '' }}</span>
            <span class="quiet">{{
              d.undecided
                ? `${d.undecided} open`
                : d.kind === 'duplicate' || d.kind === 'outside'
                  ? 'told'
                  : 'decided'
            }}</span>
          </NButton>
          <p v-if="d.general" class="says">{{ d.says }}</p>
          <p v-if="!readonly" class="acts">
            <NButton
              v-if="d.kind === 'swapped'"
              text
              type="primary"
              @click="change({ swapped: !survey.swapped })"
              >swap columns</NButton
            >
            <NButton
              v-if="d.kind !== 'missing' && d.kind !== 'duplicate'"
              text
              type="primary"
              @click="decideKind(d.kind, 'keep')"
              >{{ d.general ? 'it is right' : 'keep all' }}</NButton
            >
            <NButton v-if="!d.general" text type="primary" @click="decideKind(d.kind, 'leave out')"
              >leave all out</NButton
            >
          </p>
        </div>
        <p v-for="says in survey.told" :key="says" class="quiet told">{{ says }}</p>
        <p v-for="says in survey.said" :key="says" class="quiet told">{{ says }}</p>
      </section>
      <div class="table">
        <p v-if="chosen.length && !readonly && levels.size" class="tools">
          <span class="quiet">{{ chosen.length === 1 ? 'This level' : `These ${chosen.length}` }}:</span>
          <NButton text type="primary" @click="decideChosen('leave out')">leave out</NButton>
          <NButton text type="primary" @click="decideChosen('keep')">keep</NButton>
          <NButton text type="primary" @click="takeBack">take the decision back</NButton>
          <span class="quiet">or type its level over</span>
        </p>
        <LedgerTable
          v-if="rows.length"
          ref="table"
          :key="only"
          :label="`Levels of ${survey.name}`"
          :columns="columns"
          :rows="rows"
          v-bind="bound"
          @select="select"
        />
        <p v-else class="quiet nothing">{{ total ? '' : only ? 'None in doubt.' : 'No levels yet.' }}</p>
      </div>
    </div>
  </template>
</template>

<style scoped>
.name {
  flex: none;
  width: 190px;
  font-weight: 600;
}
.told-of {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.map {
  flex: 1 1 50%;
}
.below {
  display: grid;
  grid-template-columns: 226px minmax(0, 1fr);
  flex: 1 1 42%;
  min-height: 0;
  border-top: 1px solid var(--ink);
}
.doubts {
  padding: 4px 0;
  overflow-y: auto;
  border-right: 1px solid var(--rule);
}
.doubts p {
  margin: 0;
  padding: 2px 12px;
}
.pick {
  display: flex;
  gap: 14px;
}
.pick .on {
  font-weight: 600;
  color: var(--ink);
}
.doubt {
  padding: 3px 12px;
  border-top: 1px solid var(--rule);
}
.doubt.on {
  background: var(--accent-soft);
}
.doubt p {
  padding: 0;
}
.what {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 8px;
  width: 100%;
}
.open {
  color: var(--accent-ink);
}
.says {
  font-size: 12px;
}
.acts {
  display: flex;
  gap: 14px;
}
.told {
  font-size: 12px;
}
.table {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.tools {
  display: flex;
  white-space: nowrap;
  overflow: hidden;
  gap: 12px;
  margin: 0;
  padding: 3px 12px;
  border-bottom: 1px solid var(--rule);
}
.nothing {
  padding: 8px 14px;
}
.asked {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  padding: 2px 6px;
}
.unit {
  width: 104px;
}
</style>
