<script setup lang="ts">
// A surface: relief, contours, triangles when near; lines drawn for it, a profile along any line, and out as a file.
import { NButton, NCheckbox, NSelect } from 'naive-ui'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useGround } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import Menu from '../../desk/Menu.vue'
import { useNotices } from '../../desk/notices'
import { shown, typeable, typedNumber } from '../../desk/numbers'
import GroundPlan from '../../desk/plan/GroundPlan.vue'
import type { PlanShape } from '../../desk/plan/looks'
import { lengthHere, unitHere } from '../../desk/ways'
import { useWalkStore } from '../../desk/walk'
import { useBeneath } from './beneath'
import SectionDrawing from './SectionDrawing.vue'
import { areaShown } from './units'

const props = defineProps<{ surface: number; readonly: boolean }>()
const walk = useWalkStore()
const notices = useNotices()
const { save, projectId } = useSave()
const { data: ground } = useGround()
const interval = ref(0)
const { surface, made, contours, contoursRefused, relief } = useBeneath(() => props.surface, interval)
const shows = ref({ relief: true, contours: true, triangles: true })
const tool = ref<'' | 'boundary' | 'hole' | 'breakline' | 'profile'>('')
const picked = ref<number | null>(null)
watch(() => props.surface, () => walk.offer(`surface:${props.surface}`), { immediate: true }) // prettier-ignore

const path = computed(() => ({ params: { path: { project_id: projectId.value, surface: props.surface } } }))
const near = ref<Schemas['NearView'] | null>(null)
let seenBox: number[] = []
const lookNear = useDebounceFn(async (box: number[]) => {
  if (!made.value || !shows.value.triangles) return (near.value = null)
  const [west, south, east, north] = box
  near.value = await ask(
    client.GET('/api/projects/{project_id}/surfaces/{surface}/near', {
      params: { ...path.value.params, query: { west, south, east, north } },
    }),
  ).catch(() => null)
}, 150)
function seen(box: number[]) {
  seenBox = box
  void lookNear(box)
}
watch([made, () => shows.value.triangles], () => seenBox.length && void lookNear(seenBox))
const triangles = computed(() => near.value?.triangles ?? [])
const nearLevels = computed(() => {
  const found = near.value?.points ?? []
  return found.length > 400 ? [] : found.map(([e, n, z], at) => ({ at, place: [e, n], level: z }))
})
const here = ref('')
const tellLevel = useDebounceFn(async (place: number[] | null) => {
  if (!place || !made.value) return (here.value = '')
  const level = await ask(
    client.GET('/api/projects/{project_id}/surfaces/{surface}/level', {
      params: { ...path.value.params, query: { east: place[0], north: place[1] } },
    }),
  ).catch(() => null)
  here.value =
    level === null || level === undefined
      ? 'off the surface'
      : `level ${shown(lengthHere(level as number), 3)}`
}, 60)

const profileLine = ref<number[][] | null>(null)
const profile = ref<Schemas['ProfileView'] | null>(null)
const shapes = computed<PlanShape[]>(() => [
  ...(surface.value?.lines ?? []).map((l): PlanShape => {
    const places = l.corners.map((c) => [c[0] ?? 0, c[1] ?? 0])
    const closed = l.kind !== 'breakline'
    return {
      key: `line:${l.id}`,
      kind: l.kind as PlanShape['kind'],
      line: closed ? [...places, places[0]] : places,
      strong: l.id === picked.value,
    }
  }),
  ...(profileLine.value
    ? [{ key: 'profile', kind: 'section' as const, line: profileLine.value, label: 'profile' }]
    : []),
])
const planTool = computed(() =>
  tool.value === '' ? '' : tool.value === 'boundary' || tool.value === 'hole' ? 'ring' : 'line',
)
async function drawn(corners: number[][]) {
  const kind = tool.value
  tool.value = ''
  if (kind === 'profile') return void profileAlong(corners)
  if (kind === '') return
  const placed = kind === 'breakline' ? await levelled(corners) : corners
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/surfaces/{surface}/lines', {
        ...path.value,
        body: { kind, corners: placed },
      }),
    ),
  )
  if (saved?.id) picked.value = saved.id
}
/** A breakline drawn over the surface takes the levels that lie under it. */
async function levelled(corners: number[][]): Promise<(number | null)[][]> {
  const levels = await Promise.all(
    corners.map(([east, north]) =>
      ask(
        client.GET('/api/projects/{project_id}/surfaces/{surface}/level', {
          params: { ...path.value.params, query: { east, north } },
        }),
      ).catch(() => null),
    ),
  )
  return corners.map((corner, at) => [...corner, levels[at] as number | null])
}
async function profileAlong(corners: number[][]) {
  profileLine.value = corners
  try {
    profile.value = await ask(
      client.POST('/api/projects/{project_id}/surfaces/{surface}/profile', {
        ...path.value,
        body: { line: corners },
      }),
    )
  } catch (error) {
    notices.show(error)
  }
}
watch(made, () => profileLine.value && void profileAlong(profileLine.value))
const section = computed<Schemas['SectionView'] | null>(() =>
  profile.value
    ? {
        name: 'Profile', chainage: 0, offsets: profile.value.chainages, cut: 0, fill: 0, ends: [],
        lines: [{ key: 'ground', name: 'Ground', levels: profile.value.levels }],
      }
    : null,
) // prettier-ignore
const change = (fields: { name?: string; surveys?: number[] }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/surfaces/{surface}', {
        ...path.value,
        body: { version: version ?? surface.value!.version, ...fields },
      }),
    ),
  )
const remove = () =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/surfaces/{surface}', path.value)))
const lineAt = (line: number) => ({ params: { path: { project_id: projectId.value, ground_line: line } } })
const removeLine = (line: number) =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/ground-lines/{ground_line}', lineAt(line))))
const changeLine = (line: Schemas['GroundLineView'], corners: (string | number | null)[][]) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/ground-lines/{ground_line}', {
        ...lineAt(line.id),
        body: { version: version ?? line.version, corners },
      }),
    ),
  )
const chosenLine = computed(() => surface.value?.lines.find((l) => l.id === picked.value) ?? null)
const setCorner = (at: number, part: number, text: string) =>
  chosenLine.value && changeLine(chosenLine.value, chosenLine.value.corners.map((c, n) => c.map((v, p) => (n === at && p === part ? text : v)))) // prettier-ignore
function setInterval_(text: string) {
  const typed = typedNumber(text)
  interval.value = typed ? typed / lengthHere(1) : 0
}
const FILES = {
  dxf: 'DXF, triangles and contours',
  landxml: 'LandXML',
  geojson: 'GeoJSON',
  csv: 'CSV of its levels',
}
function take(kind: string) {
  const link = document.createElement('a')
  link.href = `/api/projects/${projectId.value}/surfaces/${props.surface}/file/${kind}`
  link.download = ''
  link.click()
}
const surveys = computed(() => (ground.value?.surveys ?? []).map((s) => ({ value: s.id, label: s.name })))
const NAMES: Record<string, string> = { boundary: 'Boundary', hole: 'Hole', breakline: 'Breakline' }
</script>

<template>
  <template v-if="surface">
    <div class="desk-head">
      <EntryField
        class="name"
        :value="surface.name"
        label="Name of the surface"
        :disabled="readonly"
        @change="change({ name: $event })"
      />
      <span v-if="surface.state === 'working'" class="quiet" role="status">being made…</span>
      <span v-else-if="surface.lowest !== null" class="num"
        >{{ shown(lengthHere(surface.lowest)) }} to {{ shown(lengthHere(surface.highest ?? 0)) }}
        <span class="quiet">{{ unitHere('m') }}</span></span
      >
      <span class="push"></span>
      <label class="quiet"
        >Contours
        <EntryField
          class="small"
          number
          :value="typeable(+lengthHere(interval || (contours?.interval ?? surface.interval)).toFixed(4))"
          label="Interval of contours"
          @change="setInterval_"
        />
        {{ unitHere('m') }}</label
      >
      <Menu label="Out" right>
        <template #default="{ close }">
          <NButton
            v-for="(words, kind) in FILES"
            :key="kind"
            text
            :disabled="!made"
            @click="(take(kind), close())"
            >{{ words }}</NButton
          >
        </template>
      </Menu>
    </div>
    <div class="desk-head tools">
      <NButton
        size="small"
        :type="tool === 'profile' ? 'primary' : 'default'"
        :disabled="!made"
        @click="tool = tool === 'profile' ? '' : 'profile'"
        >Profile along a line</NButton
      >
      <template v-if="!readonly">
        <span class="quiet">Draw</span>
        <NButton
          v-for="(words, kind) in NAMES"
          :key="kind"
          size="small"
          :type="tool === kind ? 'primary' : 'default'"
          @click="tool = tool === kind ? '' : (kind as 'hole')"
          >{{ words }}</NButton
        >
      </template>
      <span class="push"></span>
      <NCheckbox v-model:checked="shows.relief" size="small">relief</NCheckbox>
      <NCheckbox v-model:checked="shows.triangles" size="small">triangles when near</NCheckbox>
      <NButton v-if="!readonly" text @click="remove">Delete</NButton>
    </div>
    <p v-if="surface.says" class="desk-says bad" role="alert">{{ surface.says }}</p>
    <p v-if="contoursRefused" class="desk-says bad" role="alert">{{ contoursRefused.message }}</p>
    <p v-for="says in surface.findings" :key="says" class="desk-says">{{ says }}</p>
    <GroundPlan
      :label="`Plan of ${surface.name}`"
      :relief="shows.relief ? relief : null"
      :contours="shows.contours ? contours : null"
      :shapes="shapes"
      :triangles="triangles"
      :levels="nearLevels"
      :bounds="surface.bounds"
      :tool="planTool"
      :told="here"
      @drawn="drawn"
      @leave="tool = ''"
      @place="tellLevel"
      @seen="seen"
      @pick="picked = $event.startsWith('line:') ? Number($event.slice(5)) : picked"
    />
    <div v-if="section" class="profile">
      <p>
        <b>Profile</b>
        <span class="num">{{ shown(lengthHere(section.offsets.at(-1) ?? 0)) }} {{ unitHere('m') }}</span>
        <NButton text class="push" @click="((profile = null), (profileLine = null))">Close</NButton>
      </p>
      <SectionDrawing :section="section" />
    </div>
    <Teleport defer to="#beside" :disabled="walk.folded">
      <section class="made">
        <h3>Made of</h3>
        <NSelect
          :value="surface.surveys"
          multiple
          filterable
          size="small"
          :options="surveys"
          :disabled="readonly"
          :input-props="{ 'aria-label': 'Surveys it goes through' }"
          @update:value="change({ surveys: $event as number[] })"
        />
        <dl>
          <dt>Levels</dt>
          <dd class="num">{{ shown(surface.number, 0) }}</dd>
          <dt>Triangles</dt>
          <dd class="num">{{ shown(surface.triangles, 0) }}</dd>
          <dt>Plan area</dt>
          <dd class="num">
            {{ areaShown(surface.plan_area) }} <span class="quiet">{{ unitHere('m²') }}</span>
          </dd>
          <dt>True area</dt>
          <dd class="num">
            {{ areaShown(surface.true_area) }} <span class="quiet">{{ unitHere('m²') }}</span>
          </dd>
        </dl>
        <template v-if="surface.lines.length">
          <h3>Drawn for it</h3>
          <p v-for="l in surface.lines" :key="l.id" class="drawn" :class="{ on: l.id === picked }">
            <NButton text @click="picked = l.id">{{ NAMES[l.kind] }}, {{ l.corners.length }} corners</NButton>
            <NButton v-if="!readonly" text :aria-label="`Delete this ${l.kind}`" @click="removeLine(l.id)"
              >×</NButton
            >
          </p>
        </template>
        <table v-if="chosenLine && !readonly" class="corners" aria-label="Corners of the line">
          <tbody>
            <tr v-for="(c, n) in chosenLine.corners" :key="n">
              <td v-for="part in chosenLine.kind === 'breakline' ? 3 : 2" :key="part">
                <EntryField
                  number
                  :value="c[part - 1] === null ? '' : typeable(+lengthHere(c[part - 1] ?? 0).toFixed(3))"
                  :label="`Corner ${n + 1}, ${['easting', 'northing', 'level'][part - 1]}`"
                  @change="setCorner(n, part - 1, $event)"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </Teleport>
  </template>
</template>

<style scoped>
.name {
  flex: none;
  width: 150px;
  font-weight: 600;
}
.small {
  width: 64px;
}
.tools {
  gap: 8px;
}
.profile {
  display: flex;
  flex: 0 0 176px;
  flex-direction: column;
  border-top: 1px solid var(--ink);
}
.profile p {
  display: flex;
  gap: 10px;
  margin: 0;
  padding: 4px 12px 0;
}
.push {
  margin-left: auto;
}
.made {
  padding: 4px 16px 10px;
  overflow-y: auto;
  border-top: 1px solid var(--rule);
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  margin: 6px 0;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  text-align: right;
}
.drawn {
  display: flex;
  justify-content: space-between;
  margin: 0;
  padding: 1px 4px;
}
.drawn.on {
  background: var(--accent-soft);
}
.corners td {
  padding: 1px;
}
</style>
