// Kinds of trench as they are typed: what stands in their document, and what each part is called.
import type { Schemas } from '../../api/client'

export interface KindLayer {
  name: string
  mark: 'underside' | 'springing' | 'crown'
  over: string
  density: string
  extra: string
}
export interface KindRestored {
  name: string
  thickness: string
  overlap: string
  density: string
  extra: string
}
export interface KindWidth {
  depth: string
  width: string
}
export interface KindDocument {
  name: string
  about: string
  pipe: string
  bore: string
  wall: string
  bed: string
  width: string
  sides: 'upright' | 'battered' | 'benched' | 'flared'
  batter: string
  step_height: string
  step_width: string
  upright: string
  supported: boolean
  pumped: boolean
  cover: string
  flattest: string
  steepest: string
  widths: KindWidth[]
  layers: KindLayer[]
  restored: KindRestored[]
}
/** What a new kind begins with. */
export const FIRST = {
  name: 'Pipe in granular bed',
  pipe: 'DN 150',
  bore: '150 mm',
  wall: '5 mm',
  bed: '100 mm',
  cover: '0.9 m',
  layers: [
    { name: 'Bed', mark: 'underside', over: '', density: '1.8', extra: '10' },
    { name: 'Surround', mark: 'crown', over: '150 mm', density: '1.8', extra: '10' },
  ],
  restored: [],
}
export const SIDES = [
  { value: 'upright' as const, label: 'upright' },
  { value: 'battered' as const, label: 'battered' },
  { value: 'benched' as const, label: 'benched' },
  { value: 'flared' as const, label: 'upright, then battered' },
]
export const MARKS = [
  { value: 'underside' as const, label: 'underside' },
  { value: 'springing' as const, label: 'middle' },
  { value: 'crown' as const, label: 'crown' },
]
export const documentOf = (view: Schemas['KindView']) => view.document as unknown as KindDocument
/** Which hatch a part of a section has, by its place among the layers. */
export function hatchOf(key: string, shapes: Schemas['SectionShape'][]): string {
  if (key === 'backfill') return 't-backfill'
  return `t-layer-${shapes.filter((s) => s.key !== 'dug' && s.key !== 'backfill').findIndex((s) => s.key === key) % 5}`
}
