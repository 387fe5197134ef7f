<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useOrderedElements } from '../../api/order'
import { useDrawings, useSave, useSheet, type Saved } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import FileDrop from '../../desk/FileDrop.vue'
import JobProgress from '../../desk/JobProgress.vue'
import { useJob } from '../../desk/job'
import ListPane from '../../desk/ListPane.vue'
import SheetMenu from '../../desk/sheet/SheetMenu.vue'
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import type { Corner } from '../../desk/sheet/arcs'
import { measuring, type Tool } from '../../desk/sheet/tools'
import Stage from '../../desk/Stage.vue'
import { day, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import { usePlacedTotals } from '../measure/figures'
import { ACCEPTED, isDxf } from './accepted'
import LayersMenu from './LayersMenu.vue'
import ReviseDialog from './ReviseDialog.vue'
import ScaleBar from './ScaleBar.vue'
import { useScaling } from './scaling'

const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const { save, refresh, projectId } = useSave()
const { data: drawings } = useDrawings()
const chosen = computed(() =>
  route.params.sheet ? Number(route.params.sheet) : (drawings.value?.[0]?.sheets[0]?.id ?? null),
)
const { data: sheet } = useSheet(chosen)
const drawing = computed(() => drawings.value?.find((each) => each.id === sheet.value?.drawing))
const tool = ref<Tool>('pick')
const figure = ref<number | null>(null)
const viewer = ref<InstanceType<typeof SheetViewer>>()
const revising = ref(false)
const bringing = ref(false)
const place = ref<number[] | null>(null)
const {
  picks,
  scaling,
  inHand,
  line,
  pick: pickScale,
} = useScaling(
  sheet,
  tool,
  () => true,
  () => viewer.value?.focus(),
)
const placed = usePlacedTotals(sheet)
/** Whether what is ordered steps back, so that what isn't stands out. */
const byOrder = ref(false)
const { data: ordered } = useOrderedElements(byOrder)
const quiet = computed(() => new Set(byOrder.value ? (ordered.value?.ordered ?? []) : []))
const standing = computed(() => {
  const here = new Set(sheet.value?.shapes.map((each) => each.element))
  const of = (those?: number[]) => (those ?? []).filter((each) => here.has(each)).length
  const [done, open] = [of(ordered.value?.ordered), of(ordered.value?.missing)]
  return `${done} of ${done + open} ordered`
})

const groups = computed(() =>
  (drawings.value ?? []).map((each) => ({
    key: each.id,
    title: `${each.number}, rev ${each.letter}`,
    entries: [
      ...each.sheets.map((s) => entryOf(s)),
      ...each.former.flatMap((old) => old.sheets.map((s) => entryOf(s, `, rev ${old.letter}`))),
    ],
  })),
)
const entryOf = (s: Schemas['SheetView'], old = '') => ({
  id: s.id,
  name: `${s.title || `Page ${s.page}`}${old}`,
  value: s.near ? `${s.near} to look at` : s.scale,
  to: `/projects/${projectId.value}/sheets/${s.id}`,
  warn: !s.ratio || s.near > 0,
  level: old ? 1 : 0,
})
watch(chosen, () => {
  tool.value = 'pick'
  figure.value = null
})

/** A DXF is drawn by a job. */
const { job, begin, stop } = useJob(() => void arrived())
/** Go to a drawing that came, or to where its new revision differs. */
async function arrived(revised?: number) {
  revising.value = false
  await refresh()
  const all = drawings.value ?? []
  const one = all.find((each) => each.id === revised) ?? all[all.length - 1]
  if (!one?.sheets[0]) return
  const what = revised ? '/changes' : ''
  await router.push(`/projects/${projectId.value}/sheets/${one.sheets[0].id}${what}`)
}
/** A sheet that another took the place of is seen with what was on it. */
const seen = computed(() => {
  const now = sheet.value
  if (!now?.stood.length) return now
  const stood = now.stood.map((each, at) => ({
    ...each,
    id: -1 - at,
    version: 0,
    sheet: now.id,
    element: 0,
    line: null,
    near: false,
  }))
  return { ...now, shapes: [...now.shapes, ...stood] }
})
async function bringIn(file: File) {
  const form = new FormData()
  form.append('file', file)
  if (isDxf(file))
    return begin(() => sendFile<Schemas['JobView']>(`/api/projects/${projectId.value}/drawings/dxf`, form))
  bringing.value = true
  const saved = await save(() => sendFile<Saved>(`/api/projects/${projectId.value}/drawings`, form))
  bringing.value = false
  const first = drawings.value?.find((each) => each.id === saved?.id)?.sheets[0]
  if (first) await router.push(`/projects/${projectId.value}/sheets/${first.id}`)
}
function drawn(what: Tool, points: Corner[]) {
  if (what === 'place') return void placeTotals([points[0][0], points[0][1]])
  pickScale(points)
}
function placeTotals(at: [number, number] | null) {
  tool.value = 'pick'
  return placed(at)
}
async function removeArea(id: number) {
  await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/scale-areas/{area}', {
        params: { path: { project_id: projectId.value, area: id } },
      }),
    ),
  )
}
function pick(id: number | null) {
  if (id !== null && id < 0) return
  figure.value = id
  if (id !== null) walk.look(`figure:${id}`)
}
function use(next: Tool) {
  if (next === 'move' || next === 'copy') return
  if (measuring.some((each) => each.tool === next))
    void router.push({ path: `/projects/${projectId.value}/measure`, query: { sheet: chosen.value } })
  else tool.value = next
}
async function title(words: string) {
  const now = sheet.value
  if (!now || words === now.title) return
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/sheets/{sheet}', {
        params: { path: { project_id: projectId.value, sheet: now.id } },
        body: { version: version ?? now.version, title: words },
      }),
    ),
  )
}
async function remove() {
  if (!drawing.value) return
  const id = drawing.value.id
  const gone = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/drawings/{drawing}', {
        params: { path: { project_id: projectId.value, drawing: id } },
      }),
    ),
  )
  if (gone) await router.push(`/projects/${projectId.value}/sheets`)
}
</script>

<template>
  <Stage label="Sheets">
    <template #list>
      <ListPane find="Find a sheet" :groups="groups" :waits="!drawings" :chosen="chosen">
        <p class="bring">
          <JobProgress v-if="job" :job="job" @stop="stop" />
          <FileDrop v-else :accept="ACCEPTED" test="drawing-file" area @chosen="bringIn">
            <NButton type="primary" :loading="bringing">Bring in a drawing</NButton>
            <span class="quiet drop">or drop it here</span>
          </FileDrop>
        </p>
      </ListPane>
    </template>
    <template v-if="sheet && drawings">
      <div class="desk-head">
        <b :title="`${drawing?.file}, received ${day(drawing?.received ?? null)}`"
          >{{ sheet.number }} {{ sheet.letter }}, p. {{ sheet.page }}</b
        >
        <EntryField
          class="title"
          :value="sheet.title"
          placeholder="Title of this sheet"
          label="Title of this sheet"
          @change="title"
        />
        <NButton text class="tool" :class="{ on: tool === 'scale' }" @click="use('scale')">
          Scale <kbd>K</kbd>
        </NButton>
        <span class="num">{{ sheet.scale }}</span>
        <template v-if="sheet.ratio">
          <NButton
            text
            class="tool"
            :class="{ on: tool === 'proof' }"
            title="Hold a second known length against the scale"
            @click="use('proof')"
          >
            Prove
          </NButton>
          <NButton
            text
            class="tool"
            :class="{ on: tool === 'detail' }"
            title="A part of the sheet drawn at another scale"
            @click="use('detail')"
          >
            Detail
          </NButton>
        </template>
        <NButton
          v-if="byOrder && ordered"
          text
          class="tool on"
          title="What is ordered steps back; press to show all alike"
          @click="byOrder = false"
          >{{ standing }}</NButton
        >
        <span
          v-else-if="sheet.proof"
          class="proof"
          :class="sheet.proof.finding ? 'bad' : 'good'"
          :title="sheet.proof.finding || 'What the second known length is off the scale'"
          >{{ shown(Math.abs(sheet.proof.off) * 100, 2) }} % off</span
        >
        <span v-else class="quiet source" :title="sheet.scale_source">{{ sheet.scale_source }}</span>
        <span class="push also">
          <RouterLink
            v-if="sheet.followed && drawing?.sheets[0]"
            :to="`/projects/${projectId}/sheets/${drawing.sheets[0].id}`"
            title="A later revision took the place of this sheet"
            >Revision {{ sheet.followed }}</RouterLink
          >
          <LayersMenu v-if="sheet.layers.length" :sheet="sheet" />
          <RouterLink v-if="sheet.lay" :to="`/projects/${projectId}/sheets/${sheet.id}/changes`"
            >Changes</RouterLink
          >
          <SheetMenu
            :sheet="sheet"
            @overview="viewer?.overview()"
            @whole="viewer?.wholeSheet()"
            @totals="sheet.tally_at.length ? placeTotals(null) : use('place')"
            @found="place = $event"
          >
            <template #default="{ close }">
              <NButton text :aria-pressed="byOrder" @click="((byOrder = !byOrder), close())">
                {{ byOrder ? 'Show all alike' : 'Let what is ordered step back' }}
              </NButton>
              <NButton v-if="!sheet.followed" text @click="((revising = true), close())">
                Bring in its next revision
              </NButton>
              <NButton text title="With all its sheets; undo brings it back" @click="(remove(), close())">
                Delete this drawing
              </NButton>
            </template>
          </SheetMenu>
        </span>
      </div>
      <p v-if="sheet.layers.length && sheet.content !== 'read'" class="left-out" role="status">
        {{ sheet.content }}
      </p>
      <SheetViewer
        ref="viewer"
        :project="projectId"
        :sheet="seen!"
        :tool="inHand"
        :element="null"
        :figure="figure"
        :place="place"
        :line="line"
        :quiet="quiet"
        readonly
        @drawn="drawn"
        @picked="pick"
        @tool="use"
      >
        <ScaleBar
          v-if="scaling"
          :sheet="sheet"
          :picks="picks"
          :tool="tool"
          @close="use('pick')"
          @tool="use"
          @remove="removeArea"
        />
      </SheetViewer>
    </template>
    <ReviseDialog
      v-if="revising && drawing"
      :drawing="drawing"
      @close="revising = false"
      @done="arrived(drawing.id)"
    />
    <div v-if="drawings && !drawings.length" class="empty">
      <h2>No drawings yet</h2>
      <p>
        Bring in a drawing as PDF, DXF, PNG, JPEG or TIFF. Every page becomes a sheet; a DXF knows its scale,
        give the others theirs, then measure on it.
      </p>
      <FileDrop :accept="ACCEPTED" test="first-drawing-file" area @chosen="bringIn">
        <p>Drop it here, or</p>
        <NButton type="primary" :loading="bringing">Bring in a drawing</NButton>
      </FileDrop>
    </div>
  </Stage>
</template>

<style scoped>
.desk-head {
  flex-wrap: wrap;
}
.left-out {
  margin: 0;
  padding: 3px 12px;
  border-bottom: 1px solid var(--rule);
  color: var(--accent-ink);
}
.also {
  display: flex;
  gap: 14px;
}
.drop {
  display: block;
  margin-top: 6px;
}
.bring {
  padding: 4px 12px;
}
.title {
  flex: 0 1 170px;
  min-width: 70px;
}
.tool {
  color: var(--ink);
  padding: 3px 8px;
}
.tool.on {
  background: var(--main-soft);
  color: var(--main);
  font-weight: 600;
}
.proof {
  flex: none;
}
.good {
  color: var(--good);
}
.source {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
