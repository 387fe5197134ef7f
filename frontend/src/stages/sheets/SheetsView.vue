<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, sendFile } from '../../api/client'
import { useDrawings, useSave, useSheet, type Saved } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import ListPane from '../../desk/ListPane.vue'
import SheetViewer, { type Tool } from '../../desk/SheetViewer.vue'
import Stage from '../../desk/Stage.vue'
import { day, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import ScaleBar from './ScaleBar.vue'

const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: drawings } = useDrawings()
const chosen = computed(() => (route.params.sheet ? Number(route.params.sheet) : (drawings.value?.[0]?.sheets[0]?.id ?? null)))
const { data: sheet } = useSheet(chosen)
const drawing = computed(() => drawings.value?.find((each) => each.id === sheet.value?.drawing))
const tool = ref<Tool>('pick')
const figure = ref<number | null>(null)
const picks = ref<[number, number][]>([])
const file = ref<HTMLInputElement>()
const bringing = ref(false)
const scaling = computed(() => tool.value === 'scale' || sheet.value?.ratio === null)
const effectiveTool = computed<Tool>(() => (scaling.value && picks.value.length < 2 ? 'scale' : 'pick'))

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
function drawn(_tool: Tool, points: [number, number][]) {
  picks.value = points
}
function pick(id: number | null) {
  figure.value = id
  if (id !== null) walk.look(`figure:${id}`)
}
function use(next: Tool) {
  if (next === 'scale') picks.value = []
  if (next === 'count' || next === 'area' || next === 'void')
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
    ask(client.DELETE('/api/projects/{project_id}/drawings/{drawing}', { params: { path: { project_id: projectId.value, drawing: id } } })),
  )
  if (gone) await router.push(`/projects/${projectId.value}/sheets`)
}
</script>

<template>
  <Stage label="Sheets">
    <template #list>
      <ListPane find="Find a sheet" :groups="groups" :chosen="chosen">
        <p class="bring"><NButton type="primary" :loading="bringing" @click="file?.click()">Bring in a PDF</NButton></p>
      </ListPane>
      <input ref="file" type="file" accept="application/pdf,.pdf" hidden data-test="drawing-file" @change="bringIn" />
    </template>
    <template v-if="sheet">
      <div class="desk-head">
        <b :title="`${drawing?.file}, received ${day(drawing?.received ?? null)}`"
          >{{ sheet.number }} {{ sheet.letter }}, p. {{ sheet.page }}</b
        >
        <EntryField class="title" :value="sheet.title" placeholder="Title of this sheet" aria-label="Title of this sheet" @change="title" />
        <button class="plain tool" :class="{ on: scaling }" @click="use('scale')">Scale <kbd>K</kbd></button>
        <span class="num">{{ sheet.ratio ? `1:${shown(sheet.ratio, 0, 1)}` : 'no scale' }}</span>
        <span class="quiet source">{{ sheet.scale_source }}</span>
        <span class="push"></span>
        <button class="plain quiet" @click="remove">Delete drawing</button>
      </div>
      <SheetViewer
        :project="projectId"
        :sheet="sheet"
        :tool="effectiveTool"
        :element="null"
        :figure="figure"
        @drawn="drawn"
        @picked="pick"
        @tool="use"
      >
        <ScaleBar v-if="scaling" :sheet="sheet" :picks="picks" @close="use('pick')" />
      </SheetViewer>
    </template>
    <div v-else-if="drawings && !drawings.length" class="empty">
      <h2>No drawings yet</h2>
      <p>Bring in the PDF of a drawing. Every page becomes a sheet; give each its scale, then measure on it.</p>
      <p><NButton type="primary" :loading="bringing" @click="file?.click()">Bring in a PDF</NButton></p>
    </div>
  </Stage>
</template>

<style scoped>
.bring {
  padding: 4px 12px;
}
.title {
  width: 170px;
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
.source {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
