<script setup lang="ts">
// A network of trenches: drawn on the plan, its runs and nodes typed, its long section and sections looked through.
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useGround, useLong, useNetwork, useTrenchSection } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import { shown } from '../../desk/numbers'
import GroundPlan from '../../desk/plan/GroundPlan.vue'
import type { PlanShape } from '../../desk/plan/looks'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import BelowPlan from './BelowPlan.vue'
import { useBeneath } from './beneath'
import LongSection from './LongSection.vue'
import PaperDialog from './PaperDialog.vue'
import SoilFields from './SoilFields.vue'
import TrenchSection from './TrenchSection.vue'
import TrenchShares from './TrenchShares.vue'
import { useNodes, useRuns } from './trenches'
import { useWork } from './work'
import WorkName from './WorkName.vue'

const props = defineProps<{ element: number; readonly: boolean }>()
const walk = useWalkStore()
const tally = useTally()
const { data: net } = useNetwork(() => props.element)
const { rename, remove, bill, save, projectId } = useWork(net)
const { data: ground } = useGround()
const { contours, relief, around } = useBeneath(() => net.value?.ground ?? null)
const made = computed(() => net.value?.made ?? '')
const runs = useRuns(net)
const runsTable = runs.table
const nodes = useNodes(net)
const tab = ref<'runs' | 'nodes' | 'long' | 'section'>('runs')
const TABS = { runs: 'Runs', nodes: 'Nodes', long: 'Long section', section: 'Sections' } as const
const chosen = ref<number | null>(null)
const at = ref(0)
const drawing = ref(false)
const papers = ref(false)
/** What has a table by chainage: not what is reckoned from the rest. */
const tabled = computed(() =>
  (net.value?.lines ?? [])
    .filter((l) => l.net && !/^(imported|surplus|loads|manholes)|_tonnes$/.test(l.output))
    .map((l) => l.label),
)
const falling = ref(false)
const fall = ref({ first: '', last: '' })
const { data: long } = useLong(() => props.element, made, chosen)
const { data: section, error: sectionRefused } = useTrenchSection(() => props.element, made, chosen, at)

watch(
  () => net.value?.id,
  () => net.value && walk.offer(`quantity:${props.element}:dug`),
  { immediate: true },
)
watch(
  () => net.value?.runs,
  (now) => {
    if (!now?.some((r) => r.id === chosen.value)) chosen.value = now?.[0]?.id ?? null
  },
  { immediate: true },
)
watch(runs.line, (now) => now && choose(now.id))
function choose(run: number) {
  if (chosen.value === run) return
  chosen.value = run
  at.value = 0
}
const ofNet = computed(() => ({ params: { path: { project_id: projectId.value, network: props.element } } }))
const change = (fields: Partial<Schemas['NetworkChange']>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/networks/{network}', {
        ...ofNet.value,
        body: { version: version ?? net.value!.network_version, ...fields },
      }),
    ),
  )
async function drawn(line: number[][]) {
  drawing.value = false
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/networks/{network}/drawn', { ...ofNet.value, body: { line } }),
    ),
  )
}
/** The runs that follow one another with the one in focus. */
const way = computed(() => net.value?.ways.find((ids) => ids.includes(chosen.value ?? -1)) ?? [])
const wayNamed = computed(() => {
  const all = way.value.map((id) => net.value?.runs.find((r) => r.id === id))
  return all.length ? `${all[0]?.begins} to ${all[all.length - 1]?.ends}` : ''
})
async function grade() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/networks/{network}/graded', {
        ...ofNet.value,
        body: { runs: way.value, ...fall.value },
      }),
    ),
  )
  if (saved) falling.value = false
}
function askFall() {
  const all = way.value.map((id) => net.value?.runs.find((r) => r.id === id))
  fall.value = { first: all[0]?.invert_begins ?? '', last: all[all.length - 1]?.invert_ends ?? '' }
  falling.value = !falling.value
}

const placed = computed(() => new Map((net.value?.nodes ?? []).filter((n) => n.x !== null && n.y !== null).map((n) => [n.name, [n.x!, n.y!]]))) // prettier-ignore
const shapes = computed<PlanShape[]>(() => {
  const found: PlanShape[] = []
  for (const r of net.value?.runs ?? []) {
    const ends = [placed.value.get(r.begins), placed.value.get(r.ends)]
    if (!ends[0] || !ends[1]) continue
    const strong = r.id === chosen.value
    const falls = r.fall === null ? '' : `, ${shown(r.fall * 100, 2)} %`
    const label = strong && r.length !== null ? `${shown(lengthHere(r.length))} ${unitHere('m')}${falls}` : undefined // prettier-ignore
    found.push({ key: `run:${r.id}`, kind: 'trench', line: ends as number[][], strong, label })
  }
  const here = section.value
  const run = net.value?.runs.find((r) => r.id === chosen.value)
  const [a, b] = [placed.value.get(run?.begins ?? ''), placed.value.get(run?.ends ?? '')]
  if (tab.value === 'section' && here && a && b) {
    const whole = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1
    const [dx, dy] = [(b[0] - a[0]) / whole, (b[1] - a[1]) / whole]
    const [x, y] = [a[0] + dx * here.chainage, a[1] + dy * here.chainage]
    const wide = Math.max(here.bottom * 3, 3)
    found.push({ key: 'across', kind: 'section', line: [[x - dy * wide, y + dx * wide], [x + dy * wide, y - dx * wide]] }) // prettier-ignore
  }
  return found
})
const levels = computed(() =>
  (net.value?.nodes ?? [])
    .filter((n) => n.x !== null && n.y !== null)
    .map((n, index) => ({ at: index, place: [n.x!, n.y!], level: null, name: n.name, strong: false })),
)
const bounds = computed(() => around(net.value?.bounds, 0.12, 1.2))
const stale = computed(() => net.value?.state === 'working')
function pick(key: string) {
  const [kind, id] = key.split(':')
  if (kind !== 'run') return
  choose(Number(id))
  if (tab.value === 'runs') runsTable.value?.activateRow(Number(id))
}
/** One station on; past the end of a run to the next of the way. */
function step(by: number) {
  const stations = section.value?.stations ?? []
  const to = at.value + by
  const order = net.value?.ways.flat() ?? []
  const here = order.indexOf(chosen.value ?? -1)
  if (to >= 0 && to < stations.length) at.value = to
  else if (by > 0 && here < order.length - 1) choose(order[here + 1])
  else if (by < 0 && here > 0) {
    choose(order[here - 1])
    at.value = 100_000
  }
}
watch(section, (now) => {
  // The last station of a run that was come to from behind.
  if (now && at.value >= now.stations.length) at.value = now.at
})
/** Where the section in view lies along its way. */
const station = computed(() => {
  const run = long.value?.runs.find((r) => r.id === chosen.value)
  return run && section.value?.run === run.id ? run.begins + section.value.chainage : null
})
watch(
  () => net.value?.lines,
  (now) => {
    const dug = now?.find((l) => l.output === 'dug')
    tally.selected = dug ? [{ label: net.value?.mark ?? '', value: shown(dug.net), unit: dug.unit }] : []
  },
  { immediate: true },
)
onBeforeUnmount(() => (tally.selected = []))
const surfaces = computed(() => [
  { value: 0, label: 'typed levels' },
  ...(ground.value?.surfaces ?? []).map((s) => ({ value: s.id, label: s.name })),
])
</script>

<template>
  <template v-if="net">
    <div class="desk-head">
      <WorkName
        :of="net"
        called="trenches"
        placeholder="what they are"
        :readonly="readonly"
        :rename="rename"
      />
      <label class="quiet from"
        >dug from
        <ChoiceField
          class="ground"
          :value="net.ground ?? 0"
          :options="surfaces"
          label="What the trenches are dug from"
          :disabled="readonly"
          @choose="change({ ground: $event || null })"
      /></label>
      <span class="push"></span>
      <NButton
        v-if="!readonly"
        size="small"
        :type="drawing ? 'primary' : 'default'"
        @click="drawing = !drawing"
        >Draw runs</NButton
      >
      <Menu v-if="!readonly" label="Bands, soil" right>
        <div class="asks"><SoilFields :of="net" @change="change" /></div>
        <NButton text @click="remove">Delete these trenches</NButton>
      </Menu>
      <Menu v-if="!readonly" :label="net.billed ? 'In the bill' : 'Into the bill'" right>
        <template #default="{ close }">
          <NButton text @click="(bill(''), close())">Whole quantities</NButton>
          <NButton text @click="(bill('band'), close())">Digging by depth</NButton>
          <NButton text @click="(bill('kind'), close())">Each by kind</NButton>
          <NButton text :disabled="!net.runs.some((r) => r.stage)" @click="(bill('stage'), close())"
            >Each by stage</NButton
          >
        </template>
      </Menu>
    </div>
    <p v-for="says in net.says" :key="says" class="desk-says">{{ says }}</p>
    <GroundPlan
      class="map"
      :stale="stale"
      :label="`Plan of ${net.mark}`"
      :relief="relief"
      :contours="contours"
      :shapes="shapes"
      :levels="levels"
      :bounds="bounds"
      :tool="drawing ? 'line' : ''"
      @drawn="drawn"
      @leave="drawing = false"
      @pick="pick"
    />
    <BelowPlan
      v-model="tab"
      class="below"
      label="Runs, nodes and sections"
      :tabs="TABS"
      :stepping="tab === 'section'"
      @step="step"
    >
      <template #bar>
        <template v-if="tab === 'section' && section">
          <span class="steps"
            ><NButton text aria-label="Section before" @click="step(-1)">‹</NButton>
            <b>{{ section.name }}</b>
            <span class="num">{{ shown(lengthHere(section.chainage)) }} {{ unitHere('m') }}</span>
            <NButton text aria-label="Next section" @click="step(1)">›</NButton></span
          >
          <span class="num quiet">depth {{ shown(lengthHere(section.depth)) }} {{ unitHere('m') }}</span>
        </template>
        <span class="push"></span>
        <NButton text :disabled="!net.lines.length" @click="papers = true">Papers</NButton>
        <template v-if="!readonly && (tab === 'runs' || tab === 'long') && way.length">
          <template v-if="falling">
            <span class="quiet">{{ wayNamed }}: invert from</span>
            <EntryField
              class="invert"
              number
              :value="fall.first"
              label="First invert"
              @change="fall.first = $event"
            />
            <span class="quiet">to</span>
            <EntryField
              class="invert"
              number
              :value="fall.last"
              label="Last invert"
              @change="fall.last = $event"
            />
            <NButton size="small" type="primary" :disabled="!fall.first || !fall.last" @click="grade"
              >Lay</NButton
            >
          </template>
          <NButton text type="primary" @click="askFall">{{ falling ? 'leave' : 'Lay at one fall' }}</NButton>
        </template>
      </template>
      <LedgerTable
        v-if="tab === 'runs'"
        ref="runsTable"
        :label="`Runs of ${net.mark}`"
        :columns="runs.columns.value"
        :rows="runs.rows.value"
        v-bind="runs.bound.value"
      />
      <LedgerTable
        v-else-if="tab === 'nodes'"
        :label="`Nodes of ${net.mark}`"
        :columns="nodes.columns.value"
        :rows="nodes.rows.value"
        v-bind="nodes.bound.value"
      />
      <LongSection
        v-else-if="tab === 'long' && long"
        :long="long"
        :chosen="chosen"
        :station="null"
        @pick="choose"
      />
      <template v-else-if="tab === 'section' && section">
        <TrenchSection
          :shapes="section.shapes"
          :pipe="section.pipe"
          :depth="section.depth"
          :bottom="section.bottom"
          :ground="section.ground"
          :label="`${section.name} at ${shown(lengthHere(section.chainage))} ${unitHere('m')}`"
        />
        <LongSection
          v-if="long"
          class="beneath"
          :long="long"
          :chosen="chosen"
          :station="station"
          @pick="choose"
        />
      </template>
      <p v-else class="quiet nothing">
        {{
          sectionRefused?.message ??
          'There is nothing to be drawn yet: type or draw runs, with their inverts.'
        }}
      </p>
      <p v-if="tab === 'runs' && runs.line.value?.says.length" class="desk-says">
        {{ runs.line.value.says.join(' ') }}
      </p>
    </BelowPlan>
    <PaperDialog
      v-if="papers"
      :title="`Papers of ${net.mark} ${net.description}`"
      kind="trench"
      :element="net.id"
      :names="tabled"
      @close="papers = false"
    />
    <Teleport defer to="#beside" :disabled="walk.folded">
      <TrenchShares :net="net" />
    </Teleport>
  </template>
</template>

<style scoped>
.from {
  display: flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
.ground {
  width: 130px;
}
.desk-head {
  gap: 10px;
}
.map {
  flex: 1 1 44%;
}
.below {
  flex: 1 1 46%;
}
.beneath {
  flex: 0 0 150px;
  border-top: 1px solid var(--rule);
}
.invert {
  width: 84px;
}
.asks {
  --asked: 130px;
  width: 246px;
}
.nothing {
  padding: 8px 14px;
}
</style>
