<script setup lang="ts">
// Ground: levels as they came, the surfaces through them, and the earthworks that bring one to another.
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useGround } from '../../api/ground'
import { useProject, useProjectId } from '../../api/project'
import ListPane, { type Group } from '../../desk/ListPane.vue'
import Menu from '../../desk/Menu.vue'
import Stage from '../../desk/Stage.vue'
import { quantity, shown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { lengthHere, unitHere } from '../../desk/ways'
import KindMenu from './KindMenu.vue'
import { cubicHere } from './units'

const EarthworkDesk = defineAsyncComponent(() => import('./EarthworkDesk.vue'))
const TrenchDesk = defineAsyncComponent(() => import('./TrenchDesk.vue'))
const KindDesk = defineAsyncComponent(() => import('./KindDesk.vue'))
const RouteDesk = defineAsyncComponent(() => import('./RouteDesk.vue'))
const TypicalDesk = defineAsyncComponent(() => import('./TypicalDesk.vue'))
const WholeDesk = defineAsyncComponent(() => import('./WholeDesk.vue'))
const SurfaceDesk = defineAsyncComponent(() => import('./SurfaceDesk.vue'))
const SurveyDesk = defineAsyncComponent(() => import('./SurveyDesk.vue'))
const LevelsIn = defineAsyncComponent(() => import('./LevelsIn.vue'))
const NewWork = defineAsyncComponent(() => import('./NewWork.vue'))
const NewNamed = defineAsyncComponent(() => import('./NewNamed.vue'))

const route = useRoute()
const router = useRouter()
const projectId = useProjectId()
const { data: ground } = useGround()
const { data: project } = useProject()
const readonly = computed(() => project.value?.role === 'viewer')
const wanted = ref('')
const making = ref<'' | 'levels' | 'typed' | 'sheet' | 'surface' | 'earthwork' | 'trench' | 'route'>('')
const home = computed(() => `/projects/${projectId.value}/ground`)
const what = computed(() => String(route.params.what || ''))
const one = computed(() => Number(route.params.one) || null)
const go = (kind: string, id: number) => router.push(`${home.value}/${kind}/${id}`)

const tally = useTally()
watch(ground, () => {
  const all = [
    ...(ground.value?.surveys ?? []),
    ...(ground.value?.surfaces ?? []),
    ...(ground.value?.earthworks ?? []),
    ...(ground.value?.networks ?? []),
    ...(ground.value?.routes ?? []),
  ]
  tally.awaiting = all.some((each) => each.state === 'working')
})
onBeforeUnmount(() => (tally.awaiting = false))
// What is opened first: the work itself, else the surface, else the levels.
watch(
  [what, ground],
  () => {
    if (what.value || !ground.value) return
    const { earthworks, networks, routes, surfaces, surveys } = ground.value
    const all = { earthwork: earthworks, trench: networks, route: routes, surface: surfaces, survey: surveys }
    const first = Object.entries(all).find(([, rows]) => rows.length)
    if (first)
      void router.replace({ path: `${home.value}/${first[0]}/${first[1][0].id}`, query: route.query })
  },
  { immediate: true },
)
// A number of trenches or of a route leads to its desk.
watch(
  [ground, what, one],
  () => {
    if (what.value !== 'earthwork') return
    const is = (rows?: { id: number }[]) => rows?.some((each) => each.id === one.value)
    const desk = is(ground.value?.networks) ? 'trench' : is(ground.value?.routes) ? 'route' : ''
    if (desk) void router.replace({ path: `${home.value}/${desk}/${one.value}`, query: route.query })
  },
  { immediate: true },
)
// What was deleted meanwhile is left.
watch(ground, () => {
  const now = ground.value
  if (!now || !what.value || what.value === 'whole') return
  const all: Record<string, { id: number }[]> = {
    survey: now.surveys,
    surface: now.surfaces,
    earthwork: [...now.earthworks, ...now.networks, ...now.routes],
    trench: now.networks,
    'trench-kind': now.kinds,
    route: now.routes,
    typical: now.typicals,
  }
  const rows = all[what.value] ?? []
  if (!rows.some((each) => each.id === one.value)) void router.replace(home.value)
})
const level = (metres: number | null) => (metres === null ? '' : shown(lengthHere(metres)))
const groups = computed<Group[]>(() => {
  const now = ground.value
  if (!now) return []
  const working = (state: string) => state === 'working'
  return [
    {
      key: 'survey',
      title: 'Levels',
      empty: 'none yet',
      entries: now.surveys.map((s) => ({
        id: `survey:${s.id}`,
        name: s.name,
        value: working(s.state) ? 'being looked at' : s.undecided ? `${s.undecided} open` : shown(s.used, 0),
        unit: '',
        warn: s.undecided > 0,
        to: `${home.value}/survey/${s.id}`,
      })),
    },
    {
      key: 'surface',
      title: 'Surfaces',
      empty: 'none yet',
      entries: now.surfaces.map((s) => ({
        id: `surface:${s.id}`,
        name: s.name,
        value: working(s.state)
          ? 'being made'
          : s.says
            ? 'can’t be made'
            : `${level(s.lowest)}–${level(s.highest)}`,
        unit: '',
        warn: s.says !== '',
        to: `${home.value}/surface/${s.id}`,
      })),
    },
    {
      key: 'earthwork',
      title: 'Earthworks',
      empty: 'none yet',
      entries: now.earthworks.map((e) => ({
        id: `earthwork:${e.id}`,
        mark: e.mark,
        name: e.description || 'Earthwork',
        value: working(e.state) ? 'being worked out' : e.cut === null ? 'none yet' : net(e.cut, e.fill ?? 0),
        unit: working(e.state) || e.cut === null ? '' : unitHere('m³'),
        warn: e.findings > 0,
        to: `${home.value}/earthwork/${e.id}`,
      })),
    },
    {
      key: 'trench',
      title: 'Trenches',
      empty: 'none yet',
      entries: now.networks.map((n) => ({
        id: `trench:${n.id}`,
        mark: n.mark,
        name: n.description || 'Trenches',
        value: working(n.state)
          ? 'being worked out'
          : n.length === null
            ? 'none yet'
            : shown(lengthHere(n.length)),
        unit: working(n.state) || n.length === null ? '' : unitHere('m'),
        warn: n.findings > 0,
        to: `${home.value}/trench/${n.id}`,
      })),
    },
    {
      key: 'trench-kind',
      title: 'Kinds of trench',
      empty: 'none yet',
      entries: now.kinds.map((k) => ({
        id: `trench-kind:${k.id}`,
        name: k.name,
        value: k.runs ? `${k.runs} runs` : 'unused',
        unit: '',
        to: `${home.value}/trench-kind/${k.id}`,
      })),
    },
    {
      key: 'route',
      title: 'Routes',
      empty: 'none yet',
      entries: now.routes.map((r) => ({
        id: `route:${r.id}`,
        mark: r.mark,
        name: r.description || 'Route',
        value: working(r.state)
          ? 'being worked out'
          : r.length === null
            ? 'none yet'
            : shown(lengthHere(r.length)),
        unit: working(r.state) || r.length === null ? '' : unitHere('m'),
        warn: r.findings > 0,
        to: `${home.value}/route/${r.id}`,
      })),
    },
    {
      key: 'typical',
      title: 'Typical sections',
      empty: 'none yet',
      entries: now.typicals.map((t) => ({
        id: `typical:${t.id}`,
        name: t.name,
        value: t.routes ? `${t.routes} ${t.routes === 1 ? 'route' : 'routes'}` : 'unused',
        unit: '',
        to: `${home.value}/typical/${t.id}`,
      })),
    },
    ...(now.earthworks.length + now.networks.length + now.routes.length
      ? [
          {
            key: 'whole',
            title: 'Together',
            entries: [
              { id: 'whole:null', name: 'The whole job', value: '', unit: '', to: `${home.value}/whole` },
            ],
          },
        ]
      : []),
  ]
})
function net(cut: number, fill: number): string {
  const value = cubicHere(cut - fill)
  return `${value > 0 ? '+' : ''}${quantity(value, unitHere('m³'))}`
}
const ADD = { surface: 'surface', earthwork: 'earthwork', trench: 'trench', route: 'route' } as const
function made(kind: string, id: number | null | undefined) {
  making.value = ''
  if (id) void go(kind, id)
}
const nothing = computed(
  () =>
    ground.value &&
    !ground.value.surveys.length &&
    !ground.value.surfaces.length &&
    !ground.value.earthworks.length &&
    !ground.value.networks.length &&
    !ground.value.routes.length &&
    !what.value,
)
</script>

<template>
  <Stage label="Ground">
    <template #list>
      <ListPane
        v-model:wanted="wanted"
        find="Find levels, a surface, a work"
        :groups="groups"
        :chosen="`${what}:${one}`"
      >
        <template #group="{ group }">
          <template v-if="!readonly && group.key !== 'whole'">
            <Menu v-if="group.key === 'survey'" label="add" right>
              <template #default="{ close }">
                <NButton text @click="(close(), (making = 'levels'))">From a file, or pasted</NButton>
                <NButton text @click="(close(), (making = 'typed'))">Typed one by one</NButton>
                <NButton text @click="(close(), (making = 'sheet'))">Picked off a sheet</NButton>
              </template>
            </Menu>
            <KindMenu
              v-else-if="group.key === 'trench-kind' || group.key === 'typical'"
              :of="group.key"
              @made="made(group.key, $event)"
            />
            <NButton
              v-else
              text
              :disabled="group.key !== 'trench' && !ground?.surveys.length"
              @click="making = ADD[group.key as 'surface']"
              >add</NButton
            >
          </template>
        </template>
      </ListPane>
    </template>
    <div v-if="nothing" class="empty">
      <h2>No levels yet</h2>
      <p>
        Earthwork begins with levels: a surveyor’s CSV, XLSX, DXF, LandXML or GeoJSON, rows pasted from a
        spreadsheet, or typed one by one. A surface is made through them at once.
      </p>
      <NButton v-if="!readonly" type="primary" @click="making = 'levels'">Bring levels in</NButton>
    </div>
    <EarthworkDesk
      v-else-if="what === 'earthwork' && one"
      :key="`e${one}`"
      :element="one"
      :readonly="readonly"
    />
    <TrenchDesk v-else-if="what === 'trench' && one" :key="`t${one}`" :element="one" :readonly="readonly" />
    <KindDesk
      v-else-if="what === 'trench-kind' && one"
      :key="`k${one}`"
      :kind="one"
      :readonly="readonly"
      @made="made('trench-kind', $event)"
    />
    <RouteDesk v-else-if="what === 'route' && one" :key="`r${one}`" :element="one" :readonly="readonly" />
    <TypicalDesk
      v-else-if="what === 'typical' && one"
      :key="`y${one}`"
      :typical="one"
      :readonly="readonly"
      @made="made('typical', $event)"
    />
    <WholeDesk v-else-if="what === 'whole'" />
    <SurfaceDesk v-else-if="what === 'surface' && one" :key="`s${one}`" :surface="one" :readonly="readonly" />
    <SurveyDesk v-else-if="what === 'survey' && one" :key="`l${one}`" :survey="one" :readonly="readonly" />
    <LevelsIn v-if="making === 'levels'" @done="made('survey', $event)" />
    <NewNamed v-else-if="making === 'sheet'" kind="sheet" @done="made('survey', $event)" />
    <NewNamed v-else-if="making === 'typed'" kind="survey" @done="made('survey', $event)" />
    <NewNamed v-else-if="making === 'surface'" kind="surface" @done="made('surface', $event)" />
    <NewWork
      v-else-if="making === 'earthwork' || making === 'trench' || making === 'route'"
      :kind="making"
      @done="made(making, $event)"
    />
  </Stage>
</template>
