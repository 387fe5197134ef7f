<script setup lang="ts">
// A sheet with its figures: tiles of the page below, figures above, and drawing with keys.
import Feature from 'ol/Feature'
import Map from 'ol/Map'
import View from 'ol/View'
import { boundingExtent, buffer, createEmpty, extend, getCenter } from 'ol/extent'
import { MultiPoint, Point as PointShape, Polygon } from 'ol/geom'
import { Draw, Snap, defaults as interactions } from 'ol/interaction'
import TileLayer from 'ol/layer/Tile'
import VectorLayer from 'ol/layer/Vector'
import 'ol/ol.css'
import Projection from 'ol/proj/Projection'
import TileImage from 'ol/source/TileImage'
import VectorSource from 'ol/source/Vector'
import { Circle, Fill, Stroke, Style, Text } from 'ol/style'
import TileGrid from 'ol/tilegrid/TileGrid'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { families, hatch } from './families'

export type Tool = 'pick' | 'count' | 'area' | 'void' | 'scale'
type Point = [number, number]

const props = defineProps<{
  project: number
  sheet: Schemas['SheetDetail']
  tool: Tool
  /** The element whose figures stand out. */
  element: number | null
  /** The figure in focus. */
  figure: number | null
}>()
const emit = defineEmits<{
  drawn: [tool: Tool, points: Point[]]
  picked: [figure: number | null]
  tool: [tool: Tool]
  remove: [figure: number]
}>()

const box = ref<HTMLElement>()
const points = ref<Point[]>([])
let map: Map | undefined
let draw: Draw | undefined
let snap: Snap | undefined
const figures = new VectorSource({ wrapX: false })
const pending = new VectorSource({ wrapX: false })
let tiles: TileLayer<TileImage> | undefined

const hint = computed(() => {
  const n = points.value.length
  if (props.tool === 'count')
    return n ? `${n} counted. Enter ends, Backspace takes the last back, Esc leaves.` : 'Click each one. Enter ends.'
  if (props.tool === 'area' || props.tool === 'void')
    return n
      ? `${n} corners. Enter ends, Backspace takes the last back, Esc leaves.`
      : `Click the corners of the ${props.tool}. Enter ends.`
  if (props.tool === 'scale') return n ? 'Pick the other end of the known length.' : 'Pick one end of a known length.'
  return ''
})

onMounted(async () => {
  map = new Map({
    target: box.value,
    controls: [],
    interactions: interactions({ doubleClickZoom: false, altShiftDragRotate: false, pinchRotate: false, keyboard: false }),
    layers: [
      new VectorLayer({ source: figures, style: styleOf, zIndex: 1 }),
      new VectorLayer({ source: pending, style: pendingStyle, zIndex: 2 }),
    ],
  })
  map.on('click', (event) => {
    if (props.tool === 'count' || props.tool === 'scale') addPoint(snapped(event.coordinate as Point))
    else if (props.tool === 'pick')
      emit('picked', map?.forEachFeatureAtPixel(event.pixel, (f) => f.get('figure') as number, { hitTolerance: 4 }) ?? null)
  })
  await nextTick()
  map.updateSize()
  showFigures()
  showSheet()
  useTool()
})
onBeforeUnmount(() => map?.setTarget(undefined))

watch(() => props.sheet.id, showSheet)
watch(() => [props.sheet.shapes, props.element, props.figure], showFigures)
watch(() => props.tool, useTool)
watch(() => [props.figure, props.sheet.id], zoomToFigure)

function showSheet() {
  if (!map) return
  const { width, height, id } = props.sheet
  const extent = [0, 0, width, height]
  const projection = new Projection({ code: `sheet-${id}`, units: 'pixels', extent, metersPerUnit: 1 })
  const resolutions = [4, 2, 1, 0.5, 0.25, 0.125, 0.0625]
  const tileGrid = new TileGrid({ extent, origin: [0, height], tileSize: 256, resolutions })
  const source = new TileImage({
    projection,
    tileGrid,
    transition: 0,
    wrapX: false,
    tileUrlFunction: ([z, x, y]) => `/api/projects/${props.project}/sheets/${id}/tiles/${z}/${x}/${y}.png?k=${props.sheet.tile_key}`,
  })
  if (tiles) map.removeLayer(tiles)
  tiles = new TileLayer({ source, extent, zIndex: 0 })
  map.addLayer(tiles)
  map.setView(
    new View({
      projection,
      center: getCenter(extent),
      extent: buffer(extent, Math.max(width, height) / 2),
      showFullExtent: true,
      maxResolution: 8,
      minResolution: 0.03,
      constrainOnlyCenter: true,
    }),
  )
  overview()
  zoomToFigure()
}
function fit(extent: number[], padding = 16) {
  map?.getView().fit(extent, { padding: [padding, padding, padding, padding], size: map.getSize() })
}
function zoomToFigure() {
  const shape = props.sheet.shapes.find((each) => each.id === props.figure)
  if (!shape || !map) return
  const around = buffer(boundingExtent(shape.points), 60)
  const seen = map.getView().calculateExtent(map.getSize())
  const covers = seen[0] <= around[0] && seen[1] <= around[1] && seen[2] >= around[2] && seen[3] >= around[3]
  if (!covers) fit(around, 40)
}
/** The whole sheet, or all that is measured on it. */
function overview() {
  const all = figures.getFeatures().reduce((sum, each) => extend(sum, each.getGeometry()!.getExtent()), createEmpty())
  fit(figures.isEmpty() ? [0, 0, props.sheet.width, props.sheet.height] : buffer(all, 60))
}
function wholeSheet() {
  fit([0, 0, props.sheet.width, props.sheet.height])
}
defineExpose({ overview, wholeSheet })

function showFigures() {
  figures.clear()
  for (const shape of props.sheet.shapes) {
    const common = { figure: shape.id, shape }
    if (shape.kind === 'count') {
      shape.points.forEach((point, at) => figures.addFeature(new Feature({ ...common, geometry: new PointShape(point), number: at + 1 })))
    } else {
      figures.addFeature(new Feature({ ...common, geometry: new Polygon([shape.points, ...shape.voids]) }))
      for (const hole of shape.voids) figures.addFeature(new Feature({ ...common, geometry: new Polygon([hole]), hollow: true }))
    }
  }
}
function styleOf(feature: unknown) {
  const each = feature as Feature
  const shape = each.get('shape') as Schemas['FigureView']
  const look = families[shape.family] ?? families.concrete
  const faint = props.element !== null && shape.element !== props.element
  const strong = shape.id === props.figure
  const stroke = new Stroke({ color: strong ? '#B86F24' : faint ? `${look.line}70` : look.line, width: strong ? 2.5 : 1.6 })
  const words = { font: "500 12px 'IBM Plex Mono'", fill: new Fill({ color: look.line }), stroke: new Stroke({ color: '#fffd', width: 4 }) }
  if (shape.kind === 'count') {
    const fill = new Fill({ color: faint ? '#ffffff80' : hatch(shape.family) })
    const text = faint ? undefined : new Text({ ...words, text: `${shape.mark}·${each.get('number')}`, offsetY: -18 })
    return new Style({ image: new Circle({ radius: strong ? 10 : 8, fill, stroke }), text })
  }
  if (each.get('hollow')) {
    const dashed = new Stroke({ color: look.line, width: 1.4, lineDash: [5, 3] })
    return new Style({ stroke: dashed, fill: new Fill({ color: hatch(shape.family, true) }), text: new Text({ ...words, text: 'ddt' }) })
  }
  const outline = new Style({ stroke, fill: faint ? undefined : new Fill({ color: hatch(shape.family) }) })
  if (faint) return outline
  // The words stand in the upper left corner, clear of voids in the middle.
  const [left, , , top] = each.getGeometry()!.getExtent()
  const text = new Text({ ...words, text: `${shape.mark}  ${shape.shows}`, textAlign: 'left', offsetX: 14, offsetY: 24 })
  return [outline, new Style({ geometry: new PointShape([left, top]), text })]
}
const pendingStyle = new Style({
  image: new Circle({ radius: 6, fill: new Fill({ color: '#B86F24' }), stroke: new Stroke({ color: '#fff', width: 1.5 }) }),
  stroke: new Stroke({ color: '#B86F24', width: 2 }),
  fill: new Fill({ color: '#B86F2422' }),
})

function useTool() {
  points.value = []
  pending.clear()
  if (draw) map?.removeInteraction(draw)
  if (snap) map?.removeInteraction(snap)
  draw = undefined
  if (props.tool === 'area' || props.tool === 'void') {
    draw = new Draw({ source: pending, type: 'Polygon', style: pendingStyle, stopClick: true })
    draw.on('drawend', (event) => {
      const ring = (event.feature.getGeometry() as Polygon).getCoordinates()[0].slice(0, -1) as Point[]
      // The picture is taken away by the next tick, once the layer has taken the feature in.
      setTimeout(() => pending.clear())
      points.value = []
      emit('drawn', props.tool, ring)
    })
    draw.on('drawstart', () => (points.value = []))
    map?.addInteraction(draw)
  }
  snap = new Snap({ source: figures, pixelTolerance: 9 })
  map?.addInteraction(snap)
  if (box.value) box.value.style.cursor = props.tool === 'pick' ? '' : 'crosshair'
}
function snapped(point: Point): Point {
  const near = figures.getClosestFeatureToCoordinate(point)?.getGeometry()?.getClosestPoint(point) as Point | undefined
  const reach = 7 * (map?.getView().getResolution() ?? 1)
  return props.tool === 'scale' && near && Math.hypot(near[0] - point[0], near[1] - point[1]) < reach ? near : point
}
function addPoint(point: Point) {
  points.value = [...points.value, point]
  pending.clear()
  pending.addFeature(new Feature(new MultiPoint(points.value)))
  if (props.tool === 'scale' && points.value.length === 2) end()
}
function end() {
  if (draw) {
    draw.finishDrawing()
    return
  }
  if (!points.value.length) return
  emit('drawn', props.tool, points.value)
  points.value = []
  pending.clear()
}
function keydown(event: KeyboardEvent) {
  const tools: Record<string, Tool> = { c: 'count', a: 'area', v: 'void', k: 'scale' }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'Enter') end()
  else if (event.key === 'Backspace') {
    if (draw) draw.removeLastPoint()
    else if (points.value.length) {
      points.value = points.value.slice(0, -1)
      pending.clear()
      if (points.value.length) pending.addFeature(new Feature(new MultiPoint(points.value)))
    }
  } else if (event.key === 'Escape') {
    if (points.value.length || draw) {
      draw?.abortDrawing()
      points.value = []
      pending.clear()
    }
    emit('tool', 'pick')
  } else if (event.key === 'Delete' && props.figure !== null) emit('remove', props.figure)
  else if (tools[event.key.toLowerCase()]) emit('tool', tools[event.key.toLowerCase()])
  else if (event.key === '+' || event.key === '-') map?.getView().adjustZoom(event.key === '+' ? 0.5 : -0.5)
  else if (event.key.startsWith('Arrow')) pan(event.key)
  else return
  event.preventDefault()
  event.stopPropagation()
}
function pan(key: string) {
  const view = map!.getView()
  const step = 60 * (view.getResolution() ?? 1)
  const [x, y] = view.getCenter()!
  const by: Record<string, Point> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }
  view.setCenter([x + by[key][0], y + by[key][1]])
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
      @keydown="keydown"
    ></div>
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
  padding: 3px 9px;
  background: var(--foot);
  color: var(--foot-ink);
  pointer-events: none;
}
</style>
