<script setup lang="ts">
// The ground seen from above, in metres: relief, contours, levels, what is cut and filled; rings and lines are drawn on it.
import Feature from 'ol/Feature'
import Map from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import type { Coordinate } from 'ol/coordinate'
import { buffer, containsExtent } from 'ol/extent'
import { LineString, Point, Polygon, type Geometry } from 'ol/geom'
import { defaults as interactions, Draw, Snap } from 'ol/interaction'
import ImageLayer from 'ol/layer/Image'
import VectorLayer from 'ol/layer/Vector'
import VectorImageLayer from 'ol/layer/VectorImage'
import 'ol/ol.css'
import Projection from 'ol/proj/Projection'
import ImageStatic from 'ol/source/ImageStatic'
import VectorSource from 'ol/source/Vector'
import { useDebounceFn, useEventListener, useResizeObserver } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../numbers'
import { lengthHere, unitHere } from '../ways'
import { drawingLook, levelLook, plainDot, shapeLook, type PlanShape } from './looks'

export interface PlanLevel {
  at: number
  place: number[]
  level: number | null
  /** What it is called, where that is told rather than its level. */
  name?: string
  kind?: string
  strong?: boolean
}
const props = defineProps<{
  label: string
  relief?: { url: string; bounds: number[] } | null
  contours?: Schemas['ContoursView'] | null
  shapes: PlanShape[]
  /** What moves on while the rest stays, such as the section that is looked at. */
  marked?: PlanShape[]
  levels?: PlanLevel[]
  /** Triangles that lie near, where they are shown. */
  triangles?: number[][]
  /** What is seen first, and again whenever it changes: west, south, east, north. */
  bounds: number[]
  tool: '' | 'ring' | 'line'
  /** What is told of the place under the pointer. */
  told?: string
  /** Whether what it shows is from before, and being worked out anew. */
  stale?: boolean
}>()
const emit = defineEmits<{
  drawn: [corners: number[][]]
  leave: []
  place: [place: number[] | null]
  seen: [box: number[], resolution: number]
  pick: [key: string]
  pickLevel: [at: number]
}>()

const box = ref<HTMLElement>()
const place = ref<number[] | null>(null)
const corners = ref<number[][]>([])
const seenBox = ref('')
let map: Map | undefined
const projection = new Projection({
  code: 'ground',
  units: 'm',
  metersPerUnit: 1,
  getPointResolution: (r) => r,
})
const contourSource = new VectorSource({ wrapX: false })
const shapeSource = new VectorSource({ wrapX: false })
const rowSource = new VectorSource({ wrapX: false })
const triangleSource = new VectorSource({ wrapX: false })
const levelSource = new VectorSource({ wrapX: false })
const manySource = new VectorSource({ wrapX: false })
const picture = new ImageLayer<ImageStatic>({ zIndex: 0 })
// Many lines are drawn into a picture that is moved and scaled while one pans; anew when it rests.
const contourLayer = new VectorImageLayer({ source: contourSource, style: (f) => shapeLook(f as Feature), zIndex: 1, imageRatio: 1.5, declutter: true }) // prettier-ignore
const manyLayer = new VectorImageLayer({ source: manySource, style: plainDot, zIndex: 4, imageRatio: 1.5 })
const triangleLayer = new VectorImageLayer({ source: triangleSource, style: (f) => shapeLook(f as Feature), zIndex: 2, imageRatio: 1.5 }) // prettier-ignore
const shapeLayer = new VectorLayer({ source: shapeSource, style: (f) => shapeLook(f as Feature), zIndex: 3 })
const rowLayer = new VectorLayer({ source: rowSource, style: (f) => shapeLook(f as Feature), zIndex: 5 })
const levelLayer = new VectorLayer({ source: levelSource, style: (f) => levelLook(f as Feature), zIndex: 6, declutter: true }) // prettier-ignore
const LABELLED = 1500

onMounted(() => {
  map = new Map({
    target: box.value,
    controls: [new ScaleLine({ bar: false, minWidth: 70, units: unitHere('m') === 'ft' ? 'us' : 'metric' })],
    interactions: interactions({ doubleClickZoom: false, altShiftDragRotate: false, pinchRotate: false, keyboard: false }), // prettier-ignore
    layers: [picture, contourLayer, triangleLayer, shapeLayer, manyLayer, rowLayer, levelLayer],
    view: new View({
      projection,
      center: [0, 0],
      resolution: 1,
      minResolution: 0.002,
      constrainResolution: false,
    }),
  })
  map.on('pointermove', (event) => {
    if (event.dragging) return
    place.value = event.coordinate
    emit('place', event.coordinate)
    const hit = props.tool ? null : under(event.pixel)
    map!.getTargetElement()!.style.cursor = props.tool ? 'crosshair' : hit ? 'pointer' : ''
  })
  map.on('click', (event) => {
    if (props.tool) return
    const hit = under(event.pixel)
    if (!hit) return
    const at = hit.get('at') as number | undefined
    if (at !== undefined) emit('pickLevel', at)
    else emit('pick', (hit.get('shape') as PlanShape).key)
  })
  map.on('moveend', tellSeen)
  showRelief()
  showContours()
  showShapes()
  showLevels()
  showTriangles()
  fit()
  useTool()
})
onBeforeUnmount(() => map?.setTarget(undefined))
useResizeObserver(box, () => {
  map?.updateSize()
  if (!fitted) fit()
})
function under(pixel: number[]): Feature | undefined {
  const wanted = [levelLayer, rowLayer, shapeLayer]
  return map?.forEachFeatureAtPixel(pixel, (f) => f as Feature, {
    hitTolerance: 4,
    layerFilter: (layer) => (wanted as unknown[]).includes(layer),
  })
}
const tellSeen = useDebounceFn(() => {
  if (!map) return
  const view = map.getView()
  seenBox.value = view.calculateExtent(map.getSize()).join(' ')
  emit('seen', view.calculateExtent(map.getSize()), view.getResolution() ?? 1)
}, 120)

let fitted = false
function fit(extent: number[] = props.bounds, padding = 26) {
  const size = map?.getSize()
  if (!map || extent.length !== 4 || !size || size[0] < 10 || size[1] < 10) return
  const wide = extent[2] - extent[0] < 1e-6 || extent[3] - extent[1] < 1e-6 ? buffer(extent, 5) : extent
  map.getView().fit(wide, { padding: [padding, padding, padding, padding], size })
  fitted = true
}
/** A place comes into view where it isn't. */
function show(extent: number[]) {
  if (!map) return
  const seen = map.getView().calculateExtent(map.getSize())
  if (!containsExtent(seen, extent))
    fit(buffer(extent, Math.max(extent[2] - extent[0], extent[3] - extent[1], 10)))
}
defineExpose({ fit, show, focus: () => box.value?.focus() })

watch(() => props.bounds.join(), () => fit()) // prettier-ignore
watch(() => props.relief?.url, showRelief)
watch(() => props.contours, showContours)
watch(() => props.shapes, showShapes)
watch(() => props.marked, showMarked)
watch(() => props.levels, showLevels)
watch(() => props.triangles, showTriangles)
watch(() => props.tool, useTool)

function showRelief() {
  const { relief } = props
  picture.setSource(
    relief
      ? new ImageStatic({ url: relief.url, imageExtent: relief.bounds, projection, interpolate: true })
      : null,
  )
}
const pairs = (flat: number[]) =>
  Array.from({ length: flat.length / 2 }, (_, n) => [flat[2 * n], flat[2 * n + 1]])
function showContours() {
  contourSource.clear(true)
  const found = props.contours
  if (!found) return
  contourSource.addFeatures(
    found.contours.map(({ level, line }, at) => {
      const every = Math.round(level / found.interval)
      const strong = every % 5 === 0
      const shape: PlanShape = { key: `contour:${at}`, kind: 'contour', strong }
      if (strong && line.length > 30) shape.label = shown(lengthHere(level), 2)
      return new Feature({ geometry: new LineString(pairs(line)), shape })
    }),
  )
}
function asFeature(shape: PlanShape): Feature {
  const geometry: Geometry = shape.rings ? new Polygon(shape.rings) : new LineString(shape.line ?? [])
  return new Feature({ geometry, shape })
}
const above = (s: PlanShape) => s.kind === 'row' || s.kind === 'section'
function showShapes() {
  shapeSource.clear(true)
  shapeSource.addFeatures(props.shapes.filter((s) => !above(s)).map(asFeature))
  showMarked()
}
function showMarked() {
  rowSource.clear(true)
  rowSource.addFeatures([...props.shapes.filter(above), ...(props.marked ?? [])].map(asFeature))
}
function showLevels() {
  levelSource.clear(true)
  manySource.clear(true)
  const all = props.levels ?? []
  const crowded = all.length > LABELLED
  const told = (each: PlanLevel) => !crowded || each.kind !== undefined || each.strong
  const plain = all.filter((each) => !told(each))
  manySource.addFeatures(plain.map((each) => new Feature(new Point(each.place))))
  levelSource.addFeatures(
    all.filter(told).map((each) => {
      const label = each.name ?? (each.level === null ? 'no level' : shown(lengthHere(each.level), 2))
      return new Feature({
        geometry: new Point(each.place),
        at: each.at,
        kind: each.kind,
        strong: each.strong,
        label,
      })
    }),
  )
}
function showTriangles() {
  triangleSource.clear(true)
  triangleSource.addFeatures(
    (props.triangles ?? []).map((t) => {
      const ring = [[t[0], t[1]], [t[3], t[4]], [t[6], t[7]], [t[0], t[1]]] // prettier-ignore
      return asFeature({ key: 'triangle', kind: 'triangle', rings: [ring] })
    }),
  )
}

let draw: Draw | undefined
let snaps: Snap[] = []
function useTool() {
  if (!map) return
  if (draw) map.removeInteraction(draw)
  snaps.forEach((each) => map!.removeInteraction(each))
  draw = undefined
  snaps = []
  corners.value = []
  if (!props.tool) return
  draw = new Draw({
    type: props.tool === 'ring' ? 'Polygon' : 'LineString',
    style: drawingLook,
    stopClick: true,
  })
  draw.on('drawstart', (event) => {
    event.feature.getGeometry()?.on('change', (changed) => {
      const at = (changed.target as Polygon | LineString).getCoordinates()
      corners.value = (props.tool === 'ring' ? (at as Coordinate[][])[0] : (at as Coordinate[])) ?? []
    })
  })
  draw.on('drawend', (event) => {
    const at = (event.feature.getGeometry() as Polygon | LineString).getCoordinates()
    const ring = props.tool === 'ring' ? (at as Coordinate[][])[0].slice(0, -1) : (at as Coordinate[])
    emit(
      'drawn',
      ring.map((each) => each.slice(0, 2)),
    )
  })
  map.addInteraction(draw)
  snaps = [shapeSource, rowSource, levelSource, contourSource].map(
    (source, at) => new Snap({ source, pixelTolerance: 9, edge: at < 2 }),
  )
  snaps.forEach((each) => map!.addInteraction(each))
}
useEventListener('keydown', (event: KeyboardEvent) => {
  if (!props.tool || (event.target as HTMLElement)?.closest?.('input, textarea')) return
  if (event.key === 'Escape') emit('leave')
  else if (event.key === 'Enter') draw?.finishDrawing()
  else if (event.key === 'Backspace') draw?.removeLastPoint()
  else return
  event.preventDefault()
  event.stopPropagation()
})
/** Arrows move the plan, + and − come nearer and go farther, 0 shows all. */
function onKey(event: KeyboardEvent) {
  const view = map?.getView()
  if (!view || event.ctrlKey || event.metaKey || event.altKey) return
  const step = (view.getResolution() ?? 1) * 60
  const [x, y] = view.getCenter() ?? [0, 0]
  const moves: Record<string, number[]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } // prettier-ignore
  if (moves[event.key]) view.setCenter([x + moves[event.key][0] * step, y + moves[event.key][1] * step])
  else if (event.key === '+' || event.key === '=') view.adjustResolution(0.8)
  else if (event.key === '-') view.adjustResolution(1.25)
  else if (event.key === '0') fit()
  else return
  event.preventDefault()
}
const length = computed(() => {
  const at = corners.value
  let sum = 0
  for (let n = 1; n < at.length; n++) sum += Math.hypot(at[n][0] - at[n - 1][0], at[n][1] - at[n - 1][1])
  return sum
})
const where = computed(() =>
  place.value ? `E ${shown(lengthHere(place.value[0]))}  N ${shown(lengthHere(place.value[1]))}` : '',
)
</script>

<template>
  <div class="plan">
    <div
      ref="box"
      class="ground-map"
      :class="{ stale }"
      data-test="plan"
      :data-box="seenBox"
      tabindex="0"
      role="application"
      :aria-label="label"
      @keydown="onKey"
      @pointerleave="emit('place', null)"
    ></div>
    <p v-if="tool" class="hint" role="status">
      {{
        tool === 'ring'
          ? 'Click its corners; a double click or Enter closes it.'
          : 'Click along it; a double click or Enter ends it.'
      }}
      Backspace takes the last back, Esc leaves.
      <span v-if="length" class="num">{{ shown(lengthHere(length)) }} {{ unitHere('m') }}</span>
    </p>
    <!-- Over the plan: it comes and goes while one works below. -->
    <p v-if="stale" class="working-out" role="status">Being worked out; what stands here is from before.</p>
    <p v-if="where" class="where num" aria-hidden="true">
      {{ where }}<b v-if="told">&nbsp; {{ told }}</b>
    </p>
    <slot />
  </div>
</template>

<style scoped>
.plan {
  position: relative;
  flex: 1;
  min-height: 0;
  min-width: 0;
  background: #f4f1ea;
}
.ground-map {
  position: absolute;
  inset: 0;
}
.stale {
  opacity: 0.6;
}
.working-out {
  position: absolute;
  top: 8px;
  left: 8px;
  margin: 0;
  padding: 3px 10px;
  background: var(--accent-soft);
  pointer-events: none;
}
.where {
  position: absolute;
  right: 8px;
  bottom: 6px;
  margin: 0;
  padding: 1px 6px;
  background: #fffc;
  font-size: 12px;
  pointer-events: none;
}
.hint {
  position: absolute;
  top: 8px;
  left: 50%;
  margin: 0;
  padding: 3px 10px;
  transform: translateX(-50%);
  border: 1px solid var(--rule);
  background: var(--panel);
  white-space: nowrap;
  pointer-events: none;
}
.plan :deep(.ol-scale-line) {
  left: 8px;
  bottom: 6px;
  background: #fffc;
}
.plan :deep(.ol-scale-line-inner) {
  border-color: var(--quiet);
  color: var(--quiet);
  font: 11px var(--mono);
}
</style>
