<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, sendFile } from '../../api/client'
import { useDrawings, useSave, useSheet, type Saved } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import ListPane from '../../desk/ListPane.vue'
import SheetMenu from '../../desk/sheet/SheetMenu.vue'
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import type { Corner } from '../../desk/sheet/arcs'
import { measuring, type Tool } from '../../desk/sheet/tools'
import Stage from '../../desk/Stage.vue'
import { day, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import ScaleBar from './ScaleBar.vue'

const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: drawings } = useDrawings()
const chosen = computed(() =>
  route.params.sheet ? Number(route.params.sheet) : (drawings.value?.[0]?.sheets[0]?.id ?? null),
)
const { data: sheet } = useSheet(chosen)
const drawing = computed(() => drawings.value?.find((each) => each.id === sheet.value?.drawing))
const tool = ref<Tool>('pick')
const figure = ref<number | null>(null)
const picks = ref<[number, number][]>([])
const file = ref<HTMLInputElement>()
const viewer = ref<InstanceType<typeof SheetViewer>>()
const bringing = ref(false)
const place = ref<number[] | null>(null)
const scaleTools: Tool[] = ['scale', 'proof', 'along', 'up', 'detail']
const scaling = computed(() => scaleTools.includes(tool.value) || sheet.value?.ratio === null)
const effectiveTool = computed<Tool>(() =>
  scaling.value
    ? picks.value.length < 2
      ? tool.value === 'pick'
        ? 'scale'
        : tool.value
      : 'pick'
    : tool.value,
)

/** What was picked stays to be seen while its length or ratio is typed. */
const line = computed<[number, number][]>(() => {
  const [first, second] = picks.value
  if (!scaling.value || !second) return []
  const ring: [number, number][] = [first, [second[0], first[1]], second, [first[0], second[1]], first]
  return tool.value === 'detail' ? ring : [first, second]
})

const groups = computed(() =>
  (drawings.value ?? []).map((each) => ({
    key: each.id,
    title: `${each.number}, rev ${each.letter}`,
    entries: each.sheets.map((s) => ({
      id: s.id,
      name: s.title || `Page ${s.page}`,
      value: s.ratio ? `1:${shown(s.ratio, 0, 1)}` : 'no scale',
      to: `/projects/${projectId.value}/sheets/${s.id}`,
      warn: !s.ratio,
    })),
  })),
)
watch(chosen, () => {
  tool.value = 'pick'
  picks.value = []
  figure.value = null
})

async function bringIn(event: Event) {
  const chosenFile = (event.target as HTMLInputElement).files?.[0]
  if (!chosenFile) return
  const form = new FormData()
  form.append('file', chosenFile)
  bringing.value = true
  const saved = await save(() => sendFile<Saved>(`/api/projects/${projectId.value}/drawings`, form))
  bringing.value = false
  if (file.value) file.value.value = ''
  const first = drawings.value?.find((each) => each.id === saved?.id)?.sheets[0]
  if (first) await router.push(`/projects/${projectId.value}/sheets/${first.id}`)
}
function drawn(what: Tool, points: Corner[]) {
  if (what === 'place') return void placeTotals([points[0][0], points[0][1]])
  picks.value = points.map((p) => [p[0], p[1]])
}
async function placeTotals(at: [number, number] | null) {
  const now = sheet.value
  tool.value = 'pick'
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
  figure.value = id
  if (id !== null) walk.look(`figure:${id}`)
}
function use(next: Tool) {
  if (scaleTools.includes(next)) picks.value = []
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
      <ListPane find="Find a sheet" :groups="groups" :chosen="chosen">
        <p class="bring">
          <NButton type="primary" :loading="bringing" @click="file?.click()">Bring in a drawing</NButton>
        </p>
      </ListPane>
      <input
        ref="file"
        type="file"
        accept="application/pdf,image/png,image/jpeg,image/tiff,.pdf,.png,.jpg,.jpeg,.tif,.tiff"
        hidden
        data-test="drawing-file"
        @change="bringIn"
      />
    </template>
    <template v-if="sheet">
      <div class="desk-head">
        <b :title="`${drawing?.file}, received ${day(drawing?.received ?? null)}`"
          >{{ sheet.number }} {{ sheet.letter }}, p. {{ sheet.page }}</b
        >
        <EntryField
          class="title"
          :value="sheet.title"
          placeholder="Title of this sheet"
          aria-label="Title of this sheet"
          @change="title"
        />
        <button class="plain tool" :class="{ on: tool === 'scale' }" @click="use('scale')">
          Scale <kbd>K</kbd>
        </button>
        <span class="num"
          >{{ sheet.ratio ? `1:${shown(sheet.ratio, 0, 1)}` : 'no scale'
          }}{{ sheet.ratio_up ? ` across, 1:${shown(sheet.ratio_up, 0, 1)} up` : '' }}</span
        >
        <template v-if="sheet.ratio">
          <button
            class="plain tool"
            :class="{ on: tool === 'proof' }"
            title="Hold a second known length against the scale"
            @click="use('proof')"
          >
            Prove
          </button>
          <button
            class="plain tool"
            :class="{ on: tool === 'detail' }"
            title="A part of the sheet drawn at another scale"
            @click="use('detail')"
          >
            Detail
          </button>
        </template>
        <span
          v-if="sheet.proof"
          class="proof"
          :class="sheet.proof.finding ? 'bad' : 'good'"
          :title="sheet.proof.finding || 'What the second known length is off the scale'"
          >{{ shown(Math.abs(sheet.proof.off) * 100, 2) }} % off</span
        >
        <span v-else class="quiet source">{{ sheet.scale_source }}</span>
        <span class="push"></span>
        <SheetMenu
          :sheet="sheet"
          @overview="viewer?.overview()"
          @whole="viewer?.wholeSheet()"
          @totals="sheet.tally_at.length ? placeTotals(null) : use('place')"
          @found="place = $event"
        >
          <template #default="{ close }">
            <button
              class="plain"
              title="With all its sheets; undo brings it back"
              @click="(remove(), close())"
            >
              Delete this drawing
            </button>
          </template>
        </SheetMenu>
      </div>
      <SheetViewer
        ref="viewer"
        :project="projectId"
        :sheet="sheet"
        :tool="effectiveTool"
        :element="null"
        :figure="figure"
        :place="place"
        :line="line"
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
    <div v-else-if="drawings && !drawings.length" class="empty">
      <h2>No drawings yet</h2>
      <p>
        Bring in a drawing as PDF, PNG, JPEG or TIFF. Every page becomes a sheet; give each its scale, then
        measure on it.
      </p>
      <p><NButton type="primary" :loading="bringing" @click="file?.click()">Bring in a drawing</NButton></p>
    </div>
  </Stage>
</template>

<style scoped>
.bring {
  padding: 4px 12px;
}
.title {
  flex: 0 1 170px;
  min-width: 70px;
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  font: inherit;
}
.title:hover,
.title:focus {
  border-bottom-color: var(--rule);
}
.tool {
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
