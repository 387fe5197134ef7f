// The page of a sheet, drawn by the server in tiles.
import ImageTile from 'ol/ImageTile'
import TileLayer from 'ol/layer/Tile'
import type Projection from 'ol/proj/Projection'
import TileImage from 'ol/source/TileImage'
import TileGrid from 'ol/tilegrid/TileGrid'
import TileState from 'ol/TileState'

const RESOLUTIONS = [4, 2, 1, 0.5, 0.25, 0.125, 0.0625]
const MOST_TRIES = 20

/** The layer of a sheet's page; `refused` hears why the page can't be drawn. */
export function pageLayer(
  address: string,
  key: string,
  projection: Projection,
  refused: (why: string) => void,
) {
  const extent = projection.getExtent()
  const source = new TileImage({
    projection,
    tileGrid: new TileGrid({ extent, origin: [0, extent[3]], tileSize: 256, resolutions: RESOLUTIONS }),
    transition: 0,
    wrapX: false,
    tileUrlFunction: ([z, x, y]) => `${address}/tiles/${z}/${x}/${y}.png?k=${key}`,
    tileLoadFunction: (tile, url) => void load(tile as ImageTile, url, refused),
  })
  return new TileLayer({ source, extent, zIndex: 0 })
}

/** A tile is asked for again while the server has its hands full. */
async function load(tile: ImageTile, url: string, refused: (why: string) => void) {
  const image = tile.getImage() as HTMLImageElement
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const answer = await fetch(url).catch(() => null)
    if (answer?.ok) {
      image.addEventListener('load', () => URL.revokeObjectURL(image.src), { once: true })
      image.src = URL.createObjectURL(await answer.blob())
      return
    }
    if (answer && answer.status !== 503) {
      const problem = await answer.json().catch(() => null)
      if (problem?.code === 'drawing-too-heavy') refused(`${problem.title} ${problem.remedy}`)
      break
    }
    await new Promise((wake) => setTimeout(wake, 1000))
  }
  tile.setState(TileState.ERROR)
}
