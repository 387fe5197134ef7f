// Corners of a figure: [x, y] or [x, y, bulge], the bulge of the arc to the next corner (tangent of a quarter of its angle).
export type Point = [number, number]
export type Corner = number[]

const CHORDS = 64

export const far = (a: Corner, b: Corner) => Math.hypot(a[0] - b[0], a[1] - b[1])

/** The bulge of the arc from a start through a middle to an end; 0 where they lie on one line. */
export function through(start: Corner, middle: Corner, end: Corner): number {
  const [ax, ay, bx, by] = [
    start[0] - middle[0],
    start[1] - middle[1],
    end[0] - middle[0],
    end[1] - middle[1],
  ]
  const cross = ax * by - ay * bx
  const dot = ax * bx + ay * by
  if (Math.abs(cross) <= 1e-9 * (Math.abs(dot) + 1e-12)) return 0
  const bulge = Math.tan((Math.PI - Math.atan2(Math.abs(cross), dot)) / 2)
  return cross < 0 ? bulge : -bulge
}

/** A side as points: its ends, and along an arc so many chords to a full circle. */
export function chords(start: Corner, end: Corner): Point[] {
  const bulge = start[2] ?? 0
  if (!bulge) return [[start[0], start[1]]]
  const angle = 4 * Math.atan(bulge)
  const steps = Math.max(2, Math.ceil((Math.abs(angle) / (2 * Math.PI)) * CHORDS))
  const off = (1 - bulge * bulge) / (4 * bulge)
  const cx = (start[0] + end[0]) / 2 - (end[1] - start[1]) * off
  const cy = (start[1] + end[1]) / 2 + (end[0] - start[0]) * off
  const first = Math.atan2(start[1] - cy, start[0] - cx)
  const radius = Math.hypot(start[0] - cx, start[1] - cy)
  return Array.from({ length: steps }, (_, n) => [
    cx + radius * Math.cos(first + (angle * n) / steps),
    cy + radius * Math.sin(first + (angle * n) / steps),
  ])
}

/** A line or ring as points, arcs as chords. */
export function flattened(corners: Corner[], closed: boolean): Point[] {
  const points = corners.slice(0, -1).flatMap((corner, at) => chords(corner, corners[at + 1]))
  const last = corners[corners.length - 1]
  if (!last) return []
  return closed
    ? [...points, ...chords(last, corners[0]), [corners[0][0], corners[0][1]]]
    : [...points, [last[0], last[1]]]
}

export const rectangle = (a: Corner, b: Corner): Corner[] => [
  [a[0], a[1]],
  [b[0], a[1]],
  [b[0], b[1]],
  [a[0], b[1]],
]

/** A circle around a centre through a point, as two half-rounds. */
export function circle(centre: Corner, edge: Corner): Corner[] {
  const radius = far(centre, edge)
  return [
    [centre[0] - radius, centre[1], 1],
    [centre[0] + radius, centre[1], 1],
  ]
}
