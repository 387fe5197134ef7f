// Lines of two revisions apart: those that went and those that came, each in its colour; where both lie the two
// colours add up.
import Feature from 'ol/Feature'
import { MultiLineString } from 'ol/geom'
import VectorLayer from 'ol/layer/Vector'
import VectorSource from 'ol/source/Vector'
import { Stroke, Style } from 'ol/style'

export interface Apart {
  gone: ArrayLike<number>
  came: ArrayLike<number>
}
const LOOKS = {
  gone: new Style({ stroke: new Stroke({ color: '#C4512F', width: 2.6 }) }),
  came: new Style({ stroke: new Stroke({ color: '#1E8593', width: 4 }) }),
}

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
  }
  return { layers, show }
}

function featureOf(flat: ArrayLike<number>) {
  const ends = Array.from({ length: flat.length / 4 }, (_, line) => 4 * line + 4)
  return new Feature(new MultiLineString(Array.from(flat), 'XY', ends))
}
