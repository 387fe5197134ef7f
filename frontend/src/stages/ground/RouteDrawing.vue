<script setup lang="ts">
// A section across a route: the ground, what is built and what is dug, each layer in its own hatch. Heights are drawn
// larger than widths where that lets thin layers be seen.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import Hatches from './Hatches.vue'
import { hatchOf } from './routes'

const props = defineProps<{
  shapes: Schemas['RouteShape'][]
  finished: number[][]
  formation: number[][]
  ground?: number[][]
  layers: readonly string[]
  hidden?: ReadonlySet<string>
  label: string
}>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
const EDGE = 26
const LEFT = 54
const size = computed(() => ({ w: Math.max(width.value, 240), h: Math.max(height.value, 90) }))
const all = computed(() => [
  ...props.shapes.flatMap((s) => s.rings.flat()),
  ...props.finished,
  ...props.formation,
  ...(props.ground ?? []),
])
const box = computed(() => {
  const x = all.value.map((p) => p[0])
  const y = all.value.map((p) => p[1])
  return { left: Math.min(...x), right: Math.max(...x), low: Math.min(...y), high: Math.max(...y) }
})
const wide = computed(() => (size.value.w - LEFT - EDGE) / Math.max(box.value.right - box.value.left, 0.5))
const times = computed(() => {
  const fits = (size.value.h - 2 * EDGE) / Math.max(box.value.high - box.value.low, 0.2) / wide.value
  return fits >= 1 ? Math.min(Math.floor(fits), 10) : 1
})
/** Where even one to one is too high, all is drawn smaller. */
const along = computed(() =>
  Math.min(
    wide.value,
    (size.value.h - 2 * EDGE) / Math.max(box.value.high - box.value.low, 0.2) / times.value,
  ),
)
const middle = computed(() => LEFT + (size.value.w - LEFT - EDGE) / 2)
const X = (x: number) => middle.value + (x - (box.value.left + box.value.right) / 2) * along.value
const Y = (z: number) =>
  size.value.h / 2 - (z - (box.value.low + box.value.high) / 2) * along.value * times.value
const path = (points: number[][]) => points.map(([x, z], n) => `${n ? 'L' : 'M'}${X(x)} ${Y(z)}`).join('')
const rings = (of: number[][][]) => of.map((ring) => `${path(ring)}Z`).join('')
const seen = computed(() => props.shapes.filter((s) => !props.hidden?.has(s.name)))
const earth = (name: string) => name === 'cut' || name === 'fill'
const told = computed(
  () => `${props.label}: ` + props.shapes.map((s) => `${s.name} ${shown(s.area, 3)} m²`).join(', '),
)
const steps = computed(() => {
  const span = box.value.high - box.value.low
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50].find((s) => span / s <= 6) ?? 100
  const first = Math.ceil(box.value.low / step) * step
  return Array.from({ length: Math.floor((box.value.high - first) / step) + 1 }, (_, n) => first + n * step)
})
</script>

<template>
  <div ref="place" class="across">
    <svg v-if="all.length" :width="size.w" :height="size.h" role="img" :aria-label="told">
      <Hatches />
      <g v-for="z in steps" :key="z">
        <path :d="`M${LEFT - 6} ${Y(z)}H${size.w - EDGE}`" class="level" />
        <text :x="LEFT - 10" :y="Y(z) + 4" text-anchor="end" class="quiet">{{ shown(lengthHere(z)) }}</text>
      </g>
      <path
        v-for="s in seen"
        :key="s.name"
        :d="rings(s.rings)"
        :fill="hatchOf(s.name, layers)"
        :class="earth(s.name) ? 'earth' : 'layer'"
      />
      <path :d="path(formation)" class="formation" />
      <path :d="path(finished)" class="finished" />
      <path v-if="ground?.length" :d="path(ground)" class="ground" />
      <path :d="`M${X(0)} ${EDGE - 12}V${size.h - EDGE + 8}`" class="middle" />
      <text v-if="ground?.length" :x="X(ground[0][0]) + 2" :y="Y(ground[0][1]) - 5" class="green">
        ground
      </text>
      <text :x="size.w - 6" y="13" text-anchor="end" class="quiet">
        {{ unitHere('m') }}{{ times > 1 ? `, heights × ${times}` : '' }}
      </text>
    </svg>
    <p v-else class="quiet nothing">There is nothing to be drawn here.</p>
  </div>
</template>

<style scoped>
.across {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
  font: 11px var(--mono);
}
.layer {
  stroke: #4b4a46;
  stroke-width: 0.7;
}
.earth {
  stroke: none;
}
.formation {
  fill: none;
  stroke: #8b7e63;
  stroke-width: 1.1;
}
.finished {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}
.ground {
  fill: none;
  stroke: #4b7740;
  stroke-width: 1.8;
}
.middle {
  stroke: var(--quiet);
  stroke-dasharray: 9 3 2 3;
}
.level {
  stroke: var(--rule);
}
.quiet {
  fill: var(--quiet);
}
.green {
  fill: #4b7740;
}
.nothing {
  padding: 8px 14px;
}
</style>
