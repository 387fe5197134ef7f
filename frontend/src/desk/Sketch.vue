<script setup lang="ts">
// The make-up drawn to the sizes of the first line: its section, plan or elevation, each family with its
// colour and hatch, and what was entered written on it as its dimensions.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { families } from './sheet/families'

const props = defineProps<{
  sketch: Schemas['SketchView']
  /** The entry one is at, which stands out. */
  lit?: string
}>()
const parts = computed(() => props.sketch.parts)
const WIDE = 300
const HIGH = 190
const STEP = 13 // between one dimension line and the next
type Size = Schemas['SketchSize']
const length = (size: Size) =>
  Math.abs(size.across ? size.end[0] - size.start[0] : size.end[1] - size.start[1])
/** Its name and number where there is room along it; else the number. */
const wordsOf = (mark: Size) => {
  const words = `${mark.label} ${mark.shows}`
  return words.length * 5.1 < length(mark) * box.value.scale ? words : mark.shows
}
const across = computed(() => props.sketch.sizes.filter((size) => size.across).length)
const below = computed(() => 12 + Math.max(across.value, 1) * STEP)
const side = computed(() => 16 + Math.ceil((props.sketch.sizes.length - across.value) / 2) * STEP)
const box = computed(() => {
  const xs = parts.value.flatMap((p) => p.points.flatMap(([x]) => [x - (p.radius ?? 0), x + (p.radius ?? 0)]))
  const ys = parts.value.flatMap((p) =>
    p.points.flatMap(([, y]) => [y - (p.radius ?? 0), y + (p.radius ?? 0)]),
  )
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const scale = Math.min(
    (WIDE - 2 * side.value) / (right - left || 1),
    (HIGH - 16 - below.value) / (high - low || 1),
  )
  return { left, right, low, high, scale }
})
const wide = computed(() => (box.value.right - box.value.left) * box.value.scale)
const left = computed(() => (WIDE - wide.value) / 2)
const at = ([x, y]: number[]) => [
  left.value + (x - box.value.left) * box.value.scale,
  tall.value - below.value - (y - box.value.low) * box.value.scale,
]
const tall = computed(() => 10 + (box.value.high - box.value.low) * box.value.scale + below.value)
/** Dimension lines below, from the shortest to the longest, and beside it, on both sides by turns. */
const marks = computed(() => {
  const drawn = [...props.sketch.sizes].sort((a, b) => length(a) - length(b))
  return [
    ...drawn
      .filter((size) => size.across)
      .map((size, n) => {
        const [[from], [to]] = [at(size.start), at(size.end)]
        const y = tall.value - below.value + 12 + n * STEP
        return { ...size, x1: from, x2: to, y1: y, y2: y, x: (from + to) / 2, y: y - 2, turn: 0 }
      }),
    ...drawn
      .filter((size) => !size.across)
      .map((size, n) => {
        const [[, from], [, to]] = [at(size.start), at(size.end)]
        const out = 8 + Math.floor(n / 2) * STEP
        const x = n % 2 ? left.value + wide.value + out : left.value - out
        return { ...size, x1: x, x2: x, y1: from, y2: to, x: x - 2, y: (from + to) / 2, turn: -90 }
      }),
  ]
})
const path = (points: number[][]) =>
  points
    .map((point) =>
      at(point)
        .map((v) => v.toFixed(1))
        .join(','),
    )
    .join(' ')
const ink = (family: string) => (families[family] ?? families.concrete).line
const slopes: Record<string, number> = {
  concrete: 45,
  earth: -45,
  masonry: 0,
  formwork: 90,
  paving: 20,
  pipes: 70,
  bars: 45,
  steel: -70,
}
</script>

<template>
  <figure v-if="parts.length" class="sketch">
    <svg
      :viewBox="`0 0 ${WIDE} ${tall}`"
      :width="WIDE"
      :height="tall"
      role="img"
      :aria-label="`${parts[0].view} of ${parts.map((p) => p.label).join(', ')}`"
    >
      <defs>
        <pattern
          v-for="part in parts"
          :id="`sketch-${part.family}`"
          :key="part.label"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          :patternTransform="`rotate(${slopes[part.family] ?? 45})`"
        >
          <line x1="0" y1="0" x2="6" y2="0" :stroke="ink(part.family)" stroke-width="0.9" />
        </pattern>
      </defs>
      <template v-for="part in parts" :key="part.label">
        <circle
          v-if="part.radius !== null"
          :cx="at(part.points[0])[0]"
          :cy="at(part.points[0])[1]"
          :r="part.radius * box.scale"
          :fill="part.hollow ? 'none' : `url(#sketch-${part.family})`"
          :stroke="ink(part.family)"
        >
          <title>{{ part.label }}</title>
        </circle>
        <component
          :is="part.family === 'bars' ? 'polyline' : 'polygon'"
          v-else
          :points="path(part.points)"
          :fill="part.hollow ? 'none' : `url(#sketch-${part.family})`"
          :stroke="ink(part.family)"
          :stroke-width="part.family === 'bars' ? 2 : 1"
        >
          <title>{{ part.label }}</title>
        </component>
      </template>
      <g v-for="mark in marks" :key="mark.name" class="size" :class="{ lit: mark.name === lit }">
        <line :x1="mark.x1" :x2="mark.x2" :y1="mark.y1" :y2="mark.y2" />
        <circle
          v-for="end in [1, 2]"
          :key="end"
          :cx="end === 1 ? mark.x1 : mark.x2"
          :cy="end === 1 ? mark.y1 : mark.y2"
          r="1.500"
        />
        <text
          :x="mark.x"
          :y="mark.y"
          text-anchor="middle"
          :transform="mark.turn ? `rotate(${mark.turn} ${mark.x} ${mark.y})` : undefined"
        >
          {{ wordsOf(mark) }}
          <title>{{ mark.label }} {{ mark.shows }} {{ mark.unit }}</title>
        </text>
      </g>
    </svg>
    <figcaption class="quiet">
      {{ parts[0].view }}, at the first line: {{ parts.map((p) => p.label.toLowerCase()).join(', ') }}
    </figcaption>
  </figure>
</template>

<style scoped>
.sketch {
  grid-column: 1 / -1;
  margin: 0;
}
text {
  font: 10px 'IBM Plex Sans';
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.size line {
  stroke: var(--quiet);
}
.lit text {
  fill: var(--accent-ink);
  font-weight: 600;
}
.lit line {
  stroke: var(--accent);
  stroke-width: 2;
}
.size circle {
  fill: var(--quiet);
}
</style>
