<script setup lang="ts">
// A route: its plan with the sections' places, each section drawn, long section and mass haul, and the tables it is
// typed in.
import { NButton } from 'naive-ui'
import { refThrottled } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useHaul, useRoute, useRouteLong, useRoutePlan } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import { useShelves } from '../../api/shelves'
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
import HaulDiagram from './HaulDiagram.vue'
import PaperDialog from './PaperDialog.vue'
import RouteHead from './RouteHead.vue'
import RouteLong from './RouteLong.vue'
import RouteSections from './RouteSections.vue'
import RouteShares from './RouteShares.vue'
import { PARTS, useRows, type Part } from './routes'
import { useWork } from './work'

const props = defineProps<{ element: number; readonly: boolean }>()
const walk = useWalkStore()
const tally = useTally()
const shelves = useShelves()
const { data: way } = useRoute(() => props.element)
const { save, projectId } = useWork(way)
const { contours, relief, around } = useBeneath(() => way.value?.ground ?? null)
const stale = computed(() => way.value?.state === 'working')
/** Until it is worked out again, what was is shown under what it was made from. */
const worked = ref('')
watch(
  () => [way.value?.made, way.value?.state] as const,
  ([made, state]) => made && (state === 'fresh' || !worked.value) && (worked.value = made),
  { immediate: true },
)
const made = computed(() => way.value?.made ?? '')
type Tab = 'sections' | 'long' | 'haul' | Part
const tab = ref<Tab>('sections')
const TABS: Record<Tab, string> = { sections: 'Sections', long: 'Long section', haul: 'Haul', ...PARTS }
const part = computed<Part>(() => (tab.value in PARTS ? (tab.value as Part) : 'corners'))
const table = useRows(way, part)
const at = ref(0)
const drawing = ref<'' | 'line' | 'level'>('')
const count = computed(() => way.value?.chainages.length ?? 0)
/** Nothing is asked for that there isn't: a plan needs a centreline, the haul sections. */
const laid = computed(() => (way.value?.bounds.length ? made.value : ''))
const { data: plan } = useRoutePlan(
  () => props.element,
  () => (laid.value ? `${worked.value} ${laid.value}` : ''),
)
const { data: long } = useRouteLong(() => props.element, laid)
const { data: haul } = useHaul(
  () => props.element,
  () => (count.value ? worked.value : ''),
)

watch(
  () => way.value?.id,
  () => {
    if (!way.value) return
    if (way.value.lines.length) walk.offer(`quantity:${props.element}:cut`)
    // What lacks is asked for first.
    if (!way.value.chainages.length)
      tab.value = !way.value.corners.length && !way.value.figure && !way.value.from_file ? 'corners' : !way.value.levels.length ? 'levels' : !way.value.changes.length ? 'changes' : 'sections' // prettier-ignore
  },
  { immediate: true },
)
const ofRoute = computed(() => ({ params: { path: { project_id: projectId.value, route: props.element } } }))
const change = (fields: Partial<Schemas['RouteChanged']>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/routes/{route}', {
        ...ofRoute.value,
        body: { version: version ?? way.value!.route_version, ...fields },
      }),
    ),
  )
const dropSections = () =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/routes/{route}/sections', ofRoute.value)))
async function drawn(line: number[][]) {
  drawing.value = ''
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/routes/{route}/centreline', {
        ...ofRoute.value,
        body: { line },
      }),
    ),
  )
  if (saved) tab.value = 'corners'
}
const drawLevel = (chainage: number, level: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/routes/{route}/drawn-levels', {
        ...ofRoute.value,
        body: { chainage, level },
      }),
    ),
  )
const lists = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents.filter((each) => each.kind === 'names').map((each) => ({ shelf, each })),
  ),
)
const match = (shelf: number, key: string) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/routes/{route}/names/from-shelf', {
        ...ofRoute.value,
        body: { shelf, key },
      }),
    ),
  )
const listName = ref('')
const putNames = (shelf: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/routes/{route}/names/shelf', {
        ...ofRoute.value,
        body: { shelf, name: listName.value },
      }),
    ),
  )

const TICK = 4
const tick = (n: number, kind: 'tick' | 'section'): PlanShape => {
  const [x, y, dx, dy] = plan.value!.ticks[n]
  const wide = Math.max(...reach.value, TICK)
  const label = kind === 'section' ? shown(lengthHere(plan.value!.chainages[n])) : undefined
  return { key: `tick:${n}`, kind, line: [[x - dx * wide, y - dy * wide], [x + dx * wide, y + dy * wide]], label } // prettier-ignore
}
const shapes = computed<PlanShape[]>(() => {
  const { lines = [], chainages = [] } = plan.value ?? {}
  const every = Math.max(Math.ceil(chainages.length / 60), 1)
  const seen = chainages.flatMap((chainage, n) => (n % every || chainage - (chainages[n - 1] ?? -Infinity) < 1e-6 ? [] : [n])) // prettier-ignore
  return [
    ...lines.map((line, n) => ({ key: `line:${n}`, kind: line.kind, line: line.places })),
    ...seen.map((n) => tick(n, 'tick')),
  ]
})
/** The section that is looked at; the map follows a key that is held down a few times a second. */
const markedAt = refThrottled(at, 250, true)
const marked = computed<PlanShape[]>(() => {
  const here = way.value?.chainages[markedAt.value]
  const n = here === undefined ? -1 : (plan.value?.chainages.findIndex((c) => Math.abs(c - here) < 1e-6) ?? -1) // prettier-ignore
  return n < 0 ? [] : [tick(n, 'section')]
})
/** How far the route reaches on both sides, so that ticks stand out beyond it. */
const reach = computed(() => {
  const lines = plan.value?.lines ?? []
  const middle = lines.find((l) => l.kind === 'centreline')?.places ?? []
  return lines
    .filter((l) => l.kind === 'edge')
    .map(
      (l) =>
        Math.hypot(l.places[0][0] - (middle[0]?.[0] ?? 0), l.places[0][1] - (middle[0]?.[1] ?? 0)) + TICK / 2,
    )
})
const bounds = computed(() => around(way.value?.bounds, 0.06, 8))
function pick(key: string) {
  const [kind, n] = key.split(':')
  if (kind === 'tick') go(Number(n))
}
const within = (to: number) => Math.min(Math.max(to, 0), Math.max(count.value - 1, 0))
function go(to: number) {
  at.value = within(to)
}
watch(count, () => go(at.value))
/** What papers of it are being asked for: the names of its tables, and those chosen. */
const papers = ref<{ names: string[]; chosen: string[] } | null>(null)
let wanted: number | null = null
let stepping = false
const KEYS: Record<string, number> = { ArrowRight: 1, PageDown: 10, ArrowLeft: -1, PageUp: -10, Home: -1e9, End: 1e9 } // prettier-ignore
function pressed(by: number) {
  wanted = within((wanted ?? at.value) + by)
  if (!stepping) step()
}
/** A key held down draws one section a frame; what a slow frame left behind is caught up with, unless it is far. */
const FAR = 9
function step() {
  stepping = true
  requestAnimationFrame(() => {
    const left = wanted! - at.value
    go(Math.abs(left) > FAR ? wanted! : at.value + Math.sign(left))
    if (at.value === wanted) wanted = null
    setTimeout(() => {
      stepping = false
      if (wanted !== null) step()
    })
  })
}
watch(
  () => way.value?.lines,
  (now) => {
    const cut = now?.find((l) => l.output === 'cut')
    const named = now?.find((l) => l.output.startsWith('named_') && l.net)
    tally.selected = [
      ...(way.value?.length ? [{ label: way.value.mark, value: shown(lengthHere(way.value.length)), unit: unitHere('m') }] : []),
      ...(named ?? cut ? [{ label: (named ?? cut)!.label, value: shown((named ?? cut)!.net), unit: (named ?? cut)!.unit }] : []),
    ] // prettier-ignore
  },
  { immediate: true },
)
onBeforeUnmount(() => (tally.selected = []))
</script>

<template>
  <template v-if="way">
    <RouteHead
      :way="way"
      :readonly="readonly"
      :drawing="drawing === 'line'"
      @change="change"
      @draw="drawing = drawing === 'line' ? '' : 'line'"
      @drop-sections="dropSections"
    />
    <p v-for="says in way.says" :key="says" class="desk-says">{{ says }}</p>
    <GroundPlan
      class="map"
      :stale="stale"
      :label="`Plan of ${way.mark}`"
      :relief="relief"
      :contours="contours"
      :shapes="shapes"
      :marked="marked"
      :bounds="bounds"
      :tool="drawing === 'line' ? 'line' : ''"
      @drawn="drawn"
      @leave="drawing = ''"
      @pick="pick"
    />
    <BelowPlan
      v-model="tab"
      class="below"
      label="Sections and tables of the route"
      :tabs="TABS"
      :stepping="tab === 'sections'"
      :keys="KEYS"
      @step="pressed"
    >
      <template #bar>
        <span class="push"></span>
        <template v-if="tab === 'sections' && count">
          <NButton text aria-label="Section before" @click="go(at - 1)">‹</NButton>
          <b class="num">{{ shown(lengthHere(way.chainages[at] ?? 0)) }} {{ unitHere('m') }}</b>
          <NButton text aria-label="Next section" @click="go(at + 1)">›</NButton>
        </template>
        <NButton
          v-if="tab === 'long' && !readonly"
          size="small"
          :type="drawing === 'level' ? 'primary' : 'default'"
          @click="drawing = drawing === 'level' ? '' : 'level'"
          >Draw levels</NButton
        >
        <template v-if="tab === 'named' && !readonly && shelves?.length">
          <Menu v-if="lists.length" label="Names of a shelf" right>
            <template #default="{ close }">
              <NButton
                v-for="{ shelf, each } in lists"
                :key="`${shelf.id} ${each.key}`"
                text
                @click="(close(), match(shelf.id, each.key))"
                >{{ each.name }}, {{ each.number }} ({{ shelf.name }})</NButton
              >
            </template>
          </Menu>
          <Menu label="Put on a shelf" right>
            <template #default="{ close }">
              <label class="quiet"
                >as the list
                <EntryField
                  :value="listName"
                  placeholder="the client’s name"
                  label="Name of the list"
                  @change="listName = $event"
              /></label>
              <NButton
                v-for="s in shelves"
                :key="s.id"
                text
                :disabled="!listName || !way.named.length"
                @click="(close(), putNames(s.id))"
                >{{ s.name }}</NButton
              >
            </template>
          </Menu>
        </template>
      </template>
      <RouteSections
        v-if="tab === 'sections' && count"
        :way="way"
        :made="worked"
        :at="at"
        @go="go"
        @papers="(names, chosen) => (papers = { names, chosen })"
      />
      <RouteLong
        v-else-if="tab === 'long' && long"
        :long="long"
        :station="way.chainages[at] ?? null"
        :drawing="drawing === 'level'"
        @drawn="drawLevel"
      />
      <HaulDiagram v-else-if="tab === 'haul' && haul" :haul="haul" />
      <template v-else-if="tab in PARTS">
        <p v-if="tab === 'corners' && (way.figure || way.from_file)" class="desk-says">
          {{ way.figure ? 'It goes along a run on a sheet' : 'Its centreline came from a file' }}; corners
          typed here are not heeded.
        </p>
        <LedgerTable
          :key="tab"
          :label="`${TABS[tab]} of ${way.mark}`"
          :columns="table.columns.value"
          :rows="table.rows.value"
          v-bind="table.bound.value"
        />
        <p v-if="tab === 'named'" class="quiet foot">
          Gathers layers, kerbs or strips by their names: {{ way.layers.join(', ') || 'none yet' }}. A layer
          under no name counts as itself.
        </p>
        <p v-if="table.line.value?.says" class="desk-says">{{ table.line.value.says }}</p>
      </template>
      <p v-else class="quiet nothing">
        There is nothing to be drawn yet: it needs a centreline, levels, and what is built.
      </p>
    </BelowPlan>
    <PaperDialog
      v-if="papers"
      :title="`Papers of ${way.mark} ${way.description}`"
      kind="route"
      :element="way.id"
      v-bind="papers"
      @close="papers = null"
    />
    <Teleport defer to="#beside" :disabled="walk.folded">
      <RouteShares :way="way" />
    </Teleport>
  </template>
</template>

<style scoped>
.map {
  flex: 1 1 26%;
}
.below {
  flex: 1 1 64%;
}
.foot,
.nothing {
  margin: 0;
  padding: 6px 14px;
}
</style>
