<script setup lang="ts">
// A section to look at: ground, classes and formation, what is cut and filled shaded, each in its own hatch.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

const props = defineProps<{ section: Schemas['SectionView']; says?: string }>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
const LEFT = 58
const RIGHT = 104
const TOP = 32
const BOTTOM = 20
/** How wide a character of the drawing is. */
const CHARACTER = 7.2

const known = computed(() => props.section.lines.flatMap((l) => l.levels.filter((v) => v !== null)))
const span = computed(() => {
  const at = props.section.offsets.filter((v) => v !== null)
  const low = Math.min(...known.value)
  const high = Math.max(...known.value)
  return { from: at[0] ?? 0, to: at[at.length - 1] ?? 1, low, high: high - low < 0.2 ? low + 0.2 : high }
})
const size = computed(() => ({ w: Math.max(width.value, 100), h: Math.max(height.value, 60) }))
/** Pixels to a metre along, and up: heights are drawn larger where they would hardly be seen. */
const scale = computed(() => {
  const { from, to, low, high } = span.value
  const along = (size.value.w - LEFT - RIGHT) / Math.max(to - from, 1e-6)
  const up = (size.value.h - TOP - BOTTOM) / Math.max(high - low, 1e-6)
  const wanted = [1, 2, 4, 5, 10, 20, 50, 100].filter((times) => along * times <= up).pop() ?? 1
  const times = along > up ? 1 : wanted
  const each = along > up ? up : along
  return { along: each, up: each * times, times }
})
const X = (offset: number) => LEFT + (offset - span.value.from) * scale.value.along
const Y = (level: number) => size.value.h - BOTTOM - (level - span.value.low) * scale.value.up

interface Band {
  key: string
  name: string
  points: string[]
}
/** Between two lines where the upper is above the lower, cut where they cross. */
function between(upper: (number | null)[], lower: (number | null)[]): string[] {
  const found: string[] = []
  const at = props.section.offsets
  let top: string[] = []
  let bottom: string[] = []
  const close = () => {
    if (top.length > 1) found.push([...top, ...bottom.reverse()].join(' '))
    top = []
    bottom = []
  }
  for (let n = 0; n < at.length; n++) {
    const [x, u, l] = [at[n], upper[n], lower[n]]
    if (x === null || u === null || l === null) {
      close()
      continue
    }
    const before = n > 0 ? [at[n - 1], upper[n - 1], lower[n - 1]] : null
    const was = before && before.every((v) => v !== null) ? before[1]! - before[2]! : null
    const now = u - l
    if (was !== null && was * now < 0) {
      const share = was / (was - now)
      const cx = before![0]! + share * (x - before![0]!)
      const cy = before![1]! + share * (u - before![1]!)
      top.push(`${X(cx)},${Y(cy)}`)
      if (was > 0) close()
      else top = [`${X(cx)},${Y(cy)}`]
    }
    if (now >= 0) {
      top.push(`${X(x)},${Y(u)}`)
      bottom.push(`${X(x)},${Y(l)}`)
    } else if (was !== null && was === 0) close()
  }
  close()
  return found
}
const classes = computed(() => props.section.lines.filter((l) => l.key !== 'ground' && l.key !== 'formation'))
const line = (key: string) => props.section.lines.find((l) => l.key === key)
const bands = computed<Band[]>(() => {
  const ground = line('ground')
  const formation = line('formation')
  if (!ground || !formation) return []
  // Off the work the ground goes on, and nothing lies below it.
  const found: Band[] = []
  let above = classes.value.length
    ? ground.levels.map((v, n) => (classes.value[0].levels[n] === null ? null : v))
    : []
  for (const each of classes.value) {
    found.push({ key: each.key, name: each.name, points: between(above, each.levels) })
    above = each.levels
  }
  found.push({ key: 'fill', name: 'Fill', points: between(formation.levels, above) })
  return found
})
/** What the hatches are, of those that can be seen. */
const legend = computed(() => {
  let x = 10
  return bands.value
    .filter((band) => band.points.some((points) => areaOf(points) > 6))
    .map(({ key, name }) => {
      const each = { key, name, x }
      x += 28 + name.length * CHARACTER
      return each
    })
})
/** What is told beside the legend, or under it where they would run into one another. */
const note = computed(() => {
  const times = scale.value.times > 1 ? `, heights × ${scale.value.times}` : ''
  const text = `${props.says ? `${props.says}; ` : ''}${unitHere('m')}${times}`
  const last = legend.value[legend.value.length - 1]
  const taken = last ? last.x + 28 + last.name.length * CHARACTER : 0
  return { text, y: taken + text.length * CHARACTER > size.value.w - 8 ? 26 : 12 }
})
function areaOf(points: string): number {
  const at = points.split(' ').map((pair) => pair.split(',').map(Number))
  let twice = 0
  at.forEach(([x, y], n) => {
    const [nextX, nextY] = at[(n + 1) % at.length]
    twice += x * nextY - nextX * y
  })
  return Math.abs(twice) / 2
}
const path = (levels: (number | null)[]) => {
  let pen = 'M'
  return props.section.offsets
    .map((x, n) => {
      const y = levels[n]
      if (x === null || y === null || y === undefined) {
        pen = 'M'
        return ''
      }
      const step = `${pen}${X(x)} ${Y(y)}`
      pen = 'L'
      return step
    })
    .join('')
}
const ticks = computed(() => {
  const { low, high } = span.value
  const step = niceStep(lengthHere(high - low), 4)
  const first = Math.ceil(lengthHere(low) / step) * step
  const found: { y: number; text: string }[] = []
  for (let at = first; at <= lengthHere(high) + 1e-9; at += step)
    found.push({ y: Y(at / lengthHere(1)), text: shown(at, step < 1 ? 2 : 1) })
  return found
})
const marks = computed(() => {
  const { from, to } = span.value
  const step = niceStep(lengthHere(to - from), 8)
  const found: { x: number; text: string }[] = []
  for (let at = 0; at <= lengthHere(to - from) + 1e-9; at += step)
    found.push({ x: X(from + at / lengthHere(1)), text: shown(at, 0, 1) })
  return found
})
function niceStep(range: number, about: number): number {
  const raw = Math.max(range, 1e-6) / about
  const tens = 10 ** Math.floor(Math.log10(raw))
  return [1, 2, 2.5, 5, 10].map((n) => n * tens).find((n) => n >= raw - 1e-12) ?? raw
}
const ends = computed(() => {
  const lastOf = (levels: (number | null)[]) => [...levels].reverse().find((v) => v !== null) ?? null
  const at = props.section.offsets.filter((v) => v !== null)
  const x = X(at[at.length - 1] ?? 0) + 5
  const ground = lastOf(line('ground')?.levels ?? [])
  const formation = lastOf(line('formation')?.levels ?? [])
  const found: { x: number; y: number; text: string; fill: boolean }[] = []
  if (ground !== null)
    found.push({ x, y: Y(ground) + 4, text: `ground ${shown(lengthHere(ground))}`, fill: false })
  if (formation !== null) {
    const y = Y(formation) + 4
    const clash = found[0] && Math.abs(found[0].y - y) < 12
    found.push({
      x,
      y: clash ? found[0].y + (y >= found[0].y ? 12 : -12) : y,
      text: `form. ${shown(lengthHere(formation))}`,
      fill: true,
    })
  }
  return found
})
const hatchOf = (key: string) =>
  key === 'fill'
    ? 'h-fill'
    : key === 'ordinary'
      ? 'h-cut'
      : `h-class-${classes.value.findIndex((c) => c.key === key) % 4}`
const told = computed(
  () =>
    `${props.section.name}: cut ${shown(props.section.cut)} m², fill ${shown(props.section.fill)} m². ` +
    props.section.lines.map((l) => l.name).join(', '),
)
</script>

<template>
  <div ref="place" class="section">
    <svg v-if="known.length" :width="size.w" :height="size.h" role="img" :aria-label="told">
      <defs>
        <pattern id="h-cut" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="#f6e6d2" />
          <path d="M0 8L8 0M-1 1L1-1M7 9L9 7" stroke="#b86f24" stroke-width="1" />
        </pattern>
        <pattern id="h-fill" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="#d9e9e9" />
          <path d="M0 0L8 8M-1 7L1 9M7-1L9 1" stroke="#1d6670" stroke-width="1" />
        </pattern>
        <pattern id="h-class-0" width="7" height="7" patternUnits="userSpaceOnUse">
          <rect width="7" height="7" fill="#e6ead9" />
          <path d="M1 3.5H5" stroke="#4b7740" stroke-width="1.2" />
        </pattern>
        <pattern id="h-class-1" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="#e3e4e6" />
          <circle cx="2" cy="2" r="1" fill="#55606b" />
          <circle cx="6" cy="6" r="1" fill="#55606b" />
        </pattern>
        <pattern id="h-class-2" width="9" height="9" patternUnits="userSpaceOnUse">
          <rect width="9" height="9" fill="#ecdfe7" />
          <path d="M0 0L9 9M9 0L0 9" stroke="#7a3b63" stroke-width="0.7" />
        </pattern>
        <pattern id="h-class-3" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill="#e9e2d2" />
          <path d="M3 0V6" stroke="#8a6a2f" stroke-width="0.9" />
        </pattern>
      </defs>
      <g class="axis">
        <template v-for="tick in ticks" :key="tick.text">
          <line :x1="LEFT - 4" :x2="size.w - RIGHT" :y1="tick.y" :y2="tick.y" />
          <text :x="LEFT - 8" :y="tick.y + 4" text-anchor="end">{{ tick.text }}</text>
        </template>
        <template v-for="mark in marks" :key="mark.text">
          <line :x1="mark.x" :x2="mark.x" :y1="size.h - BOTTOM" :y2="size.h - BOTTOM + 4" />
          <text :x="mark.x" :y="size.h - 5" text-anchor="middle">{{ mark.text }}</text>
        </template>
      </g>
      <g v-for="band in bands" :key="band.key">
        <polygon
          v-for="(points, n) in band.points"
          :key="n"
          :points="points"
          :fill="`url(#${hatchOf(band.key)})`"
        />
      </g>
      <path v-for="each in classes" :key="each.key" :d="path(each.levels)" class="bottom" />
      <path :d="path(line('ground')?.levels ?? [])" class="ground" />
      <path :d="path(line('formation')?.levels ?? [])" class="formation" />
      <text
        v-for="end in ends"
        :key="end.text"
        :x="end.x"
        :y="end.y"
        :class="{ river: end.fill }"
        class="end"
      >
        {{ end.text }}
      </text>
      <text :x="size.w - 8" :y="note.y" text-anchor="end" class="note">{{ note.text }}</text>
      <g v-for="each in legend" :key="each.key">
        <rect
          :x="each.x"
          y="3"
          width="14"
          height="10"
          :fill="`url(#${hatchOf(each.key)})`"
          stroke="#8b7e63"
          stroke-width="0.5"
        />
        <text :x="each.x + 18" y="12" class="note">{{ each.name }}</text>
      </g>
    </svg>
    <p v-else class="quiet nothing">Nothing lies along this line.</p>
  </div>
</template>

<style scoped>
.section {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
  font: 10.5px var(--mono);
}
.axis line {
  stroke: var(--rule);
}
.axis text,
.note {
  fill: var(--quiet);
}
path {
  fill: none;
}
.ground {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.formation {
  stroke: var(--main);
  stroke-width: 1.6;
}
.bottom {
  stroke: #8b7e63;
  stroke-width: 0.7;
  stroke-dasharray: 3 2;
}
.end {
  fill: var(--ink);
}
.river {
  fill: var(--main);
}
.nothing {
  padding: 8px 14px;
}
</style>
