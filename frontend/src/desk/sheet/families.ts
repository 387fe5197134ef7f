// The family of an element in colour and hatch: each family has both, so that it reads without colour.
export interface Look {
  line: string
  hatch: 'rising' | 'falling' | 'crossed' | 'bricks' | 'dots' | 'level' | 'steep' | 'upright'
}

export const families: Record<string, Look> = {
  concrete: { line: '#1D6670', hatch: 'rising' },
  formwork: { line: '#8A6A2F', hatch: 'level' },
  bars: { line: '#7A3B63', hatch: 'crossed' },
  masonry: { line: '#A24A2B', hatch: 'bricks' },
  earth: { line: '#B86F24', hatch: 'falling' },
  paving: { line: '#55606B', hatch: 'dots' },
  pipes: { line: '#3F5F9B', hatch: 'steep' },
  cut: { line: '#B86F24', hatch: 'falling' },
  fill: { line: '#1D6670', hatch: 'rising' },
  steel: { line: '#4B4A6E', hatch: 'upright' },
}

const patterns = new Map<string, CanvasPattern | string>()

/** A canvas fill of a family's hatch; voids are hollow, hatched thinner and the other way. */
export function hatch(family: string, hollow = false): CanvasPattern | string {
  const key = `${family}:${hollow}`
  const known = patterns.get(key)
  if (known) return known
  const look = families[family] ?? families.concrete
  const tile = document.createElement('canvas')
  tile.width = tile.height = 10
  const pen = tile.getContext('2d')
  if (!pen) return look.line
  if (!hollow) {
    pen.fillStyle = `${look.line}18`
    pen.fillRect(0, 0, 10, 10)
  }
  pen.strokeStyle = pen.fillStyle = `${look.line}${hollow ? '66' : '99'}`
  pen.lineWidth = hollow ? 0.6 : 1
  const lines: Record<Look['hatch'], number[][]> = {
    rising: [
      [0, 10, 10, 0],
      [-1, 1, 1, -1],
      [9, 11, 11, 9],
    ],
    falling: [
      [0, 0, 10, 10],
      [-1, 9, 1, 11],
      [9, -1, 11, 1],
    ],
    crossed: [
      [0, 10, 10, 0],
      [0, 0, 10, 10],
    ],
    bricks: [
      [0, 0.5, 10, 0.5],
      [0, 5.5, 10, 5.5],
      [2.5, 0, 2.5, 5],
      [7.5, 5, 7.5, 10],
    ],
    dots: [],
    level: [
      [0, 2.5, 10, 2.5],
      [0, 7.5, 10, 7.5],
    ],
    steep: [
      [3, 10, 7, 0],
      [8, 10, 12, 0],
      [-2, 10, 2, 0],
    ],
    upright: [
      [2.5, 0, 2.5, 10],
      [7.5, 0, 7.5, 10],
    ],
  }
  pen.beginPath()
  for (const [x1, y1, x2, y2] of hollow ? lines.falling : lines[look.hatch]) {
    pen.moveTo(x1, y1)
    pen.lineTo(x2, y2)
  }
  pen.stroke()
  if (look.hatch === 'dots' && !hollow)
    for (const [x, y] of [
      [2, 2],
      [7, 7],
    ])
      pen.fillRect(x, y, 1.6, 1.6)
  const pattern = pen.createPattern(tile, 'repeat') ?? look.line
  patterns.set(key, pattern)
  return pattern
}
