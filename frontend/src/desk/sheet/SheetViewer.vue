<script setup lang="ts">
// A sheet with its figures: tiles of the page below, figures above, and drawing by mouse and by keys.
import Feature from 'ol/Feature'
import Map from 'ol/Map'
import Overlay from 'ol/Overlay'
import View from 'ol/View'
import { boundingExtent, buffer, createEmpty, extend, getCenter } from 'ol/extent'
import { LineString, Polygon } from 'ol/geom'
import { defaults as interactions } from 'ol/interaction'
import VectorLayer from 'ol/layer/Vector'
import 'ol/ol.css'
import Projection from 'ol/proj/Projection'
import VectorSource from 'ol/source/Vector'
import { NAlert } from 'naive-ui'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useTotals } from '../../api/project'
import { linesOf } from '../../api/revisions'
import { shown } from '../numbers'
import { rectangle, type Corner, type Point } from './arcs'
import { changeLayers, type Apart } from './changeLayer'
import { steps, useDrawing } from './drawing'
import { useFigureLayer } from './figureLayer'
import { useHandles } from './handles'
import { LineWork } from './lineWork'
import { areaOfScaleLook, foundLook, pendingLook, proofLook } from './looks'
import { pageLayer } from './tiles'
import { byKey, type Tool } from './tools'

const props = defineProps<{
  project: number
  sheet: Schemas['SheetDetail']
  tool: Tool
  /** The element whose figures stand out. */
  element: number | null
  /** The figure in focus. */
  figure: number | null
  /** Elements whose figures step back. */
  quiet?: ReadonlySet<number>
  /** A place to show: left, bottom, right, top. */
  place?: number[] | null
  /** Lines of two revisions apart; `bare` without the page below them. */
  apart?: Apart | null
  bare?: boolean
  /** A line to show, such as the known length just picked. */
  line?: Point[]
  readonly?: boolean
}>()
const emit = defineEmits<{
  drawn: [tool: Tool, points: Corner[], closed: boolean]
  picked: [figure: number | null]
  tool: [tool: Tool]
  remove: [figure: number]
  reshape: [figure: number, points: Corner[], voids: Corner[][]]
}>()

const box = ref<HTMLElement>()
const totals = ref<HTMLElement>()
const unreadable = ref('')
const work = shallowRef<LineWork | null>(null)
let map: Map | undefined
let page: ReturnType<typeof pageLayer> | undefined
const marks = new VectorSource({ wrapX: false })
const pending = new VectorSource({ wrapX: false })
const changes = changeLayers()
const overlay = new Overlay({ positioning: 'top-left', stopEvent: false })

const NONE: ReadonlySet<number> = new Set()
const isDrawing = computed(() => props.tool !== 'pick')
const scale = computed(() => {
  const { metres_per_unit, ratio, ratio_up } = props.sheet
  const x = metres_per_unit ?? 0
  return { x, y: ratio && ratio_up ? (x * ratio_up) / ratio : x }
})
const resolution = () => map?.getView().getResolution() ?? 1
const {
  source: figures,
  layer: figureLayer,
  show: showFigures,
} = useFigureLayer({
  shapes: () => props.sheet.shapes,
  element: () => props.element,
  figure: () => props.figure,
  quiet: () => props.quiet ?? NONE,
})
const drawing = useDrawing({
  tool: () => props.tool,
  scale: () => scale.value,
  work: () => work.value,
  figures,
  resolution,
  centre: () => map!.getView().getCenter() as Point,
  drawn: (tool, points, closed) => emit('drawn', tool, points, closed),
  drop: () => emit('tool', 'pick'),
})
const { corners, pointer, curving, following, hint } = drawing
const handles = useHandles({
  shape: () =>
    isDrawing.value ? null : (props.sheet.shapes.find((each) => each.id === props.figure) ?? null),
  writable: () => !props.readonly,
  at: (place) => {
    drawing.point(place)
    return pointer.value!
  },
  resolution,
  reshape: (figure, points, voids) => emit('reshape', figure, points, voids),
})
const { handle } = handles

const { data: sheetTotals } = useTotals(() => props.sheet.id)
const measured = computed(() => sheetTotals.value ?? [])
const familiesOf = (all: Schemas['SheetTotal'][]) => [...new Set(all.map((total) => total.family))]
onMounted(async () => {
  map = new Map({
    target: box.value,
    controls: [],
    overlays: [overlay],
    interactions: interactions({
      doubleClickZoom: false,
      altShiftDragRotate: false,
      pinchRotate: false,
      keyboard: false,
    }),
    layers: [
      figureLayer,
      ...changes.layers,
      new VectorLayer({ source: marks, zIndex: 2 }),
      new VectorLayer({
        source: pending,
        zIndex: 3,
        updateWhileAnimating: true,
        updateWhileInteracting: true,
      }),
    ],
  })
  overlay.setElement(totals.value)
  map.addInteraction(handles.dragging)
  map.on('click', (event) => {
    if (isDrawing.value) {
      drawing.point(event.coordinate as Point)
      drawing.addPoint(pointer.value!)
    } else
      emit(
        'picked',
        map?.forEachFeatureAtPixel(event.pixel, (f) => f.get('figure') as number, {
          hitTolerance: 4,
          layerFilter: (l) => l === figureLayer,
        }) ?? null,
      )
  })
  map.on('pointermove', (event) => {
    if (isDrawing.value && !event.dragging) drawing.point(event.coordinate as Point)
  })
  await nextTick()
  map.updateSize()
  showSheet()
  showFigures()
  showMarks()
  changes.show(props.apart)
  useTool()
  overview()
  zoomToFigure()
  if (props.place) fit(buffer(props.place, 120), 40)
})
onBeforeUnmount(() => map?.setTarget(undefined))

watch(
  () => props.sheet.id,
  () => {
    showSheet()
    showFigures()
    overview()
  },
)
// Other layers are other tiles, seen where one was looking.
watch(
  () => [props.sheet.id, props.sheet.tile_key],
  ([id], [before]) => id === before && showPage(),
)
// What was being drawn has tiles now.
watch(
  () => [props.sheet.id, props.sheet.content],
  ([id, now], [before, was]) => id === before && was === 'waiting' && now !== was && showPage(),
)
watch(
  () => props.bare,
  (bare) => page?.setVisible(!bare),
)
watch(() => props.apart, changes.show)
watch(() => props.sheet.shapes, showFigures)
watch(
  () => [props.element, props.figure, props.quiet],
  () => figureLayer.changed(),
)
watch(() => [props.sheet.areas, props.sheet.proof, props.sheet.id, props.line, isDrawing.value], showMarks)
watch(() => props.tool, useTool)
watch(() => [props.figure, props.sheet.id], zoomToFigure)
watch(() => [props.figure, props.tool, props.sheet.shapes, handle.value], showPending)
watch([corners, pointer, curving, following], showPending)
watch(
  () => props.figure,
  () => (handle.value = null),
)
watch(
  () => props.place,
  (place) => {
    if (place) fit(buffer(place, 120), 40)
    showMarks()
  },
)
watch(
  () => props.sheet.tally_at,
  (at) => overlay.setPosition(at.length ? at : undefined),
  { immediate: true },
)
// The drawing's own lines, once the server has read them.
watch(
  () => [props.sheet.id, props.sheet.content, props.sheet.tile_key],
  async () => {
    work.value = null
    const { id, content, tile_key } = props.sheet
    if (content === 'waiting') return
    const lines = await linesOf(props.project, id)
    if (id === props.sheet.id && tile_key === props.sheet.tile_key) work.value = new LineWork(lines)
  },
  { immediate: true },
)

function showSheet() {
  if (!map) return
  const { width, height, id } = props.sheet
  const extent = [0, 0, width, height]
  const projection = new Projection({ code: `sheet-${id}`, units: 'pixels', extent, metersPerUnit: 1 })
  map.setView(
    new View({
      projection,
      center: getCenter(extent),
      extent: buffer(extent, Math.max(width, height) / 2),
      showFullExtent: true,
      // Far enough out that a large upright sheet is seen whole in a low pane.
      maxResolution: Math.max(8, Math.max(width, height) / 150),
      minResolution: 0.03,
      constrainOnlyCenter: true,
    }),
  )
  showPage()
}
function showPage() {
  if (!map) return
  const { id, tile_key } = props.sheet
  unreadable.value = ''
  if (page) map.removeLayer(page)
  const address = `/api/projects/${props.project}/sheets/${id}`
  page = pageLayer(address, tile_key, map.getView().getProjection(), (why) => {
    if (id === props.sheet.id) unreadable.value = why
  })
  page.setVisible(!props.bare)
  map.addLayer(page)
}
function fit(extent: number[], padding = 16) {
  map?.getView().fit(extent, { padding: [padding, padding, padding, padding], size: map.getSize() })
}
function zoomToFigure() {
  const shape = props.sheet.shapes.find((each) => each.id === props.figure)
  if (!shape || !map) return
  const around = buffer(boundingExtent(shape.points.map((p) => p.slice(0, 2))), 60)
  const seen = map.getView().calculateExtent(map.getSize())
  const covers = seen[0] <= around[0] && seen[1] <= around[1] && seen[2] >= around[2] && seen[3] >= around[3]
  if (!covers) fit(around, 40)
}
/** The whole sheet, or all that is measured on it. */
function overview() {
  const all = figures
    .getFeatures()
    .reduce((sum, each) => extend(sum, each.getGeometry()!.getExtent()), createEmpty())
  fit(figures.isEmpty() ? [0, 0, props.sheet.width, props.sheet.height] : buffer(all, 60))
}
function wholeSheet() {
  fit([0, 0, props.sheet.width, props.sheet.height])
}
defineExpose({ overview, wholeSheet, focus: () => box.value?.focus() })

function showMarks() {
  marks.clear()
  for (const area of props.sheet.areas) {
    const feature = new Feature(new Polygon([[...area.ring, area.ring[0]]]))
    feature.setStyle(areaOfScaleLook(area.scale))
    marks.addFeature(feature)
  }
  // The proof of the scale is shown while the scale is being set: its label would lie over the work.
  const proof = props.element === null && isDrawing.value ? props.sheet.proof : null
  if (proof) {
    const feature = new Feature(new LineString([proof.first, proof.second]))
    feature.setStyle(
      proofLook(`${shown(proof.known, 2, 3)} m known, measures ${shown(proof.measured, 3)}`, !proof.finding),
    )
    marks.addFeature(feature)
  }
  if (props.line?.length) {
    const feature = new Feature(new LineString(props.line))
    feature.setStyle(pendingLook)
    marks.addFeature(feature)
  }
  if (props.place) {
    const [left, bottom, right, top] = buffer(props.place, 4)
    const feature = new Feature(new Polygon([rectangle([left, bottom], [right, top])]))
    feature.setStyle(foundLook)
    marks.addFeature(feature)
  }
}

function useTool() {
  drawing.leave()
  showPending()
  if (box.value) box.value.style.cursor = isDrawing.value ? 'crosshair' : ''
}
function showPending() {
  pending.clear()
  pending.addFeatures(isDrawing.value ? drawing.features() : handles.features())
}

// Keys.
function keydown(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if ((isDrawing.value && drawing.keyed(event)) || handles.keyed(event) || keyAnywhere(event)) {
    event.preventDefault()
    event.stopPropagation()
  }
}
function keyAnywhere(event: KeyboardEvent): boolean {
  const { key } = event
  if (key === 'Delete' && props.figure !== null) emit('remove', props.figure)
  else if (byKey[key.toLowerCase()]) emit('tool', byKey[key.toLowerCase()])
  else if (key === '+' || key === '-') map?.getView().adjustZoom(key === '+' ? 0.5 : -0.5)
  else if (key.startsWith('Arrow')) pan(key)
  else if (key === 'Escape') emit('picked', null)
  else return false
  return true
}
function pan(key: string) {
  const view = map!.getView()
  const step = 60 * resolution()
  const [x, y] = view.getCenter()!
  view.setCenter([x + steps[key][0] * step, y + steps[key][1] * step])
}
</script>

<template>
  <div class="viewer">
    <div
      ref="box"
      class="map"
      tabindex="0"
      role="application"
      :aria-label="`Sheet ${sheet.number}, page ${sheet.page}`"
      data-test="sheet"
      :data-lines="work?.count ?? ''"
      @keydown="keydown"
    ></div>
    <div ref="totals" class="totals">
      <b>Measured on this sheet</b>
      <template v-for="family in familiesOf(measured)" :key="family">
        <p class="family">{{ family }}</p>
        <p
          v-for="total in measured.filter((t) => t.family === family)"
          :key="`${total.element} ${total.label}`"
        >
          <span>{{ total.mark }} {{ total.label }}</span>
          <span class="num">{{ shown(total.net, 2) }} {{ total.unit }}</span>
        </p>
      </template>
    </div>
    <NAlert v-if="unreadable" type="warning" class="unreadable" data-test="unreadable">{{
      unreadable
    }}</NAlert>
    <p v-if="hint" class="hint" role="status">{{ hint }}</p>
    <slot />
  </div>
</template>

<style scoped>
.viewer {
  position: relative;
  flex: 1;
  min-height: 0;
  background: #efeae0;
}
.map {
  position: absolute;
  inset: 0;
}
.hint {
  position: absolute;
  left: 12px;
  bottom: 10px;
  margin: 0;
  max-width: calc(100% - 24px);
  padding: 3px 9px;
  background: var(--foot);
  color: var(--foot-ink);
  pointer-events: none;
}
.unreadable {
  position: absolute;
  top: 50%;
  left: 50%;
  width: min(440px, calc(100% - 24px));
  transform: translate(-50%, -50%);
}
.totals {
  min-width: 210px;
  padding: 6px 9px;
  border: 1px solid var(--ink);
  background: var(--panel);
  font-size: 12px;
}
.totals .family {
  margin-top: 3px;
  border-bottom: 1px solid var(--rule);
  color: var(--quiet);
}
.totals p {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  margin: 0;
}
</style>
