<script setup lang="ts">
// A long section: ground, pipe, bottom and manholes, the falls, with a strip of levels under it.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

const props = defineProps<{ long: Schemas['LongView']; chosen: number | null; station: number | null }>()
const emit = defineEmits<{ pick: [run: number] }>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
const LEFT = 92
const RIGHT = 26
const TOP = 30
const STRIP = 66
const size = computed(() => ({ w: Math.max(width.value, 260), h: Math.max(height.value, 150) }))
const levels = computed(() => props.long.lines.flatMap((l) => l.places.map((p) => p[1])))
const span = computed(() => {
  const low = Math.min(...levels.value)
  const high = Math.max(...levels.value)
  const grow = Math.max((high - low) * 0.08, 0.1)
  return { low: low - grow, high: high + grow }
})
const along = computed(() => (size.value.w - LEFT - RIGHT) / Math.max(props.long.length, 0.1))
const up = computed(() => (size.value.h - TOP - STRIP) / (span.value.high - span.value.low))
const times = computed(() => up.value / along.value)
const X = (chainage: number) => LEFT + chainage * along.value
const Y = (level: number) => TOP + (span.value.high - level) * up.value
const path = (places: number[][]) => places.map(([x, y], n) => `${n ? 'L' : 'M'}${X(x)} ${Y(y)}`).join('')
const line = (key: string) => props.long.lines.find((l) => l.key === key)?.places ?? []
/** Between the ground and the bottom. */
const dug = computed(() => {
  const round = [...line('ground'), ...[...line('bottom')].reverse()]
  return round.length ? `${path(round)}Z` : ''
})
const base = computed(() => size.value.h - STRIP)
const told = (metres: number | null, places = 2) => (metres === null ? '' : shown(lengthHere(metres), places))
/** Those nodes that have room for their words; the ends always. */
const named = computed(() => {
  let last = -100
  const all = props.long.nodes
  return all.filter((n, at) => {
    const x = X(n.chainage)
    const room =
      at === 0 || at === all.length - 1 || (x - last > 58 && X(all[all.length - 1].chainage) - x > 58)
    if (room) last = x
    return room
  })
})
const words = computed(
  () =>
    `Long section, ${told(props.long.length)} ${unitHere('m')}: ` +
    props.long.runs.map((r) => `${r.name} falls ${shown(r.fall * 100, 2)} %`).join(', '),
)
</script>

<template>
  <div ref="place" class="long">
    <svg :width="size.w" :height="size.h" role="img" :aria-label="words">
      <path :d="dug" class="dug" />
      <path :d="path(line('bottom'))" class="bottom" />
      <path :d="path(line('invert'))" class="pipe" />
      <path :d="path(line('crown'))" class="pipe thin" />
      <path :d="path(line('ground'))" class="ground" />
      <g
        v-for="r in long.runs"
        :key="r.id"
        class="run"
        :class="{ on: r.id === chosen }"
        @click="emit('pick', r.id)"
      >
        <rect
          :x="X(r.begins)"
          :y="TOP - 24"
          :width="Math.max((r.ends - r.begins) * along, 1)"
          :height="base - TOP + 24"
        />
        <text
          v-if="(r.ends - r.begins) * along > 62"
          :x="X((r.begins + r.ends) / 2)"
          :y="TOP - 12"
          text-anchor="middle"
        >
          {{ shown(r.fall * 100, 2) }} %
        </text>
        <text
          v-if="(r.ends - r.begins) * along > 62"
          :x="X((r.begins + r.ends) / 2)"
          :y="base + 52"
          text-anchor="middle"
          class="quiet"
        >
          {{ told(r.ends - r.begins) }}
        </text>
      </g>
      <path v-if="station !== null" :d="`M${X(station)} ${TOP - 6}V${base}`" class="station" />
      <g v-for="n in long.nodes" :key="`${n.name} ${n.chainage}`">
        <path
          v-if="n.ground !== null && n.inverts.length"
          :d="`M${X(n.chainage)} ${Y(n.ground)}V${Y(Math.min(...n.inverts))}`"
          :class="n.manhole ? 'manhole' : 'node'"
        />
      </g>
      <path :d="`M0 ${base}H${size.w}M0 ${base + 20}H${size.w}M0 ${base + 40}H${size.w}`" class="rule" />
      <text x="8" :y="base + 14" class="quiet">ground {{ unitHere('m') }}</text>
      <text x="8" :y="base + 34" class="quiet">invert {{ unitHere('m') }}</text>
      <text x="8" :y="base + 54" class="quiet">length {{ unitHere('m') }}</text>
      <g v-for="n in named" :key="n.name + n.chainage">
        <text :x="X(n.chainage)" :y="TOP - 2" text-anchor="middle" class="name">{{ n.name }}</text>
        <text :x="X(n.chainage)" :y="base + 14" text-anchor="middle">{{ told(n.ground) }}</text>
        <text :x="X(n.chainage)" :y="base + 34" text-anchor="middle">
          {{ told(Math.min(...n.inverts), 3) }}
        </text>
      </g>
      <text :x="8" :y="14" class="quiet">heights × {{ shown(times, 0, 0) }}</text>
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
.dug {
  fill: #f6e6d2;
}
.bottom {
  fill: none;
  stroke: #8b7e63;
  stroke-dasharray: 4 3;
}
.pipe {
  fill: none;
  stroke: var(--main);
  stroke-width: 1.8;
}
.thin {
  stroke-width: 1;
}
.ground {
  fill: none;
  stroke: #4b7740;
  stroke-width: 1.8;
}
.run rect {
  fill: transparent;
  cursor: pointer;
}
.run.on rect {
  fill: #b86f2414;
}
.run text {
  pointer-events: none;
}
.station {
  stroke: var(--accent);
  stroke-width: 1.6;
}
.manhole {
  stroke: #55606b;
  stroke-width: 7;
  opacity: 0.75;
}
.node {
  stroke: var(--quiet);
  stroke-dasharray: 2 3;
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
