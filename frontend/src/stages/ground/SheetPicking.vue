<script setup lang="ts">
// Levels picked off a scaled sheet: two known points give its place and direction; then spot levels, and contours
// followed along the drawing's own lines.
import { NButton, NInput } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId, useSave, useSheet } from '../../api/project'
import { shown } from '../../desk/numbers'
import type { Corner, Point } from '../../desk/sheet/arcs'
import SheetViewer from '../../desk/sheet/SheetViewer.vue'
import type { Tool } from '../../desk/sheet/tools'
import { unitHere } from '../../desk/ways'

const props = defineProps<{ survey: Schemas['SurveyView']; readonly: boolean }>()
const projectId = useProjectId()
const { save } = useSave()
const { data: sheet } = useSheet(() => props.survey.sheet ?? null)
const viewer = ref<InstanceType<typeof SheetViewer>>()
const mode = ref<'known' | 'spot' | 'contour'>('spot')
const picked = ref<Corner[]>([])
const level = ref('')
const field = ref<InstanceType<typeof NInput>>()
const known = ref<{ x: number; y: number; east: string; north: string }[]>([])
const east = ref('')
const north = ref('')
watch(() => props.survey.known.length, (n) => (mode.value = n ? 'spot' : 'known'), { immediate: true }) // prettier-ignore
const tool = computed<Tool>(() =>
  props.readonly || picked.value.length ? 'pick' : mode.value === 'contour' ? 'run' : 'spot',
)
const line = computed<Point[]>(() => picked.value.map((p) => [p[0], p[1]]))
const path = computed(() => ({ params: { path: { project_id: projectId.value, survey: props.survey.id } } }))
/** The sheet with what was picked off it in place of what is measured on it. */
const shownSheet = computed<Schemas['SheetDetail'] | null>(() => {
  if (!sheet.value) return null
  const figure = (id: number, kind: 'count' | 'run', points: number[][], mark: string) =>
    ({ id, version: 1, kind, points, closed: false, voids: [], shows: mark, element: 0, mark, family: 'earth' }) as unknown as Schemas['FigureView']
  const lines = props.survey.contours.map((c) => figure(-c.id - 1, 'run', c.corners, c.level))
  const spots = props.survey.picked.length ? [figure(-1, 'count', props.survey.picked, 'Nr')] : []
  const marks = props.survey.known.length ? [figure(-2, 'count', props.survey.known.map((k) => k.slice(0, 2)), 'known')] : []
  return { ...sheet.value, tally_at: [], shapes: [...lines, ...spots, ...marks] }
}) // prettier-ignore
async function drawn(_tool: Tool, points: Corner[]) {
  picked.value = points
  await nextTick()
  field.value?.focus()
}
function leave() {
  picked.value = []
  level.value = east.value = north.value = ''
  viewer.value?.focus()
}
/** The two points are found on the whole sheet. */
function begin() {
  mode.value = 'known'
  leave()
  viewer.value?.wholeSheet()
}
async function keep() {
  const [first] = picked.value
  if (mode.value === 'known') {
    known.value.push({ x: first[0], y: first[1], east: east.value, north: north.value })
    leave()
    if (known.value.length < 2) return
    const points = known.value
    known.value = []
    await save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/surveys/{survey}', {
          ...path.value,
          body: { version: version ?? props.survey.version, known: points },
        }),
      ),
    )
    return
  }
  const corners = picked.value.map((p) => [p[0], p[1]])
  const saved = await save(() =>
    mode.value === 'contour'
      ? ask(
          client.POST('/api/projects/{project_id}/surveys/{survey}/contours', {
            ...path.value,
            body: { corners, level: level.value },
          }),
        )
      : ask(
          client.POST('/api/projects/{project_id}/surveys/{survey}/levels', {
            ...path.value,
            body: { x: first[0], y: first[1], level: level.value },
          }),
        ),
  )
  if (saved) leave()
}
const knownAt = computed(() =>
  props.survey.known.length
    ? `Known points at ${props.survey.known.map((k) => `${shown(k[2])} / ${shown(k[3])}`).join(' and ')}`
    : '',
)
const asks = computed(() => {
  if (picked.value.length) return ''
  if (mode.value === 'known') return `Click known point ${known.value.length + 1} of 2.`
  return mode.value === 'spot' ? 'Click a spot level.' : 'Click along a contour; F follows a line.'
})
</script>

<template>
  <div class="picking">
    <form v-if="!readonly" class="bar" @submit.prevent="keep">
      <NButton size="small" :type="mode === 'known' ? 'primary' : 'default'" @click="begin"
        >Two known points</NButton
      >
      <NButton
        size="small"
        :disabled="!survey.known.length"
        :type="mode === 'spot' ? 'primary' : 'default'"
        @click="((mode = 'spot'), leave())"
        >Spot levels</NButton
      >
      <NButton
        size="small"
        :disabled="!survey.known.length"
        :type="mode === 'contour' ? 'primary' : 'default'"
        @click="((mode = 'contour'), leave())"
        >Contours</NButton
      >
      <template v-if="picked.length && mode === 'known'">
        <span class="quiet">It lies at</span>
        <NInput
          ref="field"
          v-model:value="east"
          size="small"
          class="place"
          placeholder="easting"
          :input-props="{ 'aria-label': 'Easting of the known point' }"
          @keydown.esc="leave"
        />
        <NInput
          v-model:value="north"
          size="small"
          class="place"
          placeholder="northing"
          :input-props="{ 'aria-label': 'Northing of the known point' }"
          @keydown.esc="leave"
        />
        <span class="quiet">{{ unitHere('m') }}</span>
        <NButton size="small" type="primary" attr-type="submit">Keep</NButton>
      </template>
      <template v-else-if="picked.length">
        <span class="quiet">Level</span>
        <NInput
          ref="field"
          v-model:value="level"
          size="small"
          class="place"
          placeholder="42.60"
          :input-props="{ 'aria-label': 'Level picked' }"
          @keydown.esc="leave"
        />
        <span class="quiet">{{ unitHere('m') }}</span>
        <NButton size="small" type="primary" attr-type="submit">Keep</NButton>
      </template>
      <span v-else class="quiet asks">{{ asks }}</span>
      <span class="push quiet" :title="knownAt"
        >{{ survey.picked.length }} levels, {{ survey.contours.length }} contours</span
      >
    </form>
    <SheetViewer
      v-if="shownSheet"
      ref="viewer"
      class="sheet"
      :project="projectId"
      :sheet="shownSheet"
      :tool="tool"
      :element="0"
      :figure="null"
      :line="line"
      readonly
      @drawn="drawn"
    />
  </div>
</template>

<style scoped>
.picking {
  display: flex;
  flex: 1 1 55%;
  flex-direction: column;
  min-height: 0;
}
.bar {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 4px 12px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
.place {
  width: 104px;
}
.asks {
  overflow: hidden;
  text-overflow: ellipsis;
}
.push {
  flex: none;
  margin-left: auto;
}
.sheet {
  flex: 1;
  min-height: 0;
}
</style>
