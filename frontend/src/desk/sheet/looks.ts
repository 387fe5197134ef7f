// How figures look on a sheet. Styles are kept: a sheet of two thousand figures asks for them at every frame.
import type Feature from 'ol/Feature'
import { Point as PointShape } from 'ol/geom'
import { Circle, Fill, RegularShape, Stroke, Style, Text } from 'ol/style'
import type { Schemas } from '../../api/client'
import { families, hatch } from './families'

const ACCENT = '#B86F24'
const kept = new Map<string, Style>()
function once(key: string, make: () => Style): Style {
  const known = kept.get(key)
  if (known) return known
  const style = make()
  kept.set(key, style)
  return style
}
const words = (ink: string) => ({
  font: "500 12px 'IBM Plex Mono'",
  fill: new Fill({ color: ink }),
  stroke: new Stroke({ color: '#fffd', width: 4 }),
})

/** A figure near a change of its drawing, until someone has looked at it. */
export const nearLook = (kind: string) =>
  once(`near ${kind === 'count'}`, () => {
    const stroke = new Stroke({ color: '#A33B2C', width: 2, lineDash: [2, 5] })
    return kind === 'count'
      ? new Style({ image: new Circle({ radius: 14, stroke, declutterMode: 'none' }) })
      : new Style({ stroke })
  })

/**
 * The styles of a figure: faint where another element is at hand, strong where it is in focus. On a crowded sheet seen
 * from afar a hatch can't be told and takes long to draw; its tint stands for it.
 */
export function figureLook(
  feature: Feature,
  faint: boolean,
  strong: boolean,
  crowded: boolean,
  small: boolean,
): Style[] {
  const shape = feature.get('shape') as Schemas['FigureView']
  const look = families[shape.family] ?? families.concrete
  const ink = strong ? ACCENT : faint ? `${look.line}70` : look.line
  const key = `${shape.family} ${faint} ${strong}`
  const stroke = () => new Stroke({ color: ink, width: strong ? 2.5 : 1.6 })
  const told = !crowded || strong
  if (shape.kind === 'count') {
    const dot = once(`dot ${key}`, () => {
      const fill = new Fill({ color: faint ? '#ffffff80' : hatch(shape.family) })
      return new Style({
        image: new Circle({ radius: strong ? 10 : 8, fill, stroke: stroke(), declutterMode: 'none' }),
      })
    })
    return faint || !told
      ? [dot]
      : [dot, textOf(feature, `${shape.mark}·${feature.get('number')}`, look.line, { offsetY: -18 })]
  }
  if (feature.get('hollow')) {
    const hole = once(`hole ${shape.family} ${faint}`, () => {
      const dashed = new Stroke({ color: faint ? ink : look.line, width: 1.4, lineDash: [5, 3] })
      const fill = faint ? undefined : new Fill({ color: hatch(shape.family, true) })
      return new Style({ stroke: dashed, fill })
    })
    return told && !faint ? [hole, textOf(feature, 'ddt', look.line, {})] : [hole]
  }
  if (shape.kind === 'run') {
    const line = once(
      `run ${key}`,
      () => new Style({ stroke: new Stroke({ color: ink, width: strong ? 4 : 3 }) }),
    )
    return faint || !told
      ? [line]
      : [
          line,
          textOf(feature, `${shape.mark}  ${shape.shows}`, look.line, {
            placement: 'line',
            textBaseline: 'bottom',
          }),
        ]
  }
  const area = once(
    `area ${key} ${small}`,
    () =>
      new Style({
        stroke: stroke(),
        fill: faint ? undefined : new Fill({ color: small ? `${look.line}30` : hatch(shape.family) }),
      }),
  )
  if (faint || !told) return [area]
  // The words stand in the upper left corner, clear of voids in the middle.
  return [
    area,
    textOf(
      feature,
      `${shape.mark}  ${shape.shows}`,
      look.line,
      { textAlign: 'left', offsetX: 14, offsetY: 24 },
      true,
    ),
  ]
}
function textOf(feature: Feature, text: string, ink: string, more: object, corner = false): Style {
  const known = feature.get('told') as { text: string; style: Style } | undefined
  if (known?.text === text) return known.style
  const style = new Style({ text: new Text({ ...words(ink), text, ...more }) })
  if (corner) {
    const [left, , , top] = feature.getGeometry()!.getExtent()
    style.setGeometry(new PointShape([left, top]))
  }
  feature.set('told', { text, style }, true)
  return style
}

export const pendingLook = new Style({
  image: new Circle({
    radius: 5,
    fill: new Fill({ color: ACCENT }),
    stroke: new Stroke({ color: '#fff', width: 1.5 }),
  }),
  stroke: new Stroke({ color: ACCENT, width: 2 }),
  fill: new Fill({ color: '#B86F2422' }),
})
export const handleLook = new Style({
  image: new RegularShape({
    points: 4,
    radius: 6,
    angle: Math.PI / 4,
    fill: new Fill({ color: '#fff' }),
    stroke: new Stroke({ color: ACCENT, width: 2 }),
  }),
})
export const betweenLook = new Style({
  image: new Circle({
    radius: 3.5,
    fill: new Fill({ color: '#fff' }),
    stroke: new Stroke({ color: ACCENT, width: 1.5 }),
  }),
})
/** What attracts the pointer, with the word for it. */
export const snapLook = (word: string) =>
  once(
    `snap ${word}`,
    () =>
      new Style({
        image: new Circle({ radius: 7, stroke: new Stroke({ color: ACCENT, width: 2 }) }),
        text: new Text({ ...words('#96530f'), font: "11px 'IBM Plex Sans'", text: word, offsetY: 17 }),
      }),
  )
export const areaOfScaleLook = (ratio: string) =>
  once(
    `scale ${ratio}`,
    () =>
      new Style({
        stroke: new Stroke({ color: '#6a645a', width: 1.2, lineDash: [8, 4] }),
        text: new Text({ ...words('#6a645a'), text: ratio, overflow: true }),
      }),
  )
export const proofLook = (text: string, good: boolean) =>
  once(
    `proof ${text}`,
    () =>
      new Style({
        stroke: new Stroke({ color: good ? '#4B7740' : '#A33B2C', width: 1.6, lineDash: [3, 3] }),
        text: new Text({
          ...words(good ? '#3d6434' : '#A33B2C'),
          text,
          placement: 'line',
          textBaseline: 'bottom',
          overflow: true,
        }),
      }),
  )
export const foundLook = new Style({
  stroke: new Stroke({ color: ACCENT, width: 2 }),
  fill: new Fill({ color: '#B86F2433' }),
})
