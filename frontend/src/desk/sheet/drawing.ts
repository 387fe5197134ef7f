// Drawing on a sheet: corners picked, typed, curved or along its own lines, until a figure is whole.
import Feature from 'ol/Feature'
import { buffer } from 'ol/extent'
import { LineString, MultiPoint, Point as PointShape, Polygon } from 'ol/geom'
import type VectorSource from 'ol/source/Vector'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { lengthShown, shown } from '../numbers'
import { circle, far, flattened, rectangle, through, type Corner, type Point } from './arcs'
import type { LineWork, Snapped } from './lineWork'
import { betweenLook, pendingLook, snapLook } from './looks'
import { about, type Tool } from './tools'
import { example, readTyped } from './typedLength'

type Shape = Schemas['FigureView']
const SNAP_WORDS: Record<Snapped['kind'], string> = {
  end: 'end',
  crossing: 'crossing',
  middle: 'middle',
  square: 'square to',
  line: 'on line',
}
/** A step along the sheet for each arrow. */
export const steps: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}

export function useDrawing(of: {
  tool: () => Tool
  /** Metres per unit of the sheet, along and up. */
  scale: () => { x: number; y: number }
  work: () => LineWork | null
  figures: VectorSource
  /** Units of the sheet to a pixel, and the middle of what is seen. */
  resolution: () => number
  centre: () => Point
  drawn: (tool: Tool, points: Corner[], closed: boolean) => void
  /** The tool is put down. */
  drop: () => void
}) {
  const corners = ref<Corner[]>([])
  const pointer = ref<Point | null>(null)
  const snap = ref<Snapped | null>(null)
  const curving = ref<'off' | 'on' | Point>('off')
  const following = ref(false)
  const typed = ref('')
  const said = ref('')

  function leave() {
    corners.value = []
    curving.value = 'off'
    following.value = false
    typed.value = said.value = ''
    snap.value = null
  }
  const metres = (a: Corner, b: Corner) =>
    Math.hypot((b[0] - a[0]) * of.scale().x, (b[1] - a[1]) * of.scale().y)
  const degrees = ([x, y]: Corner, [toX, toY]: Corner) => (Math.atan2(toY - y, toX - x) * 180) / Math.PI
  const hint = computed(() => {
    if (said.value) return said.value
    if (typed.value)
      return (
        `${typed.value} — Enter puts it in the pointer's direction; ` +
        'add @ and degrees for another. Esc leaves it.'
      )
    const { begin, go, picks } = about[of.tool()]
    const n = corners.value.length
    if (!n) return begin
    const last = corners.value[n - 1]
    const reach =
      pointer.value && of.scale().x
        ? `${lengthShown(metres(last, pointer.value))} at ${shown(degrees(last, pointer.value), 0, 1)}°. `
        : ''
    if (of.tool() === 'count') return `${n} counted. Enter ends, Backspace takes the last back, Esc leaves.`
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

  /** The pointer's place, with what attracts it there. */
  function point(at: Point) {
    const reach = 10 * of.resolution()
    const last = corners.value.at(-1)
    // A count is put where it is clicked: what it stands for has its edges all round.
    const figureCorner = of.tool() === 'count' ? null : nearestCorner(at, reach)
    snap.value = figureCorner
      ? { kind: 'end', at: figureCorner }
      : of.tool() === 'count'
        ? crossingAt(at, reach)
        : (of.work()?.snap(at, reach, last ? [last[0], last[1]] : null) ?? null)
    pointer.value = snap.value?.at ?? at
  }
  /** Grid lines cross at the middle of what stands on them. */
  function crossingAt(at: Point, reach: number): Snapped | null {
    const found = of.work()?.snap(at, reach, null)
    return found?.kind === 'crossing' ? found : null
  }
  function nearestCorner(at: Point, reach: number): Point | null {
    let best: Point | null = null
    const offer = (c: Corner) => {
      if (far(c, at) < (best ? far(best, at) : reach)) best = [c[0], c[1]]
    }
    corners.value.forEach(offer)
    of.figures.forEachFeatureInExtent(buffer([...at, ...at], reach), (feature) => {
      const shape = feature.get('shape') as Shape
      if (shape.kind !== 'count') [shape.points, ...shape.voids].forEach((ring) => ring.forEach(offer))
    })
    return best
  }
  function addPoint(at: Point) {
    said.value = ''
    const all = corners.value
    const { picks } = about[of.tool()]
    if (!picks && of.tool() !== 'count' && all.length > 2 && far(all[0], at) < 1e-6) return end(true)
    if (curving.value === 'on' && all.length) curving.value = at
    else if (curving.value !== 'off' && curving.value !== 'on' && all.length) {
      const start = all[all.length - 1]
      corners.value = [...all.slice(0, -1), [start[0], start[1], through(start, curving.value, at)], at]
      curving.value = 'off'
    } else if (following.value && all.length) {
      const start = all[all.length - 1]
      const way = of.work()?.follow([start[0], start[1]], at)
      if (!way) said.value = 'No drawn lines lead from one point to the other; the straight line was taken.'
      corners.value = [...all, ...(way ? way.slice(1) : [at])]
    } else corners.value = [...all, at]
    if (picks && corners.value.length >= picks) end(false)
  }
  function end(closed: boolean) {
    const all = corners.value
    if (!all.length) return
    const tool = of.tool()
    let made: Corner[] = [...all, ...wayBack()]
    if (tool === 'box') made = all.length === 2 ? rectangle(all[0], all[1]) : []
    else if (tool === 'circle') made = all.length === 2 ? circle(all[0], all[1]) : []
    if (!made.length) return
    leave()
    of.drawn(tool, made, closed || about[tool].ring)
  }
  /** Following drawn lines, a ring closes along them too. */
  function wayBack(): Corner[] {
    const all = corners.value
    if (!following.value || !about[of.tool()].ring || about[of.tool()].picks || all.length < 2) return []
    const [first, last] = [all[0], all[all.length - 1]]
    return of.work()?.follow([last[0], last[1]], [first[0], first[1]])?.slice(1, -1) ?? []
  }
  /** What is drawn so far, with where a pick would go. */
  function features(): Feature[] {
    const all = corners.value
    const at = pointer.value
    const found: Feature[] = []
    if (all.length) {
      found.push(new Feature(new MultiPoint(all.map((c) => [c[0], c[1]]))))
      const shape = preview(at)
      if (shape) found.push(new Feature(shape))
    }
    found.forEach((each) => each.setStyle(pendingLook))
    const place = snap.value?.at ?? (all.length === 0 ? at : null)
    if (place) {
      const feature = new Feature(new PointShape(place))
      feature.setStyle(snap.value ? snapLook(SNAP_WORDS[snap.value.kind]) : betweenLook)
      found.push(feature)
    }
    return found
  }
  function preview(at: Point | null) {
    const all = corners.value
    if (of.tool() === 'count') return null
    if (!at) return all.length > 1 ? new LineString(flattened(all, false)) : null
    if (of.tool() === 'box' || of.tool() === 'detail')
      return new Polygon([flattened(rectangle(all[0], at), true)])
    if (of.tool() === 'circle') return new Polygon([flattened(circle(all[0], at), true)])
    const last = all[all.length - 1]
    const bent =
      typeof curving.value === 'object'
        ? [...all.slice(0, -1), [last[0], last[1], through(last, curving.value, at)], at]
        : [...all, ...wayTo(last, at)]
    return about[of.tool()].ring && bent.length > 2
      ? new Polygon([flattened(bent, true)])
      : new LineString(flattened(bent, false))
  }
  /** How far it is along the drawn lines to where the pointer is. */
  function along(last: Corner): string {
    const way = pointer.value && of.scale().x ? of.work()?.follow([last[0], last[1]], pointer.value) : null
    if (!way) return 'Following the drawn lines. '
    const sum = way.slice(1).reduce((total, to, n) => total + metres(way[n], to), 0)
    return `${lengthShown(sum)} along the drawn lines. `
  }
  /** What a pick there would add: the drawn lines that lead to it, where they are followed. */
  function wayTo(last: Corner, at: Point): Corner[] {
    const way = following.value ? of.work()?.follow([last[0], last[1]], at) : null
    return way ? way.slice(1) : [at]
  }
  /** A typed length from the last corner, in the pointer's direction or at a typed angle. */
  function placeTyped() {
    const read = readTyped(typed.value)
    const last = corners.value.at(-1)
    if (!read || !last || !of.scale().x) {
      said.value = `“${typed.value}” is no length. Type it like ${example()}, with @30 for an angle.`
      typed.value = ''
      return
    }
    const toward = pointer.value ?? [last[0] + 1, last[1]]
    const angle =
      read.degrees === null
        ? Math.atan2((toward[1] - last[1]) * of.scale().y, (toward[0] - last[0]) * of.scale().x)
        : (read.degrees * Math.PI) / 180
    typed.value = ''
    addPoint([
      last[0] + (read.metres * Math.cos(angle)) / of.scale().x,
      last[1] + (read.metres * Math.sin(angle)) / of.scale().y,
    ])
  }

  /** Whether a key was one of drawing's, and is done. */
  function keyed(event: KeyboardEvent): boolean {
    const { key } = event
    const n = corners.value.length
    if (typed.value || (n && /^[\d.]$/.test(key) && of.tool() !== 'count')) {
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
      else of.drop()
    } else if (key.startsWith('Arrow')) nudgePointer(key, event.shiftKey ? 2 : 20)
    else if (key === 'p' && pointer.value) addPoint(pointer.value)
    else if (key === 'u' && n && !about[of.tool()].picks)
      curving.value = curving.value === 'off' ? 'on' : 'off'
    else if (key === 'f' && !about[of.tool()].picks) following.value = !following.value
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
  /** The arrows move the pointer, so that a figure can be drawn without a mouse; P puts a point. */
  function nudgePointer(key: string, pixels: number) {
    const step = pixels * of.resolution()
    const from = pointer.value ?? of.centre()
    point([from[0] + steps[key][0] * step, from[1] + steps[key][1] * step])
    if (pixels < 10 && snap.value && far(snap.value.at, from) < 1e-6) {
      snap.value = null
      pointer.value = [from[0] + steps[key][0] * step, from[1] + steps[key][1] * step]
    }
  }

  return { corners, pointer, snap, curving, following, hint, point, addPoint, leave, features, keyed }
}
