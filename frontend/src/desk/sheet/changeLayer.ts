// Lines of two revisions apart: those that went and those that came, each in its colour; where both lie the
// two colours add up.
import Feature from 'ol/Feature'
import { MultiLineString, Point as PointShape } from 'ol/geom'
import VectorLayer from 'ol/layer/Vector'
import VectorSource from 'ol/source/Vector'
import { Fill, Stroke, Style, Text } from 'ol/style'

export interface Apart {
  gone: ArrayLike<number>
  came: ArrayLike<number>
  /** Words that went, and their boxes: left, bottom, right, top. */
  words?: { text: string; box: number[] }[]
}
const LOOKS = {
  gone: new Style({ stroke: new Stroke({ color: '#C4512F', width: 2.6 }) }),
  came: new Style({ stroke: new Stroke({ color: '#1E8593', width: 4 }) }),
}

const saidLook = (text: string) =>
  new Style({
    text: new Text({
      text,
      font: "500 12px 'IBM Plex Sans'",
      fill: new Fill({ color: '#C4512F' }),
      stroke: new Stroke({ color: '#fff', width: 3 }),
      textAlign: 'left',
    }),
  })

/** Layers of lines, given as x1, y1, x2, y2 of each, one after another. */
export function changeLayers() {
  const sources = { gone: new VectorSource({ wrapX: false }), came: new VectorSource({ wrapX: false }) }
  const layers = (['gone', 'came'] as const).map((kind) => {
    const layer = new VectorLayer({ source: sources[kind], style: LOOKS[kind], zIndex: 2 })
    layer.on('prerender', ({ context }) => {
      if (context instanceof CanvasRenderingContext2D) context.globalCompositeOperation = 'multiply'
    })
    layer.on('postrender', ({ context }) => {
      if (context instanceof CanvasRenderingContext2D) context.globalCompositeOperation = 'source-over'
    })
    return layer
  })
  function show(apart: Apart | null | undefined) {
    for (const kind of ['gone', 'came'] as const) {
      sources[kind].clear()
      if (apart?.[kind].length) sources[kind].addFeature(featureOf(apart[kind]))
    }
    for (const { text, box } of apart?.words ?? []) {
      const said = new Feature(new PointShape([box[0], (box[1] + box[3]) / 2]))
      said.setStyle(saidLook(text))
      sources.gone.addFeature(said)
    }
  }
  return { layers, show }
}

function featureOf(flat: ArrayLike<number>) {
  const ends = Array.from({ length: flat.length / 4 }, (_, line) => 4 * line + 4)
  return new Feature(new MultiLineString(Array.from(flat), 'XY', ends))
}
