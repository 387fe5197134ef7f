<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import {
  useDrawings,
  useElement,
  useElements,
  useLocations,
  useProject,
  useSave,
  useSheet,
} from '../../api/project'
import ListPane from '../../desk/ListPane.vue'
import SheetMenu from '../../desk/sheet/SheetMenu.vue'
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import type { Corner } from '../../desk/sheet/arcs'
import { measuring, type Tool } from '../../desk/sheet/tools'
import Stage from '../../desk/Stage.vue'
import { useNotices } from '../../desk/notices'
import { quantity, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import ScaleBar from '../sheets/ScaleBar.vue'
import DimensionSheet from './DimensionSheet.vue'
import NewElement from './NewElement.vue'

const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const notices = useNotices()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: locations } = useLocations()
const { data: drawings } = useDrawings()
const wanted = ref('')
const words = refDebounced(wanted, 150)
const { data: pages, hasNextPage, fetchNextPage } = useElements(words)
const listed = computed(() => pages.value?.pages.flatMap((page) => page.elements) ?? [])
const { data: first } = useElements('', 1)
const firstElement = computed(() => first.value?.pages[0]?.elements[0]?.id ?? null)
const chosen = computed(() => (route.params.element ? Number(route.params.element) : firstElement.value))
const { data: element } = useElement(chosen)
const sheetId = ref<number | null>(null)
const { data: sheet } = useSheet(sheetId)
const tool = ref<Tool>('pick')
const figure = ref<number | null>(null)
const line = ref<number | null>(null)
const picks = ref<[number, number][]>([])
const making = ref<number | null | undefined>(undefined)
const viewer = ref<InstanceType<typeof SheetViewer>>()
const share = ref(0.48)
const viewerOnly = computed(() => project.value?.role === 'viewer')
const sheets = computed(() => drawings.value?.flatMap((d) => d.sheets) ?? [])
const needsScale = computed(() => sheet.value?.ratio === null)
const scaling = computed(() => tool.value === 'scale' || (needsScale.value && tool.value !== 'pick'))
const effectiveTool = computed<Tool>(() =>
  scaling.value ? (picks.value.length < 2 ? 'scale' : 'pick') : tool.value,
)
const place = ref<number[] | null>(null)
const repeat = ref<{ figure: number; by: [number, number] } | null>(null)
const times = ref('1')

const groups = computed(() =>
  (locations.value ?? []).map((location) => ({
    key: location.id,
    title: location.name,
    empty: location.holds ? `${location.holds} further down` : 'no elements yet',
    entries: listed.value.filter((e) => e.location === location.id).map(entryOf),
  })),
)
const entryOf = (e: Schemas['ElementBrief']) => ({
  id: e.id,
  mark: e.mark,
  name: e.description || e.made_by,
  value: e.waiting ? 'being worked out' : e.value === null ? 'none yet' : quantity(e.value, e.unit),
  unit: e.waiting || e.value === null ? '' : e.unit,
  to: `/projects/${projectId.value}/measure/${e.id}`,
})

// The sheet shown: the one asked for, else the one the element is measured on, else the first.
watch(
  [() => element.value?.id, sheets, () => route.query.sheet],
  () => {
    const asked = Number(route.query.sheet) || null
    const measured = element.value?.lines.find((l) => l.sheet !== null)?.sheet ?? null
    const known = sheets.value.map((s) => s.id)
    sheetId.value = [asked, measured, sheetId.value, known[0]].find((id) => id && known.includes(id)) ?? null
  },
  { immediate: true },
)
// Until a number is in focus, the element's own is.
watch(
  () => element.value?.id,
  () => element.value && walk.offer(`quantity:${element.value.id}:${element.value.quantities[0].output}`),
  { immediate: true },
)
watch(chosen, () => {
  figure.value = null
  line.value = null
})
// Walking to a figure or line: light it, and show its sheet.
watch(
  [() => route.query.at, element],
  () => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    if (kind === 'figure') showFigure(Number(id))
    if (kind === 'line') line.value = Number(id)
  },
  { immediate: true },
)
function showFigure(id: number) {
  const fed = element.value?.lines.find((l) => l.figure === id)
  if (!fed) return
  figure.value = id
  line.value = fed.id
  if (fed.sheet !== null) sheetId.value = fed.sheet
}

function use(next: Tool) {
  if (viewerOnly.value) return
  picks.value = []
  repeat.value = null
  if ((next === 'move' || next === 'copy') && figure.value === null) return
  if (measuring.some((each) => each.tool === next) && !element.value) {
    making.value = null
    return
  }
  tool.value = next
  if (next !== 'pick') viewer.value?.focus()
}
async function drawn(what: Tool, points: Corner[], closed: boolean) {
  if (scaling.value) {
    picks.value = points.map((p) => [p[0], p[1]])
    return
  }
  if (!sheet.value) return
  tool.value = 'pick'
  const params = { params: { path: { project_id: projectId.value } } }
  if (what === 'place') return placeTotals([points[0][0], points[0][1]])
  if (what === 'move' || what === 'copy')
    return shiftFigure(what, [points[1][0] - points[0][0], points[1][1] - points[0][1]])
  if (!element.value) return
  const [on, of] = [sheet.value.id, element.value.id]
  const kind = what === 'run' ? (closed ? 'loop' : 'run') : what === 'count' ? 'count' : 'area'
  await chooseOnceSaved(() =>
    what === 'void'
      ? ask(
          client.POST('/api/projects/{project_id}/voids', {
            ...params,
            body: { sheet: on, element: of, points },
          }),
        )
      : ask(
          client.POST('/api/projects/{project_id}/figures', {
            ...params,
            body: { sheet: on, element: of, kind, points, line: freeLine() },
          }),
        ),
  )
}
/** What was drawn is in focus once it is saved, unless one has gone on to something else meanwhile. */
async function chooseOnceSaved(drawing: Parameters<typeof save>[0]) {
  viewer.value?.focus()
  const here = document.activeElement
  const saved = await save(drawing)
  if (saved?.id && document.activeElement === here) pick(saved.id)
}
const figurePath = (id: number) => ({ params: { path: { project_id: projectId.value, figure: id } } })
async function shiftFigure(what: 'move' | 'copy', by: [number, number]) {
  const shape = sheet.value?.shapes.find((each) => each.id === figure.value)
  if (!shape) return
  if (what === 'copy') repeat.value = { figure: shape.id, by }
  else
    await save((version) =>
      ask(
        client.POST('/api/projects/{project_id}/figures/{figure}/move', {
          ...figurePath(shape.id),
          body: { version: version ?? shape.version, by },
        }),
      ),
    )
}
/** Copies of a figure, each a step further: from bay to bay. */
async function copyFigure() {
  const now = repeat.value
  const count = Number(times.value)
  if (!now || !Number.isInteger(count) || count < 1 || count > 200) return
  repeat.value = null
  const by = Array.from({ length: count }, (_, n): [number, number] => [
    now.by[0] * (n + 1),
    now.by[1] * (n + 1),
  ])
  await chooseOnceSaved(() =>
    ask(
      client.POST('/api/projects/{project_id}/figures/{figure}/copies', {
        ...figurePath(now.figure),
        body: { by },
      }),
    ),
  )
}
async function reshape(id: number, points: Corner[], voids: Corner[][]) {
  const shape = sheet.value?.shapes.find((each) => each.id === id)
  if (!shape) return
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/figures/{figure}', {
        ...figurePath(id),
        body: { version: version ?? shape.version, points, voids },
      }),
    ),
  )
}
async function placeTotals(at: [number, number] | null) {
  const now = sheet.value
  if (!now) return
  await save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/sheets/{sheet}/totals', {
        params: { path: { project_id: projectId.value, sheet: now.id } },
        body: { version: version ?? now.version, at },
      }),
    ),
  )
}
/** The line in focus takes the figure when it has none yet. */
function freeLine(): number | null {
  const lines = element.value?.lines ?? []
  const focused = lines.find((l) => l.id === line.value)
  return focused && focused.figure === null
    ? focused.id
    : lines.length === 1 && lines[0].figure === null
      ? lines[0].id
      : null
}
const kindOf = (each: Tool) => (each === 'count' ? 'count' : each === 'run' ? 'run' : 'area')
function pick(id: number | null) {
  figure.value = id
  if (id === null) return
  walk.look(`figure:${id}`)
  const shape = sheet.value?.shapes.find((each) => each.id === id)
  if (shape && shape.element !== chosen.value)
    void router.push({
      path: `/projects/${projectId.value}/measure/${shape.element}`,
      query: { at: `figure:${id}` },
    })
  else line.value = shape?.line ?? line.value
}
function look(id: number | null) {
  line.value = id
  const fed = element.value?.lines.find((l) => l.id === id)
  figure.value = fed?.figure ?? null
  if (fed?.sheet) sheetId.value = fed.sheet
}
async function removeFigure(id: number) {
  await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/figures/{figure}', {
        params: { path: { project_id: projectId.value, figure: id } },
      }),
    ),
  )
  figure.value = null
}
async function removeElement() {
  const id = chosen.value
  if (id === null) return
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: id } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/measure`)
}
function made(id: number) {
  making.value = undefined
  notices.clear()
  void router.push(`/projects/${projectId.value}/measure/${id}`)
}
const shareOut = (upper: number) => (share.value = Math.min(0.85, Math.max(0.12, upper)))
function dragSplit(event: PointerEvent) {
  const box = (event.currentTarget as HTMLElement).parentElement!.getBoundingClientRect()
  const moveTo = (e: PointerEvent) => shareOut((e.clientY - box.top) / box.height)
  const stop = () => removeEventListener('pointermove', moveTo)
  addEventListener('pointermove', moveTo)
  addEventListener('pointerup', stop, { once: true })
}
</script>

<template>
  <Stage label="Elements">
    <template #list>
      <ListPane
        v-model:wanted="wanted"
        find="Find an element"
        :groups="groups"
        :chosen="chosen"
        elsewhere
        @more="hasNextPage && fetchNextPage()"
      >
        <template #group="{ group }">
          <button
            v-if="!viewerOnly"
            class="plain link add"
            :title="`New element in ${group.title}`"
            :aria-label="`New element in ${group.title}`"
            @click="making = Number(group.key)"
          >
            +
          </button>
        </template>
        <p class="new">
          <NButton
            v-if="!viewerOnly"
            :type="locations?.length ? 'default' : 'primary'"
            size="small"
            @click="making = null"
            >New element</NButton
          >
          <RouterLink :to="`/projects/${projectId}/make-ups`">Make-ups</RouterLink>
        </p>
      </ListPane>
    </template>
    <div
      class="split"
      :style="{ gridTemplateRows: `minmax(90px, ${share}fr) 5px minmax(120px, ${1 - share}fr)` }"
    >
      <div class="upper">
        <div class="desk-head tools">
          <select
            v-if="sheets.length"
            :value="sheetId"
            class="sheet"
            aria-label="Sheet"
            @change="sheetId = Number(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="s in sheets" :key="s.id" :value="s.id">
              {{ s.number }} {{ s.letter }}, {{ s.title || `p. ${s.page}` }}
            </option>
          </select>
          <button
            v-for="each in measuring"
            :key="each.tool"
            class="plain tool"
            :class="{ on: tool === each.tool, usual: element?.figures.includes(kindOf(each.tool)) }"
            :disabled="viewerOnly || !sheet"
            :title="`${each.name} (${each.key})`"
            :aria-label="each.name"
            @click="use(tool === each.tool ? 'pick' : each.tool)"
          >
            {{ each.name.slice(0, each.name.toUpperCase().indexOf(each.key))
            }}<u>{{ each.name[each.name.toUpperCase().indexOf(each.key)] }}</u
            >{{ each.name.slice(each.name.toUpperCase().indexOf(each.key) + 1) }}
          </button>
          <SheetMenu
            v-if="sheet"
            :sheet="sheet"
            :readonly="viewerOnly"
            @overview="viewer?.overview()"
            @whole="viewer?.wholeSheet()"
            @totals="sheet.tally_at.length ? placeTotals(null) : use('place')"
            @found="place = $event"
          />
          <button
            v-if="sheet"
            class="plain push num"
            :class="{ bad: sheet.proof?.finding }"
            :title="sheet.scale_source || 'Set the scale'"
            @click="use('scale')"
          >
            {{ sheet.ratio ? `1:${shown(sheet.ratio, 0, 1)}` : 'no scale' }}
          </button>
        </div>
        <SheetViewer
          v-if="sheet"
          ref="viewer"
          :project="projectId"
          :sheet="sheet"
          :tool="effectiveTool"
          :element="chosen"
          :figure="figure"
          :place="place"
          :readonly="viewerOnly"
          @drawn="drawn"
          @picked="pick"
          @tool="use"
          @remove="removeFigure"
          @reshape="reshape"
        >
          <ScaleBar v-if="scaling" :sheet="sheet" :picks="picks" @close="use('pick')" />
          <form v-if="repeat" class="ask" @submit.prevent="copyFigure" @keydown.esc.stop="repeat = null">
            <label
              >Copies, each a bay further
              <input v-model="times" size="3" inputmode="numeric" autofocus aria-label="Number of copies"
            /></label>
            <NButton size="small" type="primary" attr-type="submit">Copy</NButton>
            <button type="button" class="plain quiet" @click="repeat = null">leave it</button>
          </form>
        </SheetViewer>
        <div v-else-if="drawings && !sheets.length" class="empty">
          <p>
            No sheet to measure on. Dimensions can be typed below, or
            <RouterLink :to="`/projects/${projectId}/sheets`">bring in a drawing</RouterLink>.
          </p>
        </div>
      </div>
      <div
        class="bar"
        role="separator"
        aria-label="The space for the sheet and for the dimensions: drag, or press the arrow keys"
        tabindex="0"
        :aria-valuenow="Math.round(share * 100)"
        @pointerdown.prevent="dragSplit"
        @keydown.up.prevent="shareOut(share - 0.05)"
        @keydown.down.prevent="shareOut(share + 0.05)"
      ></div>
      <DimensionSheet
        v-if="element"
        :key="element.id"
        :element="element"
        :line="line"
        :readonly="viewerOnly"
        @look="look"
        @remove="removeElement"
      />
      <div v-else-if="locations && first && firstElement === null" class="empty">
        <h2>No elements yet</h2>
        <p>
          An element is a thing to be built, such as pad footing PF2, in a location. It takes its dimensions
          from the sheet or typed, and its make-up turns them into quantities.
        </p>
        <p v-if="!viewerOnly"><NButton type="primary" @click="making = null">New element</NButton></p>
      </div>
    </div>
    <NewElement v-if="making !== undefined" :location="making" @close="making = undefined" @made="made" />
  </Stage>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.upper {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.bar {
  border-top: 1px solid var(--ink);
  cursor: row-resize;
}
.bar:hover,
.bar:focus-visible {
  background: var(--rule);
}
.tools {
  gap: 8px;
}
.sheet {
  max-width: 150px;
  height: 26px;
  border: 1px solid var(--rule);
  background: var(--panel);
  font: inherit;
  color: inherit;
}
.tool {
  padding: 3px 5px;
}
.tool.on {
  background: var(--main-soft);
  color: var(--main);
  font-weight: 600;
}
.tool.usual {
  font-weight: 500;
  color: var(--main);
}
.tool u {
  text-underline-offset: 3px;
}
.ask {
  position: absolute;
  inset: 0 0 auto;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 6px 12px;
  border-bottom: 2px solid var(--accent);
  background: var(--accent-soft);
}
.ask input {
  height: 26px;
  width: 52px;
  padding: 0 6px;
  border: 1px solid #b9b1a3;
  font: 13px var(--mono);
}
.tool:disabled {
  opacity: 0.5;
}
.add {
  padding: 0 4px;
}
.new {
  display: flex;
  align-items: center;
  justify-content: space-between;
  margin: 8px 0 0;
  padding: 0 12px;
}
</style>
