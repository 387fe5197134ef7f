<script setup lang="ts">
// Mass haul: what lies over up to each chainage. Above the line it is carried onwards, below it comes from farther on.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { cubicHere } from './units'

const props = defineProps<{ haul: Schemas['HaulView'] }>()
const place = ref<HTMLElement>()
const { width, height } = useElementSize(place)
const [LEFT, RIGHT, TOP, FOOT] = [86, 26, 18, 30]
const size = computed(() => ({ w: Math.max(width.value, 260), h: Math.max(height.value, 140) }))
const first = computed(() => props.haul.chainages[0] ?? 0)
const last = computed(() => props.haul.chainages.at(-1) ?? 1)
const most = computed(() => Math.max(...props.haul.ordinates, 0))
const least = computed(() => Math.min(...props.haul.ordinates, 0))
const X = (c: number) =>
  LEFT + ((c - first.value) / Math.max(last.value - first.value, 0.1)) * (size.value.w - LEFT - RIGHT)
const Y = (v: number) =>
  TOP + ((most.value - v) / Math.max(most.value - least.value, 0.1)) * (size.value.h - TOP - FOOT)
const line = computed(() => props.haul.chainages.map((c, n) => `${n ? 'L' : 'M'}${X(c)} ${Y(props.haul.ordinates[n])}`).join('')) // prettier-ignore
const area = computed(() => `${line.value}L${X(last.value)} ${Y(0)}L${X(first.value)} ${Y(0)}Z`)
const m3 = unitHere('m³')
const m = unitHere('m')
const volume = (v: number) => shown(cubicHere(v), 2, 2)
const moved = (v: number) => shown(lengthHere(cubicHere(v)), 0, 0)
const marks = computed(() => {
  const step =
    [10, 20, 40, 50, 100, 200, 500, 1000, 2000, 5000].find((s) => (last.value - first.value) / s <= 10) ??
    10000
  const begin = Math.ceil(first.value / step) * step
  return Array.from({ length: Math.floor((last.value - begin) / step) + 1 }, (_, n) => begin + n * step)
})
</script>

<template>
  <p class="sums">
    <span
      >carried <b class="num">{{ volume(haul.moved) }}</b> {{ m3 }}</span
    >
    <span
      >haul <b class="num">{{ moved(haul.haul) }}</b> {{ m3 }}·{{ m }}</span
    >
    <span
      >free, up to {{ shown(lengthHere(haul.free_distance)) }} {{ m }}
      <b class="num">{{ moved(haul.free) }}</b></span
    >
    <span
      >overhaul <b class="num">{{ moved(haul.overhaul) }}</b> {{ m3 }}·{{ m }}</span
    >
    <span v-if="Math.abs(haul.left_over) > 0.005"
      >{{ haul.left_over > 0 ? 'left over at the end' : 'lacking at the end' }}
      <b class="num">{{ volume(Math.abs(haul.left_over)) }}</b> {{ m3 }} of fill</span
    >
  </p>
  <div ref="place" class="haul">
    <svg
      :width="size.w"
      :height="size.h"
      role="img"
      :aria-label="`Mass haul, ${volume(haul.moved)} ${m3} carried`"
    >
      <path :d="area" class="over" />
      <path :d="line" class="line" />
      <path :d="`M${LEFT} ${Y(0)}H${size.w - RIGHT}`" class="zero" />
      <g v-for="(b, n) in haul.balances" :key="n"><circle :cx="X(b)" :cy="Y(0)" r="3.4" class="balance" /></g>
      <text v-for="c in marks" :key="c" :x="X(c)" :y="size.h - 10" text-anchor="middle" class="quiet">
        {{ shown(lengthHere(c)) }}
      </text>
      <text
        v-for="v in [most, 0, least]"
        :key="v"
        :x="LEFT - 8"
        :y="Y(v) + 4"
        text-anchor="end"
        class="quiet"
      >
        {{ shown(cubicHere(v), 0, 0) }}
      </text>
      <text x="8" y="13" class="quiet">{{ m3 }}</text>
    </svg>
  </div>
</template>

<style scoped>
.sums {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 2px 22px;
  margin: 0;
  padding: 5px 12px;
  border-bottom: 1px solid var(--rule);
}
.haul {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
svg {
  display: block;
  font: 11px var(--mono);
}
.over {
  fill: #b86f2422;
}
.line {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.8;
}
.zero {
  stroke: var(--ink);
}
.balance {
  fill: #fff;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.quiet {
  fill: var(--quiet);
}
</style>
