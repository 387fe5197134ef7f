<script setup lang="ts">
// A sheet with its figures: tiles of the page below, figures above, and drawing by mouse and by keys.
import Feature from 'ol/Feature'
import Map from 'ol/Map'
import Overlay from 'ol/Overlay'
import View from 'ol/View'
import { boundingExtent, buffer, createEmpty, extend, getCenter } from 'ol/extent'
import { LineString, MultiPoint, Point as PointShape, Polygon } from 'ol/geom'
import { Pointer, defaults as interactions } from 'ol/interaction'
import VectorLayer from 'ol/layer/Vector'
import 'ol/ol.css'
import Projection from 'ol/proj/Projection'
import VectorSource from 'ol/source/Vector'
import type { Style } from 'ol/style'
import { NAlert } from 'naive-ui'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useTotals } from '../../api/project'
import { lengthShown, shown } from '../numbers'
import { circle, far, flattened, rectangle, through, type Corner, type Point } from './arcs'
import { LineWork, type Snapped } from './lineWork'
import {
  areaOfScaleLook,
  betweenLook,
  figureLook,
  foundLook,
  handleLook,
  pendingLook,
  proofLook,
  snapLook,
} from './looks'
import { pageLayer } from './tiles'
import { about, byKey, type Tool } from './tools'
import { example, readTyped } from './typedLength'

type Shape = Schemas['FigureView']
const props = defineProps<{
  project: number
  sheet: Schemas['SheetDetail']
  tool: Tool
  /** The element whose figures stand out. */
  element: number | null
  /** The figure in focus. */
  figure: number | null
  /** A place to show: left, bottom, right, top. */
  place?: number[] | null
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

const SNAP_WORDS: Record<Snapped['kind'], string> = {
  end: 'end',
  crossing: 'crossing',
  middle: 'middle',
  square: 'square to',
  line: 'on line',
}
const box = ref<HTMLElement>()
const totals = ref<HTMLElement>()
const corners = ref<Corner[]>([])
const pointer = ref<Point | null>(null)
const snap = ref<Snapped | null>(null)
const curving = ref<'off' | 'on' | Point>('off')
const following = ref(false)
const typed = ref('')
const said = ref('')
const unreadable = ref('')
const handle = ref<number | null>(null)
const work = shallowRef<LineWork | null>(null)
let map: Map | undefined
let page: ReturnType<typeof pageLayer> | undefined
const figures = new VectorSource({ wrapX: false })
const marks = new VectorSource({ wrapX: false })
const pending = new VectorSource({ wrapX: false })
const figureLayer = new VectorLayer({
  source: figures,
  style: (feature, resolution) => styleOf(feature as Feature, resolution),
  zIndex: 1,
  declutter: true,
})
const overlay = new Overlay({ positioning: 'top-left', stopEvent: false })

const drawing = computed(() => props.tool !== 'pick')
const scaleX = computed(() => props.sheet.metres_per_unit ?? 0)
const scaleY = computed(() =>
  props.sheet.ratio && props.sheet.ratio_up
    ? (scaleX.value * props.sheet.ratio_up) / props.sheet.ratio
    : scaleX.value,
)
const metres = (a: Corner, b: Corner) =>
  Math.hypot((b[0] - a[0]) * scaleX.value, (b[1] - a[1]) * scaleY.value)

const { data: sheetTotals } = useTotals(() => props.sheet.id)
const measured = computed(() => sheetTotals.value ?? [])
const familiesOf = (all: Schemas['SheetTotal'][]) => [...new Set(all.map((total) => total.family))]
const degrees = ([x, y]: Corner, [toX, toY]: Corner) => (Math.atan2(toY - y, toX - x) * 180) / Math.PI
const hint = computed(() => {
  if (said.value) return said.value
  if (typed.value)
    return `${typed.value} — Enter puts it in the pointer's direction; add @ and degrees for another. Esc leaves it.`
  const { begin, go, picks } = about[props.tool]
  const n = corners.value.length
  if (!n) return begin
  const last = corners.value[n - 1]
  const reach =
    pointer.value && scaleX.value
      ? `${lengthShown(metres(last, pointer.value))} at ${shown(degrees(last, pointer.value), 0, 1)}°. `
      : ''
  if (props.tool === 'count') return `${n} counted. Enter ends, Backspace takes the last back, Esc leaves.`
  if (picks) return reach + (go ?? '')
  const mode =
    curving.value === 'on'
      ? 'Curve: click a point on it. '
      : curving.value !== 'off'
        ? 'Curve: click its end. '
        : following.value
          ? along(last)
          : ''
  return `${reach}${mode}${n} corner${n > 1 ? 's' : ''}. Type a length; Enter ends; ? tells the keys.`
})

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
  map.addInteraction(
    new Pointer({ handleDownEvent: takeHandle, handleDragEvent: dragHandle, handleUpEvent: dropHandle }),
  )
  map.on('click', (event) => {
    if (drawing.value) {
      point(event.coordinate as Point)
      if (snap.value || pointer.value) addPoint(pointer.value!)
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
    if (drawing.value && !event.dragging) point(event.coordinate as Point)
  })
  await nextTick()
  map.updateSize()
  showSheet()
  showFigures()
  showMarks()
  useTool()
  overview()
  zoomToFigure()
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
watch(() => props.sheet.shapes, showFigures)
watch(
  () => [props.element, props.figure],
  () => figureLayer.changed(),
)
watch(() => [props.sheet.areas, props.sheet.proof, props.sheet.id, props.line, drawing.value], showMarks)
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
  () => [props.sheet.id, props.sheet.content],
  async () => {
    work.value = null
    const { id, content } = props.sheet
    if (content === 'waiting') return
    const answer = await fetch(`/api/projects/${props.project}/sheets/${id}/lines`)
    if (answer.ok && id === props.sheet.id)
      work.value = new LineWork(new Float32Array(await answer.arrayBuffer()))
  },
  { immediate: true },
)

function showSheet() {
  if (!map) return
  const { width, height, id } = props.sheet
  const extent = [0, 0, width, height]
  const projection = new Projection({ code: `sheet-${id}`, units: 'pixels', extent, metersPerUnit: 1 })
  const address = `/api/projects/${props.project}/sheets/${id}`
  unreadable.value = ''
  if (page) map.removeLayer(page)
  page = pageLayer(address, props.sheet.tile_key, projection, (why) => {
    if (id === props.sheet.id) unreadable.value = why
  })
  map.addLayer(page)
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

// Figures: only those that changed are made anew.
let drawnShapes = new globalThis.Map<number, { shape: Shape; features: Feature[] }>()
let crowded = false
function showFigures() {
  const next: typeof drawnShapes = new globalThis.Map()
  const fresh: Feature[] = []
  crowded = props.sheet.shapes.length > 400
  for (const shape of props.sheet.shapes) {
    const known = drawnShapes.get(shape.id)
    drawnShapes.delete(shape.id)
    if (
      known &&
      known.shape.version === shape.version &&
      known.shape.shows === shape.shows &&
      known.shape.family === shape.family &&
      known.shape.mark === shape.mark
    ) {
      next.set(shape.id, known)
      continue
    }
    if (known) known.features.forEach((each) => figures.removeFeature(each))
    const features = featuresOf(shape)
    fresh.push(...features)
    next.set(shape.id, { shape, features })
  }
  for (const gone of drawnShapes.values()) gone.features.forEach((each) => figures.removeFeature(each))
  figures.addFeatures(fresh)
  drawnShapes = next
}
function featuresOf(shape: Shape): Feature[] {
  const common = { figure: shape.id, shape }
  if (shape.kind === 'count')
    return shape.points.map(
      (at, number) => new Feature({ ...common, geometry: new PointShape(at), number: number + 1 }),
    )
  if (shape.kind === 'run')
    return [new Feature({ ...common, geometry: new LineString(flattened(shape.points, shape.closed)) })]
  const rings = [shape.points, ...shape.voids].map((ring) => flattened(ring, true))
  return [
    new Feature({ ...common, geometry: new Polygon(rings) }),
    ...rings.slice(1).map((ring) => new Feature({ ...common, geometry: new Polygon([ring]), hollow: true })),
  ]
}
function styleOf(feature: Feature, resolution: number): Style[] {
  const shape = feature.get('shape') as Shape
  return figureLook(
    feature,
    props.element !== null && shape.element !== props.element,
    shape.id === props.figure,
    crowded,
    crowded && resolution > 0.8,
  )
}
function showMarks() {
  marks.clear()
  for (const area of props.sheet.areas) {
    const feature = new Feature(new Polygon([[...area.ring, area.ring[0]]]))
    feature.setStyle(areaOfScaleLook(area.scale))
    marks.addFeature(feature)
  }
  // The proof of the scale is shown while the scale is being set: its label would lie over the work.
  const proof = props.element === null && drawing.value ? props.sheet.proof : null
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

// Drawing.
function useTool() {
  leave()
  if (box.value) box.value.style.cursor = drawing.value ? 'crosshair' : ''
}
function leave() {
  corners.value = []
  curving.value = 'off'
  following.value = false
  typed.value = said.value = ''
  snap.value = null
  showPending()
}
/** The pointer's place, with what attracts it there. */
function point(at: Point) {
  const reach = 10 * (map?.getView().getResolution() ?? 1)
  const last = corners.value.at(-1)
  // A count is put where it is clicked: what it stands for has its edges all round.
  const figureCorner = props.tool === 'count' ? null : nearestCorner(at, reach)
  snap.value = figureCorner
    ? { kind: 'end', at: figureCorner }
    : props.tool === 'count'
      ? crossingAt(at, reach)
      : (work.value?.snap(at, reach, last ? [last[0], last[1]] : null) ?? null)
  pointer.value = snap.value?.at ?? at
}
/** Grid lines cross at the middle of what stands on them. */
function crossingAt(at: Point, reach: number): Snapped | null {
  const found = work.value?.snap(at, reach, null)
  return found?.kind === 'crossing' ? found : null
}
function nearestCorner(at: Point, reach: number): Point | null {
  let best: Point | null = null
  const offer = (c: Corner) => {
    if (far(c, at) < (best ? far(best, at) : reach)) best = [c[0], c[1]]
  }
  corners.value.forEach(offer)
  figures.forEachFeatureInExtent(buffer([...at, ...at], reach), (feature) => {
    const shape = feature.get('shape') as Shape
    if (shape.kind !== 'count') [shape.points, ...shape.voids].forEach((ring) => ring.forEach(offer))
  })
  return best
}
function addPoint(at: Point) {
  said.value = ''
  const all = corners.value
  const { picks } = about[props.tool]
  if (!picks && props.tool !== 'count' && all.length > 2 && far(all[0], at) < 1e-6) return end(true)
  if (curving.value === 'on' && all.length) curving.value = at
  else if (curving.value !== 'off' && curving.value !== 'on' && all.length) {
    const start = all[all.length - 1]
    corners.value = [...all.slice(0, -1), [start[0], start[1], through(start, curving.value, at)], at]
    curving.value = 'off'
  } else if (following.value && all.length) {
    const start = all[all.length - 1]
    const way = work.value?.follow([start[0], start[1]], at)
    if (!way) said.value = 'No drawn lines lead from one point to the other; the straight line was taken.'
    corners.value = [...all, ...(way ? way.slice(1) : [at])]
  } else corners.value = [...all, at]
  if (picks && corners.value.length >= picks) end(false)
}
function end(closed: boolean) {
  const all = corners.value
  if (!all.length) return
  const { tool } = props
  let made: Corner[] = [...all, ...wayBack()]
  if (tool === 'box') made = all.length === 2 ? rectangle(all[0], all[1]) : []
  else if (tool === 'circle') made = all.length === 2 ? circle(all[0], all[1]) : []
  if (!made.length) return
  leave()
  emit('drawn', tool, made, closed || about[tool].ring)
}
/** Following drawn lines, a ring closes along them too. */
function wayBack(): Corner[] {
  const all = corners.value
  if (!following.value || !about[props.tool].ring || about[props.tool].picks || all.length < 2) return []
  const [first, last] = [all[0], all[all.length - 1]]
  return work.value?.follow([last[0], last[1]], [first[0], first[1]])?.slice(1, -1) ?? []
}
function showPending() {
  pending.clear()
  if (!drawing.value) return showHandles()
  const all = corners.value
  const at = pointer.value
  const features: Feature[] = []
  if (all.length) {
    features.push(new Feature(new MultiPoint(all.map((c) => [c[0], c[1]]))))
    const shape = preview(at)
    if (shape) features.push(new Feature(shape))
  }
  features.forEach((each) => each.setStyle(pendingLook))
  if (snap.value) {
    const feature = new Feature(new PointShape(snap.value.at))
    feature.setStyle(snapLook(SNAP_WORDS[snap.value.kind]))
    features.push(feature)
  } else if (at && all.length === 0) {
    const feature = new Feature(new PointShape(at))
    feature.setStyle(betweenLook)
    features.push(feature)
  }
  pending.addFeatures(features)
}
function preview(at: Point | null) {
  const all = corners.value
  if (props.tool === 'count') return null
  if (!at) return all.length > 1 ? new LineString(flattened(all, false)) : null
  if (props.tool === 'box' || props.tool === 'detail')
    return new Polygon([flattened(rectangle(all[0], at), true)])
  if (props.tool === 'circle') return new Polygon([flattened(circle(all[0], at), true)])
  const last = all[all.length - 1]
  const bent =
    typeof curving.value === 'object'
      ? [...all.slice(0, -1), [last[0], last[1], through(last, curving.value, at)], at]
      : [...all, ...wayTo(last, at)]
  return about[props.tool].ring && bent.length > 2
    ? new Polygon([flattened(bent, true)])
    : new LineString(flattened(bent, false))
}
/** How far it is along the drawn lines to where the pointer is. */
function along(last: Corner): string {
  const way = pointer.value && scaleX.value ? work.value?.follow([last[0], last[1]], pointer.value) : null
  if (!way) return 'Following the drawn lines. '
  const sum = way.slice(1).reduce((total, to, n) => total + metres(way[n], to), 0)
  return `${lengthShown(sum)} along the drawn lines. `
}
/** What a pick there would add: the drawn lines that lead to it, where they are followed. */
function wayTo(last: Corner, at: Point): Corner[] {
  const way = following.value ? work.value?.follow([last[0], last[1]], at) : null
  return way ? way.slice(1) : [at]
}
/** A typed length from the last corner, in the pointer's direction or at a typed angle. */
function placeTyped() {
  const read = readTyped(typed.value)
  const last = corners.value.at(-1)
  if (!read || !last || !scaleX.value) {
    said.value = `“${typed.value}” is no length. Type it like ${example()}, with @30 for an angle.`
    typed.value = ''
    return
  }
  const toward = pointer.value ?? [last[0] + 1, last[1]]
  const angle =
    read.degrees === null
      ? Math.atan2((toward[1] - last[1]) * scaleY.value, (toward[0] - last[0]) * scaleX.value)
      : (read.degrees * Math.PI) / 180
  typed.value = ''
  addPoint([
    last[0] + (read.metres * Math.cos(angle)) / scaleX.value,
    last[1] + (read.metres * Math.sin(angle)) / scaleY.value,
  ])
}

// Handles of the figure in focus: its corners, and the middles of its straight sides.
interface Handle {
  at: Point
  ring: number
  corner: number
  between: boolean
}
const held = computed(() => props.sheet.shapes.find((each) => each.id === props.figure) ?? null)
function handlesOf(shape: Shape): Handle[] {
  return [shape.points, ...shape.voids].flatMap((ring, r) =>
    ring.flatMap((corner, c): Handle[] => {
      const next = ring[c + 1] ?? (shape.closed ? ring[0] : undefined)
      const own: Handle = { at: [corner[0], corner[1]], ring: r, corner: c, between: false }
      if (shape.kind === 'count' || !next || corner[2]) return [own]
      return [
        own,
        { at: [(corner[0] + next[0]) / 2, (corner[1] + next[1]) / 2], ring: r, corner: c, between: true },
      ]
    }),
  )
}
function showHandles() {
  if (!held.value || props.readonly) return
  handlesOf(held.value).forEach((each, n) => {
    const feature = new Feature({ geometry: new PointShape(each.at), handle: each })
    feature.setStyle(
      n === handle.value
        ? snapLook(each.between ? 'a new corner' : 'corner')
        : each.between
          ? betweenLook
          : handleLook,
    )
    pending.addFeature(feature)
  })
}
let taken: { handle: Handle; feature: Feature } | null = null
function takeHandle(event: { map: Map; pixel: number[]; originalEvent: Event }): boolean {
  if (drawing.value || !held.value || props.readonly) return false
  const feature = event.map.forEachFeatureAtPixel(
    event.pixel,
    (f) => (f.get('handle') ? (f as Feature) : undefined),
    { hitTolerance: 5 },
  )
  if (!feature) return false
  const found = feature.get('handle') as Handle
  if ((event.originalEvent as MouseEvent).altKey && !found.between) {
    dropCorner(found)
    return false
  }
  taken = { handle: found, feature }
  return true
}
function dragHandle(event: { coordinate: number[] }) {
  if (!taken) return
  point(event.coordinate as Point)
  ;(taken.feature.getGeometry() as PointShape).setCoordinates(pointer.value!)
}
function dropHandle(): boolean {
  if (taken && pointer.value) moveHandle(taken.handle, pointer.value)
  taken = null
  return false
}
function ringsOf(shape: Shape): Corner[][] {
  return [shape.points, ...shape.voids].map((ring) => ring.map((corner) => [...corner]))
}
function moveHandle(moved: Handle, to: Point) {
  const shape = held.value
  if (!shape || far(moved.at, to) < 1e-6) return
  const rings = ringsOf(shape)
  const ring = rings[moved.ring]
  if (moved.between) ring.splice(moved.corner + 1, 0, to)
  else ring[moved.corner] = [to[0], to[1], ...ring[moved.corner].slice(2)]
  emit('reshape', shape.id, rings[0], rings.slice(1))
}
function dropCorner(gone: Handle) {
  const shape = held.value
  if (!shape) return
  const rings = ringsOf(shape)
  rings[gone.ring].splice(gone.corner, 1)
  const least = shape.kind === 'count' ? 1 : shape.kind === 'run' ? 2 : 3
  if (rings[gone.ring].length < least) return
  emit('reshape', shape.id, rings[0], rings.slice(1))
}

// Keys.
function keydown(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (keyInDrawing(event) || keyOnHandle(event) || keyAnywhere(event)) {
    event.preventDefault()
    event.stopPropagation()
  }
}
function keyInDrawing(event: KeyboardEvent): boolean {
  if (!drawing.value) return false
  const { key } = event
  const n = corners.value.length
  if (typed.value || (n && /^[\d.]$/.test(key) && props.tool !== 'count')) {
    said.value = ''
    if (key === 'Enter') placeTyped()
    else if (key === 'Escape') typed.value = ''
    else if (key === 'Backspace') typed.value = typed.value.slice(0, -1)
    else if (key.length === 1) typed.value += key
    else return false
    return true
  }
  if (key === 'Enter') end(false)
  else if (key === 'Backspace') takeBack()
  else if (key === 'Escape') {
    if (n) leave()
    else emit('tool', 'pick')
  } else if (key.startsWith('Arrow')) nudgePointer(key, event.shiftKey ? 2 : 20)
  else if (key === 'p' && pointer.value) addPoint(pointer.value)
  else if (key === 'u' && n && !about[props.tool].picks)
    curving.value = curving.value === 'off' ? 'on' : 'off'
  else if (key === 'f' && !about[props.tool].picks) following.value = !following.value
  else return false
  return true
}
function takeBack() {
  if (typeof curving.value === 'object') {
    curving.value = 'on'
    return
  }
  const kept = corners.value.slice(0, -1)
  const last = kept.at(-1)
  corners.value = last ? [...kept.slice(0, -1), [last[0], last[1]]] : []
}
const steps: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}
/** The arrows move the pointer while drawing, so that a figure can be drawn without a mouse; P puts a point. */
function nudgePointer(key: string, pixels: number) {
  const view = map!.getView()
  const step = pixels * (view.getResolution() ?? 1)
  const from = pointer.value ?? (view.getCenter() as Point)
  point([from[0] + steps[key][0] * step, from[1] + steps[key][1] * step])
  if (pixels < 10 && snap.value && far(snap.value.at, from) < 1e-6) {
    snap.value = null
    pointer.value = [from[0] + steps[key][0] * step, from[1] + steps[key][1] * step]
  }
}
function keyOnHandle(event: KeyboardEvent): boolean {
  const shape = held.value
  if (drawing.value || !shape || props.readonly) return false
  const all = handlesOf(shape)
  if (event.key === '[' || event.key === ']') {
    const by = event.key === ']' ? 1 : -1
    handle.value = handle.value === null ? 0 : (handle.value + by + all.length) % all.length
    return true
  }
  const chosen = handle.value === null ? undefined : all[handle.value]
  if (!chosen) return false
  if (event.key.startsWith('Arrow')) {
    const step = (event.shiftKey ? 10 : 1) * (map?.getView().getResolution() ?? 1)
    moveHandle(chosen, [chosen.at[0] + steps[event.key][0] * step, chosen.at[1] + steps[event.key][1] * step])
  } else if (event.key === 'Delete' && !chosen.between) dropCorner(chosen)
  else if (event.key === 'Escape') handle.value = null
  else return false
  return true
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
  const step = 60 * (view.getResolution() ?? 1)
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
