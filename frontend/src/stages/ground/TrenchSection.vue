<script setup lang="ts">
// A trench in section, to size: each layer in its own hatch with its name, the pipe, the measures that matter.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { hatchOf } from './kinds'
import { areaShown } from './units'

const props = defineProps<{
  shapes: Schemas['SectionShape'][]
  pipe: number[]
  depth: number
  bottom: number
  /** The level of the ground, where it is known. */
  ground?: number
  label: string
}>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
/** Names stand beside the drawing, or under it where there is little room. */
const beside = computed(() => width.value >= 480)
const LEGEND = 190
const EDGE = 46
const layers = computed(() => props.shapes.filter((s) => s.key !== 'dug'))
const places = computed(() => props.shapes.flatMap((s) => s.rings.flat()))
const box = computed(() => {
  const x = places.value.map((p) => p[0])
  const y = places.value.map((p) => p[1])
  return { left: Math.min(...x), right: Math.max(...x), low: Math.min(...y), high: Math.max(...y) }
})
const size = computed(() => ({ w: Math.max(width.value, 200), h: Math.max(height.value, 90) }))
const scale = computed(() => {
  const { left, right, low, high } = box.value
  const told = beside.value ? 0 : layers.value.length * 19 + 30
  const along = (room.value - 2 * EDGE) / Math.max(right - left, 0.1)
  return Math.max(Math.min(along, (size.value.h - 46 - told) / Math.max(high - low, 0.1)), 1)
})
const room = computed(() => size.value.w - (beside.value ? LEGEND : 0))
const middle = computed(() => room.value / 2)
const legend = computed(() =>
  beside.value
    ? { x: room.value + 8, y: 14 }
    : { x: 14, y: 46 + (box.value.high - box.value.low) * scale.value },
)
const X = (offset: number) => middle.value + offset * scale.value
const Y = (level: number) => 20 + (box.value.high - level) * scale.value
const path = (rings: number[][][]) =>
  rings.map((ring) => `M${ring.map(([x, y]) => `${X(x)} ${Y(y)}`).join('L')}Z`).join('')
const dug = computed(() => props.shapes.find((s) => s.key === 'dug'))
const floor = computed(() => box.value.high - props.depth)
const told = computed(
  () => `${props.label}: ` + props.shapes.map((s) => `${s.name} ${shown(s.area, 3)} m²`).join(', '),
)
const measure = (metres: number) => shown(lengthHere(metres))
</script>

<template>
  <div ref="place" class="trench">
    <svg v-if="places.length" :width="size.w" :height="size.h" role="img" :aria-label="told">
      <defs>
        <pattern id="t-backfill" width="11" height="11" patternUnits="userSpaceOnUse">
          <rect width="11" height="11" fill="#f3ecdf" />
          <path d="M2 2l2 1M7 6l2-1M3 9l1-2" stroke="#a3987f" stroke-width="0.9" />
        </pattern>
        <pattern id="t-layer-0" width="7" height="7" patternUnits="userSpaceOnUse">
          <rect width="7" height="7" fill="#e6dcc2" />
          <circle cx="2" cy="2" r="0.9" fill="#8a6a2f" />
          <circle cx="5.4" cy="5.4" r="0.9" fill="#8a6a2f" />
        </pattern>
        <pattern id="t-layer-1" width="10" height="10" patternUnits="userSpaceOnUse">
          <rect width="10" height="10" fill="#dfe7e4" />
          <circle cx="3" cy="3" r="1.7" fill="none" stroke="#55706b" stroke-width="0.8" />
          <circle cx="8" cy="7.6" r="1.2" fill="none" stroke="#55706b" stroke-width="0.8" />
        </pattern>
        <pattern id="t-layer-2" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="#e6ead9" />
          <path d="M0 4H8" stroke="#4b7740" stroke-width="0.9" />
        </pattern>
        <pattern id="t-layer-3" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="#ddd9d6" />
          <path d="M0 8L8 0" stroke="#4b4a46" stroke-width="1" />
        </pattern>
        <pattern id="t-layer-4" width="9" height="9" patternUnits="userSpaceOnUse">
          <rect width="9" height="9" fill="#ecdfe7" />
          <path d="M0 0L9 9M9 0L0 9" stroke="#7a3b63" stroke-width="0.6" />
        </pattern>
      </defs>
      <path
        :d="`M8 ${Y(box.high)}H${X(box.left)}M${X(box.right)} ${Y(box.high)}H${room - 8}`"
        class="ground"
      />
      <path
        v-for="s in layers"
        :key="s.key"
        :d="path(s.rings)"
        :fill="`url(#${hatchOf(s.key, shapes)})`"
        fill-rule="evenodd"
        class="layer"
      />
      <path v-if="dug" :d="path(dug.rings)" class="dug" />
      <template v-if="pipe.length">
        <circle :cx="X(0)" :cy="Y(pipe[0])" :r="pipe[1] * scale" class="wall" />
        <circle :cx="X(0)" :cy="Y(pipe[0])" :r="pipe[2] * scale" class="bore" />
      </template>
      <g class="measure">
        <path :d="`M${X(box.left) - 12} ${Y(box.high)}V${Y(floor)}m-4 0h8m-8 ${Y(box.high) - Y(floor)}h8`" />
        <text
          :transform="`translate(${X(box.left) - 17} ${(Y(box.high) + Y(floor)) / 2}) rotate(-90)`"
          text-anchor="middle"
        >
          {{ measure(depth) }}
        </text>
        <path :d="`M${X(-bottom / 2)} ${Y(floor) + 8}H${X(bottom / 2)}m0-4v8m${-bottom * scale} 0v-8`" />
        <text :x="X(0)" :y="Y(floor) + 20" text-anchor="middle">{{ measure(bottom) }}</text>
      </g>
      <text v-if="ground !== undefined" :x="10" :y="Y(box.high) - 5">ground {{ measure(ground) }}</text>
      <g v-for="(s, n) in layers" :key="s.key" :transform="`translate(${legend.x} ${legend.y + n * 19})`">
        <rect
          width="16"
          height="12"
          :fill="`url(#${hatchOf(s.key, shapes)})`"
          stroke="#8b7e63"
          stroke-width="0.6"
        />
        <text x="22" y="10">{{ s.name.length > 14 ? s.name.slice(0, 13) + '…' : s.name }}</text>
        <text :x="LEGEND - 20" y="10" text-anchor="end" class="quiet">{{ areaShown(s.area) }}</text>
      </g>
      <text :x="legend.x" :y="legend.y + layers.length * 19 + 10" class="quiet">
        areas in {{ unitHere('m²') }}, sizes in {{ unitHere('m') }}
      </text>
    </svg>
    <p v-else class="quiet nothing">Nothing is dug here.</p>
  </div>
</template>

<style scoped>
.trench {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
  font: 11px var(--mono);
}
.ground {
  fill: none;
  stroke: #4b7740;
  stroke-width: 1.6;
}
.layer {
  stroke: #8b7e63;
  stroke-width: 0.6;
}
.dug {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.wall {
  fill: #55606b;
}
.bore {
  fill: #fff;
}
.measure path {
  fill: none;
  stroke: var(--quiet);
}
.quiet {
  fill: var(--quiet);
}
.nothing {
  padding: 8px 14px;
}
</style>
