<script setup lang="ts">
// The make-up drawn to the sizes of the first line: its section, plan or elevation, each family with its colour and hatch.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { families } from '../../desk/sheet/families'
import { shown } from '../../desk/numbers'

const props = defineProps<{ parts: Schemas['SketchPart'][] }>()
const WIDE = 300
const HIGH = 150
const box = computed(() => {
  const xs = props.parts.flatMap((p) => p.points.flatMap(([x]) => [x - (p.radius ?? 0), x + (p.radius ?? 0)]))
  const ys = props.parts.flatMap((p) =>
    p.points.flatMap(([, y]) => [y - (p.radius ?? 0), y + (p.radius ?? 0)]),
  )
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const scale = Math.min((WIDE - 60) / (right - left || 1), (HIGH - 40) / (high - low || 1))
  return { left, right, low, high, scale }
})
const at = ([x, y]: number[]) => [
  30 + (x - box.value.left) * box.value.scale,
  HIGH - 20 - (y - box.value.low) * box.value.scale,
]
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
}
</script>

<template>
  <figure v-if="parts.length" class="sketch">
    <svg
      :viewBox="`0 0 ${WIDE} ${HIGH}`"
      :width="WIDE"
      :height="HIGH"
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
      <text :x="30 + ((box.right - box.left) * box.scale) / 2" :y="HIGH - 5" text-anchor="middle">
        {{ shown(box.right - box.left, 2) }} m
      </text>
      <text x="6" :y="HIGH - 20 - ((box.high - box.low) * box.scale) / 2" transform-origin="0 0">
        {{ shown(box.high - box.low, 2) }}
      </text>
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
  font: 10px var(--mono);
  fill: var(--quiet);
}
</style>
