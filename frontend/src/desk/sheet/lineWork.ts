// The drawing's own lines: what attracts the pointer, and the way along them from one point to another.
import { far, type Point } from './arcs'

export interface Snapped {
  at: Point
  kind: 'end' | 'crossing' | 'middle' | 'square' | 'line'
}

const CELL = 48
const SAME = 0.15

/** Line work in a grid of cells, so that a look around the pointer reads a few lines of many thousands. */
export class LineWork {
  private cells = new Map<number, number[]>()
  private nodes: { at: Point; ends: number[] }[] | null = null
  private nodeOf = new Map<string, number>()

  constructor(readonly segments: Float32Array) {
    for (let s = 0; s < this.count; s++) {
      const [x1, y1, x2, y2] = this.line(s)
      const steps = Math.max(1, Math.ceil(Math.hypot(x2 - x1, y2 - y1) / (CELL / 2)))
      let last = -1
      for (let n = 0; n <= steps; n++) {
        const cell = this.cell(x1 + ((x2 - x1) * n) / steps, y1 + ((y2 - y1) * n) / steps)
        if (cell === last) continue
        last = cell
        const held = this.cells.get(cell)
        if (held) held.push(s)
        else this.cells.set(cell, [s])
      }
    }
  }

  get count() {
    return this.segments.length / 4
  }
  private line(s: number) {
    return this.segments.subarray(s * 4, s * 4 + 4)
  }
  private cell = (x: number, y: number) => Math.floor(x / CELL) * 65536 + Math.floor(y / CELL)

  near(point: Point, reach: number): number[] {
    const found = new Set<number>()
    for (let x = point[0] - reach; ; x += CELL) {
      const cx = Math.min(x, point[0] + reach)
      for (let y = point[1] - reach; ; y += CELL) {
        const cy = Math.min(y, point[1] + reach)
        for (const s of this.cells.get(this.cell(cx, cy)) ?? []) found.add(s)
        if (cy >= point[1] + reach) break
      }
      if (cx >= point[0] + reach) break
    }
    return [...found]
  }

  /** What attracts a pointer: ends and crossings before middles and feet of perpendiculars, and those before the bare line. */
  snap(point: Point, reach: number, from: Point | null): Snapped | null {
    const close = this.near(point, reach).filter((s) => toLine(point, this.line(s)).far <= reach)
    const best: Record<Snapped['kind'], { at: Point; far: number } | null> = {
      end: null,
      crossing: null,
      middle: null,
      square: null,
      line: null,
    }
    const offer = (kind: Snapped['kind'], at: Point) => {
      const distance = far(at, point)
      if (distance <= reach && distance < (best[kind]?.far ?? Infinity)) best[kind] = { at, far: distance }
    }
    close.forEach((s, n) => {
      const [x1, y1, x2, y2] = this.line(s)
      offer('end', [x1, y1])
      offer('end', [x2, y2])
      offer('middle', [(x1 + x2) / 2, (y1 + y2) / 2])
      offer('line', toLine(point, this.line(s)).at)
      if (from) {
        const foot = toLine(from, this.line(s))
        if (foot.within) offer('square', foot.at)
      }
      for (const other of close.slice(n + 1, n + 40)) {
        const at = crossing(this.line(s), this.line(other))
        if (at) offer('crossing', at)
      }
    })
    const kind = (['end', 'crossing', 'square', 'middle', 'line'] as const).find((each) => best[each])
    return kind ? { kind, at: best[kind]!.at } : null
  }

  /** The corners along drawn lines from one point to another, the shortest way; null where no lines lead there. */
  follow(start: Point, end: Point): Point[] | null {
    const nodes = this.graph()
    const [from, to] = [this.nodeAt(start), this.nodeAt(end)]
    if (from === null || to === null) return null
    const best = new Map<number, number>([[from, 0]])
    const before = new Map<number, number>()
    const open: [number, number][] = [[0, from]]
    const done = new Set<number>()
    while (open.length && done.size < 40000) {
      const [cost, here] = pop(open)
      if (done.has(here)) continue
      if (here === to) break
      done.add(here)
      for (const next of nodes[here].ends) {
        const longer = cost + far(nodes[here].at, nodes[next].at)
        if (longer >= (best.get(next) ?? Infinity)) continue
        best.set(next, longer)
        before.set(next, here)
        push(open, [longer, next])
      }
    }
    if (!best.has(to)) return null
    const way = [to]
    while (way[0] !== from) way.unshift(before.get(way[0])!)
    return straightened(way.map((node) => nodes[node].at))
  }

  /** Ends of lines as nodes, joined by the lines; a line that ends on another is joined to it there. */
  private graph() {
    if (this.nodes) return this.nodes
    this.nodes = []
    for (let s = 0; s < this.count; s++) {
      const [x1, y1, x2, y2] = this.line(s)
      const on: { t: number; node: number }[] = [
        { t: 0, node: this.node(x1, y1) },
        { t: 1, node: this.node(x2, y2) },
      ]
      const middle: Point = [(x1 + x2) / 2, (y1 + y2) / 2]
      const half = Math.hypot(x2 - x1, y2 - y1) / 2
      for (const other of half < 3000 ? this.near(middle, half) : []) {
        if (other === s) continue
        const at = crossing(this.line(s), this.line(other))
        if (at) on.push({ t: far([x1, y1], at) / (2 * half || 1), node: this.node(...at) })
      }
      on.sort((a, b) => a.t - b.t)
      for (let n = 1; n < on.length; n++) {
        if (on[n].node === on[n - 1].node) continue
        this.nodes[on[n].node].ends.push(on[n - 1].node)
        this.nodes[on[n - 1].node].ends.push(on[n].node)
      }
    }
    return this.nodes
  }
  private node(x: number, y: number): number {
    const key = `${Math.round(x / SAME)},${Math.round(y / SAME)}`
    const known = this.nodeOf.get(key)
    if (known !== undefined) return known
    this.nodes!.push({ at: [x, y], ends: [] })
    this.nodeOf.set(key, this.nodes!.length - 1)
    return this.nodes!.length - 1
  }
  private nodeAt(point: Point): number | null {
    let found: number | null = null
    for (const s of this.near(point, 2)) {
      const [x1, y1, x2, y2] = this.line(s)
      for (const end of [
        [x1, y1],
        [x2, y2],
      ] as Point[])
        if (far(end, point) < 1.5) found = this.node(...end)
    }
    return found ?? this.nodeOf.get(`${Math.round(point[0] / SAME)},${Math.round(point[1] / SAME)}`) ?? null
  }
}

function toLine(point: Point, [x1, y1, x2, y2]: Float32Array) {
  const [dx, dy] = [x2 - x1, y2 - y1]
  const t = ((point[0] - x1) * dx + (point[1] - y1) * dy) / (dx * dx + dy * dy || 1)
  const held = Math.min(1, Math.max(0, t))
  const at: Point = [x1 + held * dx, y1 + held * dy]
  return { at, far: far(at, point), within: t > 0 && t < 1 }
}
function crossing([ax, ay, bx, by]: Float32Array, [cx, cy, dx, dy]: Float32Array): Point | null {
  const [rx, ry, sx, sy] = [bx - ax, by - ay, dx - cx, dy - cy]
  const cross = rx * sy - ry * sx
  if (Math.abs(cross) < 1e-9) return null
  const t = ((cx - ax) * sy - (cy - ay) * sx) / cross
  const u = ((cx - ax) * ry - (cy - ay) * rx) / cross
  return t >= -1e-6 && t <= 1 + 1e-6 && u >= -1e-6 && u <= 1 + 1e-6 ? [ax + t * rx, ay + t * ry] : null
}
/** Without the points that lie on the line between their neighbours. */
function straightened(points: Point[]): Point[] {
  return points.filter((point, at) => {
    const [a, b] = [points[at - 1], points[at + 1]]
    if (!a || !b) return true
    const cross = (point[0] - a[0]) * (b[1] - a[1]) - (point[1] - a[1]) * (b[0] - a[0])
    return Math.abs(cross) > 0.05 * far(a, b)
  })
}
// A heap of [cost, node], least first.
function push(heap: [number, number][], item: [number, number]) {
  heap.push(item)
  for (let at = heap.length - 1; at > 0;) {
    const up = (at - 1) >> 1
    if (heap[up][0] <= heap[at][0]) break
    ;[heap[up], heap[at]] = [heap[at], heap[up]]
    at = up
  }
}
function pop(heap: [number, number][]): [number, number] {
  const top = heap[0]
  const last = heap.pop()!
  if (heap.length) {
    heap[0] = last
    for (let at = 0; ;) {
      let least = at
      for (const child of [2 * at + 1, 2 * at + 2])
        if (child < heap.length && heap[child][0] < heap[least][0]) least = child
      if (least === at) break
      ;[heap[least], heap[at]] = [heap[at], heap[least]]
      at = least
    }
  }
  return top
}
