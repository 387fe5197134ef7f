<script setup lang="ts">
// A reference drawn as lines over its sizes, with the point that was read.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'

const props = defineProps<{
  sizes: Schemas['ReferenceSizeView'][]
  unit: string
  reading: Schemas['ReadingView'] | null
}>()
const HEIGHT = 150
const [LEFT, RIGHT, TOP, BOTTOM] = [64, 96, 14, 24]
const place = ref<HTMLElement>()
const { width } = useElementSize(place)
const LINES = [
  { key: 'together', name: 'together', dash: '' },
  { key: 'labour', name: 'labour', dash: '6 3' },
  { key: 'plant', name: 'plant', dash: '2 3' },
  { key: 'material', name: 'material', dash: '9 3 2 3' },
  { key: 'whole', name: 'whole', dash: '1 4' },
] as const
const at = (value: string) => Number(value)
const lines = computed(() =>
  LINES.map(({ key, ...look }) => ({
    ...look,
    points: props.sizes
      .filter((s) => s[key] !== null)
      .map((s): [number, number] => [at(s.at), Number(s[key])]),
  })).filter((line) => line.points.length > 1),
)
const ends = computed(() => {
  const x = [...props.sizes.map((s) => at(s.at)), ...(props.reading ? [at(props.reading.at)] : [])]
  const y = [...lines.value.flatMap((l) => l.points.map((p) => p[1])), ...(props.reading ? [Number(props.reading.total)] : [])] // prettier-ignore
  return { low: Math.min(...x), high: Math.max(...x), top: Math.max(...y, 0.01) }
})
const X = (x: number) =>
  LEFT +
  ((x - ends.value.low) / (ends.value.high - ends.value.low || 1)) * Math.max(width.value - LEFT - RIGHT, 80)
const Y = (y: number) => HEIGHT - BOTTOM - (y / ends.value.top) * (HEIGHT - TOP - BOTTOM)
const path = (points: [number, number][]) =>
  points.map(([x, y], n) => `${n ? 'L' : 'M'}${X(x)} ${Y(y)}`).join('')
/** Names at the ends of their lines, one under another where they would lie on one another. */
const names = computed(() => {
  const found = lines.value
    .map((line) => ({ name: line.name, y: Y(line.points[line.points.length - 1][1]) }))
    .sort((a, b) => a.y - b.y)
  found.forEach((each, n) => n && (each.y = Math.max(each.y, found[n - 1].y + 12)))
  return found
})
const told = computed(() => `Costs over sizes: ${props.sizes.map((s) => `${s.size} ${s.together ?? s.whole}`).join(', ')}`) // prettier-ignore
</script>

<template>
  <div ref="place" class="lines">
    <svg :width="Math.max(width, 240)" :height="HEIGHT" role="img" :aria-label="told">
      <path :d="`M${LEFT} ${TOP}V${HEIGHT - BOTTOM}H${X(ends.high)}`" class="axis" />
      <text :x="LEFT - 8" :y="Y(ends.top) + 4" text-anchor="end">{{ shown(ends.top, 2, 2) }}</text>
      <text :x="LEFT - 8" :y="Y(0) + 4" text-anchor="end">0</text>
      <g v-for="s in sizes" :key="s.id">
        <path :d="`M${X(at(s.at))} ${HEIGHT - BOTTOM}v4`" class="axis" />
        <text :x="X(at(s.at))" :y="HEIGHT - 6" text-anchor="middle">{{ shown(s.at, 0, 4) }}</text>
      </g>
      <path
        v-for="line in lines"
        :key="line.name"
        :d="path(line.points)"
        :stroke-dasharray="line.dash"
        :class="line.name === 'together' || line.name === 'whole' ? 'sum' : 'part'"
      />
      <text v-for="each in names" :key="each.name" :x="X(ends.high) + 8" :y="each.y + 4">
        {{ each.name }}
      </text>
      <template v-if="reading">
        <path
          :d="`M${X(at(reading.at))} ${HEIGHT - BOTTOM}V${Y(Number(reading.total))}H${LEFT}`"
          class="read"
        />
        <circle :cx="X(at(reading.at))" :cy="Y(Number(reading.total))" r="4" class="point" />
      </template>
      <text :x="X(ends.high) + 26" :y="HEIGHT - 6">{{ unit }}</text>
    </svg>
  </div>
</template>

<style scoped>
.lines {
  flex: none;
  border-bottom: 1px solid var(--rule);
}
svg {
  display: block;
  font: 11px var(--mono);
}
text {
  fill: var(--quiet);
}
path {
  fill: none;
}
.axis {
  stroke: var(--rule);
}
.sum {
  stroke: var(--main);
  stroke-width: 2;
}
.part {
  stroke: var(--quiet);
  stroke-width: 1.2;
}
.read {
  stroke: var(--accent);
  stroke-dasharray: 3 3;
}
.point {
  fill: var(--accent);
}
</style>
