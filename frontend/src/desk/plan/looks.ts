// How lines, areas and levels look on a plan of the ground.
import type Feature from 'ol/Feature'
import { Point, type Geometry, type LineString } from 'ol/geom'
import { Circle, Fill, RegularShape, Stroke, Style, Text } from 'ol/style'
import { hatch } from '../sheet/families'

export type PlanKind =
  | 'cut' | 'fill' | 'zero' | 'outline' | 'stage' | 'class' | 'boundary' | 'hole' | 'breakline' | 'contour'
  | 'section' | 'row' | 'block' | 'triangle' | 'trench' | 'centreline' | 'edge' | 'daylight' | 'tick' // prettier-ignore
/** Something on the plan: rings of an area (its outline and holes), or one line; east and north each. */
export interface PlanShape {
  key: string
  kind: PlanKind
  rings?: number[][][]
  line?: number[][]
  label?: string
  strong?: boolean
}

const INK = '#23211D'
const QUIET = '#6A645A'
const ACCENT = '#B86F24'
const RIVER = '#1D6670'
const kept = new Map<string, Style[]>()
function once(key: string, make: () => Style[]): Style[] {
  const known = kept.get(key) ?? make()
  kept.set(key, known)
  return known
}
const stroke = (color: string, width: number, lineDash?: number[]) => new Stroke({ color, width, lineDash })

const styles: Record<PlanKind, (strong: boolean) => Style[]> = {
  cut: () => [new Style({ fill: new Fill({ color: '#B86F2422' }) }), new Style({ fill: new Fill({ color: hatch('cut') }) })],
  fill: () => [new Style({ fill: new Fill({ color: '#1D667022' }) }), new Style({ fill: new Fill({ color: hatch('fill') }) })],
  zero: () => [new Style({ stroke: stroke('#fffc', 4) }), new Style({ stroke: stroke(INK, 1.8, [7, 4]) })],
  outline: (strong) => [new Style({ stroke: stroke('#fffa', 4) }), new Style({ stroke: stroke(INK, strong ? 2.4 : 1.6) })],
  stage: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : '#4B7740', strong ? 2.2 : 1.4, [10, 4, 2, 4]) })],
  class: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : '#7A3B63', strong ? 2.2 : 1.3, [3, 3]) })],
  boundary: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : RIVER, strong ? 2.6 : 1.8) })],
  hole: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : RIVER, strong ? 2.6 : 1.6, [5, 3]) })],
  breakline: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : '#55606B', strong ? 2.4 : 1.3) })],
  contour: (strong) => [new Style({ stroke: stroke(strong ? '#8B7E63CC' : '#A3987F88', strong ? 1.3 : 0.8) })],
  section: () => [new Style({ stroke: stroke('#fffc', 5) }), new Style({ stroke: stroke(ACCENT, 2.2) })],
  row: (strong) => [new Style({ stroke: strong ? stroke(ACCENT, 2.2) : stroke('#6A645A99', 1, [2, 4]) })],
  block: (strong) => [new Style({ stroke: stroke(strong ? ACCENT : '#6A645A88', strong ? 2.2 : 0.7), fill: new Fill({ color: strong ? '#B86F2422' : '#0000' }) })],
  trench: (strong) => [new Style({ stroke: stroke('#fffc', strong ? 7 : 5) }), new Style({ stroke: stroke(strong ? ACCENT : '#3F5F9B', strong ? 3.2 : 2.2) })],
  centreline: () => [new Style({ stroke: stroke('#fffc', 4) }), new Style({ stroke: stroke(INK, 1.8, [12, 4, 2, 4]) })],
  edge: () => [new Style({ stroke: stroke('#55606B', 1.6) })],
  daylight: () => [new Style({ stroke: stroke('#8B7E63', 1, [4, 3]) })],
  tick: () => [new Style({ stroke: stroke('#6A645A99', 1) })],
  triangle: () => [new Style({ stroke: stroke('#6A645A66', 0.7) })],
} // prettier-ignore

const LABEL = { font: "500 11px 'IBM Plex Mono'", stroke: new Stroke({ color: '#fffd', width: 3.5 }) }
/** How a shape looks; its label where there is room for one. */
export function shapeLook(feature: Feature<Geometry>): Style[] {
  const { kind, strong, label } = feature.get('shape') as PlanShape
  const found = once(`${kind} ${strong}`, () => styles[kind](Boolean(strong)))
  if (!label) return found
  const along = kind === 'contour'
  const text = new Text({
    ...LABEL,
    text: label,
    fill: new Fill({ color: kind === 'row' || kind === 'section' ? ACCENT : along ? QUIET : INK }),
    placement: along ? 'line' : 'point',
    overflow: !along,
    repeat: along ? 500 : undefined,
  })
  const atEnd = kind === 'row' || kind === 'section'
  if (!atEnd) return [...found, new Style({ text })]
  text.setTextAlign('left')
  text.setOffsetX(6)
  const end = new Point((feature.getGeometry() as LineString).getLastCoordinate())
  return [...found, new Style({ geometry: end, text })]
}

const DOUBTS: Record<string, string> = { duplicate: QUIET, outside: QUIET }
/** A level: a dot with its height; one in doubt is a larger mark of another shape, so that it stands out without colour. */
export function levelLook(feature: Feature<Geometry>): Style {
  const kind = feature.get('kind') as string | undefined
  const strong = Boolean(feature.get('strong'))
  const text = feature.get('label') as string
  const colour = kind ? (DOUBTS[kind] ?? '#A33B2C') : INK
  const dot = kind
    ? new RegularShape({
        points: 4,
        radius: strong ? 9 : 7,
        angle: Math.PI / 4,
        fill: new Fill({ color: '#fffc' }),
        stroke: stroke(colour, strong ? 3 : 2),
      })
    : new Circle({ radius: strong ? 5 : 2.2, fill: new Fill({ color: strong ? ACCENT : colour }) })
  return new Style({
    image: dot,
    zIndex: kind || strong ? 2 : 1,
    text: text
      ? new Text({
          ...LABEL,
          text,
          fill: new Fill({ color: colour }),
          textAlign: 'left',
          offsetX: 6,
          offsetY: -6,
        })
      : undefined,
  })
}
/** A dot without words: one for all of a large survey. */
export const plainDot = new Style({
  image: new Circle({ radius: 1.6, fill: new Fill({ color: '#23211DB0' }) }),
})

const corner = new Style({
  image: new Circle({ radius: 4, fill: new Fill({ color: '#fff' }), stroke: stroke(ACCENT, 2) }),
})
export const drawingLook = [
  new Style({ stroke: stroke(ACCENT, 2), fill: new Fill({ color: '#B86F2418' }) }),
  corner,
]
