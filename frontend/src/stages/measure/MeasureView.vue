<script setup lang="ts">
import { refDebounced, until } from '@vueuse/core'
import { NButton, NInputNumber, NSplit } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
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
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import type { Corner } from '../../desk/sheet/arcs'
import { measuring, type Tool } from '../../desk/sheet/tools'
import Stage from '../../desk/Stage.vue'
import { useNotices } from '../../desk/notices'
import { quantity } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import ScaleBar from '../sheets/ScaleBar.vue'
import { scaleTools, useScaling } from '../sheets/scaling'
import DimensionSheet from './DimensionSheet.vue'
import { useFigures, usePlacedTotals } from './figures'
import NewElement from './NewElement.vue'
import SheetTools from './SheetTools.vue'

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
const { data: first } = useElements('', 1, () => !route.params.element)
const firstElement = computed(() => first.value?.pages[0]?.elements[0]?.id ?? null)
const chosen = computed(() => (route.params.element ? Number(route.params.element) : firstElement.value))
const { data: element } = useElement(chosen)
const sheetId = ref<number | null>(null)
const { data: sheet } = useSheet(sheetId)
const tool = ref<Tool>('pick')
const figure = ref<number | null>(null)
const line = ref<number | null>(null)
const making = ref<number | null | undefined>(undefined)
const dimensions = ref<InstanceType<typeof DimensionSheet>>()
const viewer = ref<InstanceType<typeof SheetViewer>>()
const share = ref(0.62)
const readonly = computed(() => project.value?.role === 'viewer')
const sheets = computed(() => drawings.value?.flatMap((d) => d.sheets) ?? [])
const place = ref<number[] | null>(null)
const times = ref<number | null>(1)
const {
  picks,
  scaling,
  inHand,
  line: pickedLine,
  pick: pickScale,
} = useScaling(
  sheet,
  tool,
  () => tool.value !== 'pick',
  () => viewer.value?.focus(),
)
const placeTotals = usePlacedTotals(sheet)
const figures = useFigures({ sheet, element, figure, line, pick })
const { repeat } = figures

const groups = computed(() =>
  (locations.value ?? []).map((location) => ({
    key: location.id,
    title: location.name,
    empty: location.holds ? `${location.holds} further down` : 'no elements yet',
    entries: listed.value.filter((e) => e.location === location.id).map(entryOf),
  })),
)
/** Where an element is worked at. */
const deskOf = (e: Schemas['ElementBrief']) => {
  if (e.allowance) return 'rates/allowance'
  return e.made_by === 'earthwork' ? 'ground/earthwork' : 'measure'
}
const entryOf = (e: Schemas['ElementBrief']) => ({
  id: e.id,
  mark: e.mark,
  name: e.description || e.made_by,
  value: e.waiting ? 'being worked out' : e.value === null ? 'none yet' : quantity(e.value, e.unit),
  unit: e.waiting || e.value === null ? '' : e.unit,
  to: `/projects/${projectId.value}/${deskOf(e)}/${e.id}`,
  warn: e.near > 0,
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
// Earthworks have a desk of their own; what is drawn on a sheet of trenches and routes is drawn here.
watch(
  () => element.value?.measurer === 'earthwork' && element.value.id,
  (id) =>
    id &&
    void router.replace({
      path: `/projects/${projectId.value}/ground/earthwork/${id}`,
      query: route.query,
    }),
  { immediate: true },
)
// Until a number is in focus, the element's own is.
watch(
  () => element.value?.id,
  () =>
    element.value?.quantities.length &&
    walk.offer(`quantity:${element.value.id}:${element.value.quantities[0].output}`),
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
  if (readonly.value) return
  repeat.value = null
  if ((next === 'move' || next === 'copy') && figure.value === null) return
  const measurer = element.value?.measurer ?? ''
  // Trenches are laid along a run, and a route's centreline is one.
  const drawn = measurer === 'make-up' || (next === 'run' && ['trench', 'route'].includes(measurer))
  if (measuring.some((each) => each.tool === next) && !drawn) {
    making.value = null
    return
  }
  tool.value = next
  viewer.value?.focus()
}
/** What measures stays in hand for the next one, until Esc. */
async function drawn(what: Tool, points: Corner[], closed: boolean) {
  if (scaling.value) return void pickScale(points)
  if (measuring.some((each) => each.tool === what)) {
    viewer.value?.focus()
    return figures.make(what, points, closed)
  }
  tool.value = 'pick'
  if (what === 'place') return placeTotals([points[0][0], points[0][1]])
  if (what === 'move' || what === 'copy')
    return figures.shift(what, [points[1][0] - points[0][0], points[1][1] - points[0][1]])
}
async function copyFigure() {
  if (!times.value) return
  viewer.value?.focus()
  await figures.copy(times.value)
}
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
/** The figure in focus, where its drawing changed near it and nobody has looked yet. */
const nearFigure = computed(() => {
  const shape = sheet.value?.shapes.find((each) => each.id === figure.value)
  return shape?.near ? shape : null
})
const keepNear = (id: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/figures/looked-at', {
        params: { path: { project_id: projectId.value } },
        body: { figures: [id] },
      }),
    ),
  )
async function removeArea(area: number) {
  await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/scale-areas/{area}', {
        params: { path: { project_id: projectId.value, area } },
      }),
    ),
  )
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
const renameLocation = (id: string | number, name: string) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/locations/{location}', {
        params: { path: { project_id: projectId.value, location: Number(id) } },
        body: { version: version ?? locations.value?.find((l) => l.id === id)?.version ?? 0, name },
      }),
    ),
  )
function made(id: number) {
  making.value = undefined
  notices.clear()
  void router.push(`/projects/${projectId.value}/measure/${id}`)
  // The first of its lines is what comes next.
  void until(element)
    .toMatch((now) => now?.id === id, { timeout: 5000 })
    .then(() => nextTick())
    .then(() => dimensions.value?.focus())
}
const shareOut = (upper: number) => (share.value = Math.min(0.85, Math.max(0.12, upper)))
</script>

<template>
  <Stage label="Elements">
    <template #list>
      <ListPane
        v-model:wanted="wanted"
        find="Find an element"
        :groups="groups"
        :waits="!locations || !pages"
        :chosen="chosen"
        elsewhere
        :renames="!readonly"
        @rename="renameLocation"
        @more="hasNextPage && fetchNextPage()"
      >
        <template #group="{ group }">
          <NButton
            v-if="!readonly"
            text
            type="primary"
            class="add"
            :title="`New element in ${group.title}`"
            :aria-label="`New element in ${group.title}`"
            @click="making = Number(group.key)"
          >
            +
          </NButton>
        </template>
        <p class="new">
          <NButton
            v-if="!readonly"
            :type="locations?.length ? 'default' : 'primary'"
            size="small"
            @click="making = null"
            >New element</NButton
          >
          <RouterLink :to="`/projects/${projectId}/make-ups`">Make-ups</RouterLink>
        </p>
      </ListPane>
    </template>
    <NSplit
      v-model:size="share"
      class="split"
      :class="{ whole: drawings && !sheets.length }"
      direction="vertical"
      :min="0.12"
      :max="0.85"
      :resize-trigger-size="5"
    >
      <template #1>
        <div v-if="sheets.length" class="upper">
          <SheetTools
            :sheets="sheets"
            :sheet="sheet"
            :tool="tool"
            :usual="element?.figures ?? []"
            :readonly="readonly"
            @choose="sheetId = $event"
            @use="use"
            @overview="viewer?.overview()"
            @whole="viewer?.wholeSheet()"
            @totals="sheet?.tally_at.length ? placeTotals(null) : use('place')"
            @found="place = $event"
          />
          <SheetViewer
            v-if="sheet"
            ref="viewer"
            :project="projectId"
            :sheet="sheet"
            :tool="inHand"
            :element="chosen"
            :figure="figure"
            :place="place"
            :line="pickedLine"
            :readonly="readonly"
            @drawn="drawn"
            @picked="pick"
            @tool="use"
            @remove="figures.remove"
            @reshape="figures.reshape"
          >
            <ScaleBar
              v-if="scaling"
              :sheet="sheet"
              :picks="picks"
              :tool="scaleTools.includes(tool) ? tool : 'scale'"
              @close="use('pick')"
              @tool="use"
              @remove="removeArea"
            />
            <p v-if="nearFigure && !repeat && !scaling" class="ask" role="status">
              <span>{{ nearFigure.mark }} lies near a change of the drawing.</span>
              <NButton size="small" type="primary" :disabled="readonly" @click="keepNear(nearFigure.id)"
                >Keep it as it is</NButton
              >
              <RouterLink :to="`/projects/${projectId}/sheets/${sheet.id}/changes`"
                >See what changed</RouterLink
              >
            </p>
            <form v-if="repeat" class="ask" @submit.prevent="copyFigure" @keydown.esc.stop="repeat = null">
              <label for="copies">Copies, each a bay further</label>
              <NInputNumber
                v-model:value="times"
                class="copies"
                size="small"
                :min="1"
                :max="200"
                :precision="0"
                :input-props="{ id: 'copies', autofocus: true, 'aria-label': 'Number of copies' }"
              />
              <NButton size="small" type="primary" attr-type="submit">Copy</NButton>
              <NButton text @click="repeat = null">leave it</NButton>
            </form>
          </SheetViewer>
        </div>
      </template>
      <template #resize-trigger>
        <div
          class="bar"
          role="separator"
          aria-label="The space for the sheet and for the dimensions: drag, or press the arrow keys"
          tabindex="0"
          :aria-valuenow="Math.round(share * 100)"
          @keydown.up.prevent="shareOut(share - 0.05)"
          @keydown.down.prevent="shareOut(share + 0.05)"
        ></div>
      </template>
      <template #2>
        <p v-if="drawings && !sheets.length && element" class="typed quiet">
          No sheet to measure on: dimensions are typed, or
          <RouterLink :to="`/projects/${projectId}/sheets`">bring in a drawing</RouterLink>.
        </p>
        <DimensionSheet
          v-if="element"
          :key="element.id"
          ref="dimensions"
          :element="element"
          :line="line"
          :readonly="readonly"
          @look="look"
          @remove="removeElement"
        />
        <div v-else-if="locations && first && firstElement === null" class="empty">
          <h2>No elements yet</h2>
          <p>
            An element is a thing to be built, such as pad footing PF2, in a location. It takes its dimensions
            from the sheet or typed, and its make-up turns them into quantities.
          </p>
          <p v-if="!readonly"><NButton type="primary" @click="making = null">New element</NButton></p>
        </div>
      </template>
    </NSplit>
    <NewElement v-if="making !== undefined" :location="making" @close="making = undefined" @made="made" />
  </Stage>
</template>

<style scoped>
.split {
  height: 100%;
  min-height: 0;
}
.split :deep(.n-split-pane-1),
.split :deep(.n-split-pane-2) {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
/* Without a drawing there is no empty pane. */
.split.whole :deep(.n-split-pane-1),
.split.whole :deep(.n-split__resize-trigger-wrapper) {
  display: none;
}
.upper {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.bar {
  height: 5px;
  border-top: 1px solid var(--ink);
}
.bar:hover,
.bar:focus-visible {
  background: var(--rule);
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
.copies {
  width: 90px;
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
.typed {
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
</style>
