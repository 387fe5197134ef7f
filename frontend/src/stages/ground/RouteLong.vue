<script setup lang="ts">
// The long section of a route over its ground; a point of it is drawn where one clicks.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

const props = defineProps<{ long: Schemas['RouteLong']; station: number | null; drawing: boolean }>()
const emit = defineEmits<{ drawn: [chainage: number, level: number] }>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
const [LEFT, RIGHT, TOP, STRIP] = [112, 26, 26, 68]
const size = computed(() => ({ w: Math.max(width.value, 260), h: Math.max(height.value, 150) }))
const ground = computed(() => props.long.ground.filter((p): p is number[] => p[1] !== null))
const levels = computed(() => [...ground.value, ...props.long.line].map((p) => p[1]).concat(props.long.points.map((p) => p.level))) // prettier-ignore
const span = computed(() => {
  const low = levels.value.length ? Math.min(...levels.value) : 0
  const high = levels.value.length ? Math.max(...levels.value) : 10
  const grow = Math.max((high - low) * 0.14, 0.3)
  return { low: low - grow, high: high + grow }
})
const along = computed(
  () => (size.value.w - LEFT - RIGHT) / Math.max(props.long.ends - props.long.begins, 0.1),
)
const up = computed(() => (size.value.h - TOP - STRIP) / (span.value.high - span.value.low))
const X = (chainage: number) => LEFT + (chainage - props.long.begins) * along.value
const Y = (level: number) => TOP + (span.value.high - level) * up.value
const path = (points: number[][]) => points.map(([x, y], n) => `${n ? 'L' : 'M'}${X(x)} ${Y(y)}`).join('')
/** The ground as far as it is known: a gap parts it. */
const known = computed(() => {
  let open = false
  return props.long.ground
    .map(([x, y]) => {
      if (y === null) return ((open = false), '')
      const step = `${open ? 'L' : 'M'}${X(x!)} ${Y(y)}`
      open = true
      return step
    })
    .join('')
})
const base = computed(() => size.value.h - STRIP)
const levelAt = (line: number[][], chainage: number): number | null => {
  const after = line.findIndex((p) => p[0] >= chainage - 1e-9)
  if (after < 0) return null
  const b = line[after]
  const a = line[Math.max(after - 1, 0)]
  return b[0] === a[0] ? b[1] : a[1] + ((b[1] - a[1]) * (chainage - a[0])) / (b[0] - a[0])
}
const told = (metres: number | null) => (metres === null ? '' : shown(lengthHere(metres)))
/** Chainages that stand under it, as many as there is room for. */
const marks = computed(() => {
  const whole = props.long.ends - props.long.begins
  const fits = Math.max(Math.floor((size.value.w - LEFT - RIGHT) / 74), 1)
  const step =
    [1, 2, 5, 10, 20, 40, 50, 100, 200, 500, 1000, 2000, 5000].find((s) => whole / s <= fits) ?? 10000
  const first = Math.ceil(props.long.begins / step) * step
  return Array.from({ length: Math.floor((props.long.ends - first) / step) + 1 }, (_, n) => {
    const chainage = first + n * step
    return { chainage, ground: levelAt(ground.value, chainage), line: levelAt(props.long.line, chainage) }
  })
})
const under = ref<{ chainage: number; level: number } | null>(null)
function over(event: MouseEvent) {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const chainage = props.long.begins + (event.clientX - box.left - LEFT) / along.value
  const level = span.value.high - (event.clientY - box.top - TOP) / up.value
  const inside =
    chainage >= props.long.begins - 1 / along.value && chainage <= props.long.ends + 6 / along.value
  const near = Math.min(Math.max(chainage, props.long.begins), props.long.ends)
  under.value = inside
    ? { chainage: Math.round(near * 100) / 100, level: Math.round(level * 100) / 100 }
    : null
}
const words = computed(
  () => `Long section from ${told(props.long.begins)} to ${told(props.long.ends)} ${unitHere('m')}`,
)
</script>

<template>
  <div ref="place" class="long">
    <svg
      :width="size.w"
      :height="size.h"
      role="img"
      :aria-label="words"
      :class="{ drawing }"
      @mousemove="drawing && over($event)"
      @mouseleave="under = null"
      @click="drawing && under && emit('drawn', under.chainage, under.level)"
    >
      <path v-if="station !== null" :d="`M${X(station)} ${TOP - 6}V${base}`" class="station" />
      <g v-for="(c, n) in long.changes" :key="n">
        <path :d="`M${X(c.chainage)} ${TOP - 12}V${base}`" class="change" />
        <text :x="X(c.chainage) + 4" :y="TOP - 8" class="quiet">{{ c.name }}</text>
      </g>
      <path :d="known" class="ground" />
      <path :d="path(long.line)" class="line" />
      <circle
        v-for="(p, n) in long.points"
        :key="n"
        :cx="X(p.chainage)"
        :cy="Y(p.level)"
        r="3.6"
        class="point"
      />
      <path :d="`M0 ${base}H${size.w}M0 ${base + 22}H${size.w}M0 ${base + 44}H${size.w}`" class="rule" />
      <text x="8" :y="base + 15" class="quiet">chainage {{ unitHere('m') }}</text>
      <text x="8" :y="base + 37" class="quiet">ground {{ unitHere('m') }}</text>
      <text x="8" :y="base + 59" class="quiet">level {{ unitHere('m') }}</text>
      <g v-for="m in marks" :key="m.chainage" text-anchor="middle">
        <text :x="X(m.chainage)" :y="base + 15">{{ told(m.chainage) }}</text>
        <text :x="X(m.chainage)" :y="base + 37" class="green">{{ told(m.ground) }}</text>
        <text :x="X(m.chainage)" :y="base + 59">{{ told(m.line) }}</text>
      </g>
      <text x="8" y="14" class="quiet">heights × {{ shown(up / along, 0, 0) }}</text>
      <g v-if="under && drawing">
        <path
          :d="`M${X(under.chainage)} ${TOP}V${base}M${LEFT} ${Y(under.level)}H${size.w - RIGHT}`"
          class="cross"
        />
        <text :x="X(under.chainage) + 8" :y="Y(under.level) - 8" class="name">
          {{ told(under.chainage) }}: {{ told(under.level) }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.long {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
  font: 11px var(--mono);
}
svg.drawing {
  cursor: crosshair;
}
.ground,
.line {
  fill: none;
  stroke-width: 1.8;
}
.ground {
  stroke: #4b7740;
}
.line {
  stroke: var(--ink);
}
.green {
  fill: #4b7740;
}
.point {
  fill: #fff;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.station {
  stroke: var(--accent);
  stroke-width: 1.6;
}
.change {
  stroke: var(--quiet);
  stroke-dasharray: 2 3;
}
.cross {
  stroke: var(--accent);
  stroke-width: 0.8;
}
.rule {
  stroke: var(--rule);
}
.quiet {
  fill: var(--quiet);
}
.name {
  font-weight: 600;
}
</style>
