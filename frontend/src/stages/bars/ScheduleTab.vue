<script setup lang="ts">
// The bending schedule: a line for each mark, its shape drawn to its legs; bars of the engineer's are typed below.
import { NAlert, NButton, NModal } from 'naive-ui'
import { computed, ref, toRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useDetailing, useIssueChanges } from '../../api/bars'
import { ask, client, type Schemas } from '../../api/client'
import { useLocations } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import BarShape from './BarShape.vue'
import BarsIn from './BarsIn.vue'
import CornersPad from './CornersPad.vue'
import { useBarLines } from './lines'
import { massHere } from './masses'

type Bar = Schemas['BarView']
const props = defineProps<{ schedule: Schemas['ScheduleView']; member: number | null }>()
const route = useRoute()
const walk = useWalkStore()
const tally = useTally()
const { data: locations } = useLocations()
const place = ref<number | null>(null)
const location = computed(() => place.value ?? locations.value?.at(-1)?.id ?? null)
const { table, columns, rows, bound, bar, readonly, save, goTo, goToMember, projectId } = useBarLines(
  toRef(props, 'schedule'),
  location,
)
const taking = ref(false)
const comparing = ref(false)

watch(
  () => rows.value[0]?.data?.id,
  (id) => id && walk.offer(`bar:${id}`),
  { immediate: true },
)
watch(
  [() => route.query.at, () => props.member, table],
  () => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    if (kind === 'bar') void goTo(Number(id))
    else if (props.member !== null) void goToMember(props.member)
  },
  { immediate: true, flush: 'post' },
)
function select(cells: { row: Row<Bar>; column: Column<Bar> }[]) {
  const chosen = [
    ...new Map(cells.flatMap(({ row }) => (row.data ? [[row.data.id, row.data]] : []))).values(),
  ]
  const sum = (of: (b: Bar) => number) => chosen.reduce((total, each) => total + of(each), 0)
  tally.selected = [
    {
      label: 'Selected',
      value: shown(
        sum((b) => b.total),
        0,
      ),
      unit: 'nr',
    },
    { label: '', value: shown(lengthHere(sum((b) => b.total * b.cut))), unit: unitHere('m') },
    { label: '', value: massHere(sum((b) => b.mass)).text, unit: massHere(0).unit },
  ]
}
const path = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const issue = () => save(() => ask(client.POST('/api/projects/{project_id}/bars/issue', path.value)))
async function drawCorners(corners: [number, number][]) {
  const now = bar.value
  if (!now?.typed) return
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/bars/typed/{typed_bar}', {
        params: { path: { project_id: projectId.value, typed_bar: now.typed! } },
        body: { version: version ?? now.version, shape: '99', corners },
      }),
    ),
  )
}
const own = computed(() => bar.value?.shape === '99' && bar.value.typed !== null && !readonly.value)
// The pad takes room from the table: the bar it is of stays in view.
watch(own, (is) => is && table.value?.show(), { flush: 'post' })
const { data: changes } = useIssueChanges()
const { data: known } = useDetailing()
const sets = computed(() => [
  { value: '', label: 'the project’s' },
  ...(known.value ?? []).map((s) => ({ value: s.key, label: s.name })),
])
const ownMember = computed(() => props.schedule.members.find((m) => m.id === bar.value?.element))
const follow = (detailing: string) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: ownMember.value!.id } },
        body: { version: version ?? ownMember.value!.version, detailing },
      }),
    ),
  )
</script>

<template>
  <div class="tools">
    <template v-if="!readonly">
      <NButton size="small" @click="taking = true">Paste or read rows</NButton>
      <span class="quiet">New members in</span>
      <ChoiceField
        class="place"
        :value="location"
        :options="(locations ?? []).map((l) => ({ value: l.id, label: l.name }))"
        label="Location of members typed for the first time"
        @choose="place = $event"
      />
    </template>
    <span class="push"></span>
    <NButton v-if="schedule.letter" text type="primary" @click="comparing = true"
      >{{ changes?.length ?? schedule.changed }} changed since {{ schedule.letter }}</NButton
    >
    <NButton v-if="!readonly" size="small" @click="issue"
      >Issue as {{ schedule.letter ? 'the next revision' : 'revision A' }}</NButton
    >
  </div>
  <NAlert v-for="said in schedule.unscheduled" :key="said" type="warning" :show-icon="false" class="said">{{
    said
  }}</NAlert>
  <div v-if="!rows.length" class="empty">
    <h2>No bars yet</h2>
    <p>Elements with reinforcement give them as they are measured.</p>
  </div>
  <LedgerTable
    v-else
    ref="table"
    label="Bending schedule"
    :columns="columns"
    :rows="rows"
    :tall="40"
    v-bind="bound"
    @select="select"
  >
    <template #member="{ row }">
      <b v-if="row.data">{{ row.data.member }}</b>
      <span
        v-if="row.data?.findings.length"
        class="look"
        :title="row.data.findings.join(' ')"
        aria-hidden="true"
      >
        !</span
      >
      <span v-if="row.kind === 'ghost'" class="hint">type a bar</span>
    </template>
    <template #drawn="{ row }">
      <BarShape v-if="row.data" :outline="row.data.outline" :legs="row.data.legs" :width="84" :height="38" />
    </template>
  </LedgerTable>
  <p v-if="bar?.findings.length" class="told" role="status">
    {{ bar.member }} {{ bar.mark }}: {{ bar.findings.join(' ') }}
  </p>
  <CornersPad v-if="bar && own" :key="bar.id" :outline="bar.outline" @draw="drawCorners" />
  <Teleport v-if="bar && !walk.folded" defer to="#beside">
    <div class="large">
      <BarShape :outline="bar.outline" :legs="bar.legs" :width="306" :height="150" letters />
      <p class="quiet">{{ bar.member }} {{ bar.mark }}, {{ bar.label || 'typed' }}</p>
      <label v-if="ownMember" class="follows"
        ><span class="quiet">Rules of {{ bar.member }}</span
        ><ChoiceField
          :value="ownMember.detailing"
          :options="sets"
          :label="`Detailing rules of ${bar.member}`"
          :disabled="readonly"
          @choose="follow"
      /></label>
    </div>
  </Teleport>
  <BarsIn v-if="taking" :location="location" @done="taking = false" />
  <NModal v-model:show="comparing" preset="card" class="changes" :title="`Since revision ${schedule.letter}`">
    <p v-if="!changes?.length" class="quiet">Nothing.</p>
    <div v-for="c in changes" :key="`${c.member} ${c.mark} ${c.how}`" class="change">
      <b>{{ c.member }} {{ c.mark }}</b> <span class="quiet">{{ c.how }}</span>
      <p v-if="c.was" class="was">{{ c.was }}</p>
      <p v-if="c.now">{{ c.now }}</p>
    </div>
  </NModal>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.place {
  width: 190px;
}
.push {
  flex: 1;
}
.said {
  margin: 6px 12px;
}
.look {
  color: var(--accent-ink);
  font-weight: 700;
}
.hint {
  color: #756f64;
}
.told {
  margin: 0;
  padding: 6px 14px;
  border-top: 1px solid var(--rule);
  background: var(--accent-soft);
}
.large {
  padding: 4px 16px 8px;
}
.large p {
  margin: 0;
}
.follows {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  align-items: center;
  padding-top: 6px;
}
.change {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
.change p {
  margin: 0;
}
.was {
  color: var(--quiet);
  text-decoration: line-through;
}
</style>
