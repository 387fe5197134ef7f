<script setup lang="ts">
// What rules of detailing come to, size by size: former, least leg and laps, and the bend of one size drawn.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { unitHere } from '../../desk/ways'
import { legShown } from './masses'

const props = defineProps<{ table: Schemas['DetailingTable'] }>()
/** The size that is drawn. */
const size = defineModel<string>({ required: true })
const shownSize = computed(() => props.table.sizes.find((each) => each.size === size.value) ?? null)
/** The bend of the chosen size: a leg down to the former, round it, and along. */
const picture = computed(() => {
  const now = shownSize.value
  if (!now) return null
  const d = /^#/.test(now.size) ? now.former / 3 : Number(now.size)
  const r = now.former
  const reach = Math.max(now.leg, r + 2 * d) + d
  const k = 150 / reach
  const mid = (r + d / 2) * k
  const leg = Math.max(now.leg * k, (r + d) * k)
  const [x, y] = [40, 180]
  const bend = y - (d / 2) * k - mid
  return {
    stroke: Math.max(d * k, 2),
    bar: `M${x} ${y - leg}V${bend}A${mid} ${mid} 0 0 0 ${x + mid} ${y - (d / 2) * k}H${x + 170}`,
    centre: { x: x + mid, y: bend, r: r * k },
    leg: { y1: y - leg, y2: y },
  }
})
</script>

<template>
  <div class="picture scroll" tabindex="0">
    <svg v-if="picture" width="260" height="200" role="img" :aria-label="`Former and least leg of ${size}`">
      <path :d="picture.bar" class="steel" :stroke-width="picture.stroke" />
      <circle :cx="picture.centre.x" :cy="picture.centre.y" :r="picture.centre.r" class="former" />
      <text :x="picture.centre.x" :y="picture.centre.y + 4" text-anchor="middle">
        r {{ legShown(shownSize!.former) }}
      </text>
      <line x1="18" x2="18" :y1="picture.leg.y1" :y2="picture.leg.y2" class="size" />
      <text
        x="14"
        :y="(picture.leg.y1 + picture.leg.y2) / 2"
        text-anchor="middle"
        :transform="`rotate(-90 14 ${(picture.leg.y1 + picture.leg.y2) / 2})`"
      >
        least {{ legShown(shownSize!.leg) }}
      </text>
    </svg>
    <table>
      <thead>
        <tr>
          <th>Size</th>
          <th class="num">former r</th>
          <th class="num">least leg</th>
          <th v-for="c in table.concretes" :key="c" class="num">lap {{ c }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in table.sizes" :key="s.size" :class="{ here: s.size === size }" @click="size = s.size">
          <td>
            <NButton text @click="size = s.size">{{ s.size }}</NButton>
          </td>
          <td class="num">{{ legShown(s.former) }}</td>
          <td class="num">{{ legShown(s.leg) }}</td>
          <td v-for="(lap, n) in s.laps" :key="n" class="num">
            {{ shown(unitHere('mm') === 'in' ? lap / 25.4 : lap, 0, 1) }}
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">All in {{ unitHere('mm') }}.</p>
  </div>
</template>

<style scoped>
.picture {
  height: 100%;
  padding: 10px 14px;
}
.steel {
  fill: none;
  stroke: #5b4a78;
}
.former {
  fill: none;
  stroke: var(--accent);
  stroke-dasharray: 4 3;
}
.size {
  stroke: var(--ink);
}
text {
  font-size: 11px;
  font-family: var(--mono);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 5px;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  font-weight: 400;
}
th.num,
td.num {
  text-align: right;
}
th.num {
  font-family: inherit;
  white-space: normal;
  vertical-align: bottom;
}
.here td {
  background: var(--accent-soft);
}
</style>
