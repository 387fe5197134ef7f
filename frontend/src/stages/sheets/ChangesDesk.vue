<script setup lang="ts">
// A sheet laid over the one it follows: the places where they differ, one after another, and the figures near
// each.
import { NButton, NCheckbox, NRadioButton, NRadioGroup } from 'naive-ui'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useDrawings, useProject, useSave, useSheet } from '../../api/project'
import { linesOf, useChanges } from '../../api/revisions'
import { shown } from '../../desk/numbers'
import type { Corner, Point } from '../../desk/sheet/arcs'
import type { Apart } from '../../desk/sheet/changeLayer'
import type { Tool } from '../../desk/sheet/tools'
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import Stage from '../../desk/Stage.vue'

type Place = Schemas['PlaceView']
const route = useRoute()
const router = useRouter()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: drawings } = useDrawings()
const id = computed(() => Number(route.params.sheet))
const { data: sheet } = useSheet(id)
const { data: changes, error } = useChanges(id)
const readonly = computed(() => project.value?.role === 'viewer')
const revision = computed(() => drawings.value?.find((each) => each.id === sheet.value?.drawing)?.revision)
const places = computed(() => changes.value?.places ?? [])
const at = ref(0)
const place = computed<Place | undefined>(() => places.value[at.value])
const left = computed(() => places.value.filter((each) => !each.looked).length)
const list = ref<HTMLElement>()
const how = ref<'places' | 'whole'>('places')
const WAYS = [
  ['places', 'Changes'],
  ['whole', 'Both, whole'],
] as const
watch(id, () => (at.value = 0))

/** Laid by hand: two points picked on the former sheet, then the same two on this one. */
const laying = ref<null | { picks: Point[] }>(null)
const onFormer = computed(() => !!laying.value && !laying.value.picks.length)
const { data: formerSheet } = useSheet(
  computed(() => (laying.value ? (sheet.value?.lay?.former ?? null) : null)),
)
const seen = computed(() => (onFormer.value ? formerSheet.value : sheet.value))
async function picked(_: Tool, points: Corner[]) {
  const two = points.map((each): Point => [each[0], each[1]])
  const now = sheet.value
  if (!laying.value || !now) return
  if (!laying.value.picks.length) return void (laying.value = { picks: two })
  const { picks } = laying.value
  laying.value = null
  whole.value = null
  how.value = 'places'
  await save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/sheets/{sheet}/lay', {
        params: { path: { project_id: projectId.value, sheet: now.id } },
        body: { version: version ?? now.version, picks, onto: two },
      }),
    ),
  )
  at.value = 0
}
watch(id, () => (laying.value = null))

/** All lines of both revisions, where both are looked at whole. */
const whole = shallowRef<Apart | null>(null)
watch(how, async (now) => {
  const lay = sheet.value?.lay
  if (now !== 'whole' || !lay || whole.value) return
  const [was, is] = await Promise.all([
    linesOf(projectId.value, lay.former),
    linesOf(projectId.value, id.value),
  ])
  whole.value = { gone: laid(was, lay), came: is }
})
watch(id, () => ((whole.value = null), (how.value = 'places')))
function laid(lines: Float32Array, lay: Schemas['LayView']): Float32Array {
  const [a, b] = lay.turn
  const [east, north] = lay.shift
  const out = new Float32Array(lines.length)
  for (let each = 0; each < lines.length; each += 2) {
    out[each] = a * lines[each] - b * lines[each + 1] + east
    out[each + 1] = b * lines[each] + a * lines[each + 1] + north
  }
  return out
}
const apart = computed<Apart | null>(() =>
  how.value === 'whole'
    ? whole.value
    : {
        gone: places.value.flatMap((each) => each.gone.flat()),
        came: places.value.flatMap((each) => each.came.flat()),
        words: places.value
          .map(({ words_gone: gone }) => ({ text: said(gone), box: gone[0]?.box ?? [] }))
          .filter((each) => each.text),
      },
)

/** What is measured steps back, so that the drawing is seen. */
const all = computed(() => new Set(sheet.value?.shapes.map((each) => each.element)))

const said = (words: Schemas['WordView'][]) => words.map((word) => word.text).join(' ')
function words(each: Place): string {
  const gone = said(each.words_gone)
  const came = said(each.words_came)
  if (gone && came) return `${gone} → ${came}`
  if (gone) return `${gone} went`
  return came ? `${came} came` : ''
}
function told(each: Place): string {
  const { length: gone } = each.gone
  const { length: came } = each.came
  if (gone && came) return `lines: ${gone} went, ${came} came`
  if (gone) return `${gone} ${gone === 1 ? 'line' : 'lines'} went`
  return came ? `${came} ${came === 1 ? 'line' : 'lines'} came` : 'words only'
}
function go(by: number) {
  const count = places.value.length
  if (!count) return
  look((at.value + by + count) % count)
}
function look(index: number) {
  at.value = index
  list.value?.querySelectorAll('button')[index]?.scrollIntoView({ block: 'nearest' })
}
function keydown(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target instanceof HTMLInputElement) return
  const key = event.key.toLowerCase()
  if (key === 'n') go(event.shiftKey ? -1 : 1)
  else if (key === 'l' && place.value) void looked(place.value, true)
  else return
  event.preventDefault()
  event.stopPropagation()
}
/** Say that a place was looked at, and go to the next that wasn't. */
async function looked(each: Place, is: boolean) {
  const done = await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/changed-places/{place}', {
        params: { path: { project_id: projectId.value, place: each.id } },
        body: { version: version ?? each.version, looked: is },
      }),
    ),
  )
  if (!done || !is) return
  const next = [...places.value.keys()].find((index) => index > at.value && !places.value[index].looked)
  if (next !== undefined) look(next)
}
const keep = (figures: number[]) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/figures/looked-at', {
        params: { path: { project_id: projectId.value } },
        body: { figures },
      }),
    ),
  )
const remove = (figure: number) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/figures/{figure}', {
        params: { path: { project_id: projectId.value, figure } },
      }),
    ),
  )
const putRight = (figure: Schemas['NearFigure']) =>
  router.push({
    path: `/projects/${projectId.value}/measure/${figure.element}`,
    query: { at: `figure:${figure.id}`, sheet: id.value },
  })
const near = computed(() => [...(place.value?.figures ?? []), ...(changes.value?.elsewhere ?? [])])
</script>

<template>
  <Stage label="Changes" keeps>
    <template #list>
      <div v-if="changes && sheet" class="head">
        <b>{{ sheet.number }} {{ changes.letter }} over {{ changes.former }}</b>
        <span class="quiet">{{ sheet.lay?.words }}</span>
        <span v-if="changes.left.length" class="bad"
          >Page {{ changes.left.join(', ') }} of {{ changes.former }} isn't in {{ changes.letter }}; what is
          measured there is to be looked at.</span
        >
        <NButton
          v-if="!readonly"
          text
          class="by-hand"
          :title="`Pick two points of ${changes.former}, then the same two on ${changes.letter}`"
          @click="laying = laying ? null : { picks: [] }"
          >{{ laying ? 'Leave it as it lies' : 'Lay it by two points' }}</NButton
        >
        <NRadioGroup v-model:value="how" size="small" aria-label="What is shown">
          <NRadioButton v-for="[value, name] in WAYS" :key="value" :value="value">{{ name }}</NRadioButton>
        </NRadioGroup>
        <span class="key"
          ><i class="gone"></i> went, only in {{ changes.former }} <i class="came"></i> came, only in
          {{ changes.letter }}</span
        >
      </div>
      <div
        v-if="sheet && (changes || error)"
        ref="list"
        class="scroll places"
        tabindex="0"
        role="region"
        aria-label="Places that changed"
        @keydown="keydown"
      >
        <p v-if="error" class="quiet">{{ (error as Error).message }}</p>
        <p v-else-if="changes && !places.length" class="quiet">
          No line and no word of it is another than before.
        </p>
        <NButton
          v-for="(each, index) in places"
          :key="each.id"
          text
          class="laid place"
          :class="{ chosen: index === at, looked: each.looked }"
          :aria-pressed="index === at"
          :title="`${words(each)} ${told(each)}`"
          @click="look(index)"
        >
          <span class="row"
            ><b>{{ index + 1 }}</b
            ><span class="words">{{ words(each) || told(each) }}</span
            ><span class="num">{{ shown(each.size, 0) }} mm</span></span
          >
          <span class="row quiet"
            ><b></b><span class="words">{{ words(each) ? told(each) : '' }}</span>
            <span v-if="each.figures.length" class="bad">{{ each.figures.length }} to look at</span>
            <span v-else-if="each.looked">looked at</span></span
          >
        </NButton>
        <p v-if="changes?.more" class="quiet">{{ changes.more }} smaller places aren't told.</p>
      </div>
    </template>
    <div v-if="sheet && changes" class="desk-head" @keydown="keydown">
      <template v-if="places.length">
        <b>Place {{ at + 1 }} of {{ places.length }}</b>
        <NButton text @click="go(-1)">Back</NButton>
        <NButton text type="primary" @click="go(1)">Next <kbd>N</kbd></NButton>
        <NCheckbox
          v-if="place"
          :checked="place.looked"
          :disabled="readonly"
          @update:checked="looked(place, $event)"
          >Looked at <kbd>L</kbd></NCheckbox
        >
        <span class="quiet">{{ left ? `${left} left` : 'all looked at' }}</span>
      </template>
      <span class="push"></span>
      <RouterLink v-if="revision" :to="`/projects/${projectId}/sheets/revision/${revision}`"
        >What it did to the bill</RouterLink
      >
      <RouterLink :to="`/projects/${projectId}/sheets/${id}`">The sheet</RouterLink>
    </div>
    <div
      v-if="near.length"
      class="near"
      role="region"
      aria-label="Figures near this change"
      @keydown="keydown"
    >
      <span class="quiet">Near this change:</span>
      <NButton
        v-if="near.length > 1 && !readonly"
        text
        type="primary"
        @click="keep(near.map((figure) => figure.id))"
        >Keep all {{ near.length }}</NButton
      >
      <span v-for="figure in near" :key="figure.id" class="figure">
        <b>{{ figure.mark }}</b> {{ figure.shows }}
        <template v-if="!readonly">
          <NButton text type="primary" :aria-label="`Keep ${figure.mark}`" @click="keep([figure.id])"
            >Keep</NButton
          >
          <NButton text :aria-label="`Put right ${figure.mark}`" @click="putRight(figure)">Put right</NButton>
          <NButton text :aria-label="`Delete ${figure.mark}`" @click="remove(figure.id)">Delete</NButton>
        </template>
      </span>
    </div>
    <p v-if="laying" class="near" role="status">
      {{
        onFormer
          ? `Revision ${changes?.former}: pick two points that both have.`
          : `Revision ${changes?.letter}: pick the same two points.`
      }}
    </p>
    <SheetViewer
      v-if="seen && (changes || error)"
      :project="projectId"
      :sheet="seen"
      :tool="laying ? 'tie' : 'pick'"
      :element="null"
      :figure="null"
      :place="how === 'places' && !laying ? (place?.box ?? null) : null"
      :apart="laying ? null : apart"
      :quiet="all"
      :bare="how === 'whole' && !laying"
      readonly
      @drawn="picked"
      @tool="(next) => next === 'pick' && (laying = null)"
      @keydown="keydown"
    />
  </Stage>
</template>

<style scoped>
.head {
  display: grid;
  gap: 6px;
  padding: 9px 12px;
  border-bottom: 1px solid var(--rule);
}
.by-hand {
  justify-self: start;
}
.key {
  font-size: 12px;
}
.key i {
  display: inline-block;
  width: 16px;
  height: 3px;
  margin: 0 2px 3px 0;
  vertical-align: middle;
}
.key i + i,
.key .came {
  margin-left: 8px;
}
.gone {
  background: #c4512f;
}
.came {
  background: #1e8593;
}
.places {
  flex: 1;
}
.places p {
  padding: 6px 12px;
}
.place {
  display: block;
  width: 100%;
  height: auto;
  padding: 5px 12px 5px 9px;
  border-left: 3px solid transparent;
  border-bottom: 1px solid var(--rule);
  text-align: left;
}
.place.chosen {
  border-left-color: var(--accent);
  background: var(--panel);
}
.place.looked .words {
  color: var(--quiet);
}
.place :deep(.n-button__content) {
  display: block;
}
.row {
  display: flex;
  gap: 8px;
  line-height: 20px;
}
.row b {
  flex: 0 0 20px;
}
.words {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.near {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  max-height: 92px;
  padding: 5px 12px;
  overflow-y: auto;
  border-bottom: 1px solid var(--rule);
}
.figure {
  display: flex;
  gap: 7px;
}
</style>
