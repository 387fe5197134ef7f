// Handles of the figure in focus: its corners, and the middles of its straight sides.
import Feature from 'ol/Feature'
import type Map from 'ol/Map'
import { Point as PointShape } from 'ol/geom'
import { Pointer } from 'ol/interaction'
import { ref } from 'vue'
import type { Schemas } from '../../api/client'
import { far, type Corner, type Point } from './arcs'
import { steps } from './drawing'
import { betweenLook, handleLook, snapLook } from './looks'

type Shape = Schemas['FigureView']
interface Handle {
  at: Point
  ring: number
  corner: number
  between: boolean
}

export function useHandles(of: {
  /** The figure in focus, while nothing is drawn. */
  shape: () => Shape | null
  writable: () => boolean
  /** Where a corner that is dragged somewhere goes. */
  at: (place: Point) => Point
  resolution: () => number
  reshape: (figure: number, points: Corner[], voids: Corner[][]) => void
}) {
  const handle = ref<number | null>(null)
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
  function features(): Feature[] {
    const shape = of.shape()
    if (!shape || !of.writable()) return []
    return handlesOf(shape).map((each, n) => {
      const feature = new Feature({ geometry: new PointShape(each.at), handle: each })
      const named = each.between ? 'a new corner' : 'corner'
      feature.setStyle(n === handle.value ? snapLook(named) : each.between ? betweenLook : handleLook)
      return feature
    })
  }
  let taken: { handle: Handle; feature: Feature } | null = null
  let over: Point | null = null
  function takeHandle(event: { map: Map; pixel: number[]; originalEvent: Event }): boolean {
    if (!of.shape() || !of.writable()) return false
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
    over = of.at(event.coordinate as Point)
    ;(taken.feature.getGeometry() as PointShape).setCoordinates(over)
  }
  function dropHandle(): boolean {
    if (taken && over) moveHandle(taken.handle, over)
    taken = over = null
    return false
  }
  function ringsOf(shape: Shape): Corner[][] {
    return [shape.points, ...shape.voids].map((ring) => ring.map((corner) => [...corner]))
  }
  function moveHandle(moved: Handle, to: Point) {
    const shape = of.shape()
    if (!shape || far(moved.at, to) < 1e-6) return
    const rings = ringsOf(shape)
    const ring = rings[moved.ring]
    if (moved.between) ring.splice(moved.corner + 1, 0, to)
    else ring[moved.corner] = [to[0], to[1], ...ring[moved.corner].slice(2)]
    of.reshape(shape.id, rings[0], rings.slice(1))
  }
  function dropCorner(gone: Handle) {
    const shape = of.shape()
    if (!shape) return
    const rings = ringsOf(shape)
    rings[gone.ring].splice(gone.corner, 1)
    const least = shape.kind === 'count' ? 1 : shape.kind === 'run' ? 2 : 3
    if (rings[gone.ring].length < least) {
      if (gone.ring === 0) return
      rings.splice(gone.ring, 1) // what is left of a void is none
      handle.value = null
    }
    of.reshape(shape.id, rings[0], rings.slice(1))
  }

  /** Whether a key was one of a figure's corners, and is done. */
  function keyed(event: KeyboardEvent): boolean {
    const shape = of.shape()
    if (!shape || !of.writable()) return false
    const all = handlesOf(shape)
    if (event.key === '[' || event.key === ']') {
      const by = event.key === ']' ? 1 : -1
      handle.value = handle.value === null ? 0 : (handle.value + by + all.length) % all.length
      return true
    }
    const chosen = handle.value === null ? undefined : all[handle.value]
    if (!chosen) return false
    if (event.key.startsWith('Arrow')) {
      const step = (event.shiftKey ? 10 : 1) * of.resolution()
      moveHandle(chosen, [
        chosen.at[0] + steps[event.key][0] * step,
        chosen.at[1] + steps[event.key][1] * step,
      ])
    } else if (event.key === 'Delete' && !chosen.between) dropCorner(chosen)
    else if (event.key === 'Escape') handle.value = null
    else return false
    return true
  }

  const dragging = new Pointer({
    handleDownEvent: takeHandle,
    handleDragEvent: dragHandle,
    handleUpEvent: dropHandle,
  })
  return { handle, features, dragging, keyed }
}
