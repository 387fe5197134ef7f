// The figures of a sheet as they lie on it.
import Feature from 'ol/Feature'
import { LineString, Point as PointShape, Polygon } from 'ol/geom'
import VectorLayer from 'ol/layer/Vector'
import VectorSource from 'ol/source/Vector'
import type { Style } from 'ol/style'
import type { Schemas } from '../../api/client'
import { flattened } from './arcs'
import { figureLook, nearLook } from './looks'

type Shape = Schemas['FigureView']

export function useFigureLayer(of: {
  shapes: () => Shape[]
  /** The element whose figures stand out, and the figure in focus. */
  element: () => number | null
  figure: () => number | null
  /** Elements whose figures step back. */
  quiet: () => ReadonlySet<number>
}) {
  const source = new VectorSource({ wrapX: false })
  const layer = new VectorLayer({
    source,
    style: (feature, resolution) => styleOf(feature as Feature, resolution),
    zIndex: 1,
    declutter: true,
  })
  let drawnShapes = new globalThis.Map<number, { shape: Shape; features: Feature[] }>()
  let crowded = false
  /** Those that changed are made anew. */
  function show() {
    const next: typeof drawnShapes = new globalThis.Map()
    const fresh: Feature[] = []
    crowded = of.shapes().length > 400
    for (const shape of of.shapes()) {
      const known = drawnShapes.get(shape.id)
      drawnShapes.delete(shape.id)
      if (
        known &&
        known.shape.version === shape.version &&
        known.shape.shows === shape.shows &&
        known.shape.family === shape.family &&
        known.shape.mark === shape.mark &&
        known.shape.near === shape.near
      ) {
        next.set(shape.id, known)
        continue
      }
      if (known) known.features.forEach((each) => source.removeFeature(each))
      const features = featuresOf(shape)
      fresh.push(...features)
      next.set(shape.id, { shape, features })
    }
    for (const gone of drawnShapes.values()) gone.features.forEach((each) => source.removeFeature(each))
    source.addFeatures(fresh)
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
      ...rings
        .slice(1)
        .map((ring) => new Feature({ ...common, geometry: new Polygon([ring]), hollow: true })),
    ]
  }
  function styleOf(feature: Feature, resolution: number): Style[] {
    const shape = feature.get('shape') as Shape
    const styles = figureLook(
      feature,
      (of.element() !== null && shape.element !== of.element()) || of.quiet().has(shape.element),
      shape.id === of.figure(),
      crowded,
      crowded && resolution > 0.8,
    )
    return shape.near ? [...styles, nearLook(shape.kind)] : styles
  }
  return { source, layer, show }
}
