<script setup lang="ts">
// A bar drawn to its legs, with their sizes beside them.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { legShown } from './masses'

const props = defineProps<{
  outline: number[][]
  legs: Pick<Schemas['LegView'], 'letter' | 'size' | 'counts'>[]
  width: number
  height: number
  /** Whether the letters of the legs stand before their sizes. */
  letters?: boolean
}>()
const font = computed(() => (props.letters ? 12 : 9))
const least = 7 // px, that a leg is drawn with at least so that it can be seen
interface Drawn {
  path: string
  texts: { x: number; y: number; text: string; anchor: 'start' | 'middle' | 'end' }[]
}

const drawn = computed<Drawn | null>(() => {
  const points = props.outline
  if (points.length < 2) return null
  const xs = points.map((p) => p[0])
  const ys = points.map((p) => p[1])
  const [left, low] = [Math.min(...xs), Math.min(...ys)]
  const [wide, high] = [Math.max(...xs) - left, Math.max(...ys) - low]
  const aside = props.letters ? 58 : high > 0 ? 24 : 4
  const above = props.letters ? 20 : 11
  const room = { x: props.width - 2 * aside, y: props.height - 2 * above }
  const scale = Math.min(wide ? room.x / wide : Infinity, high ? room.y / high : Infinity)
  const sx = wide && wide * scale < least ? least / wide : scale
  const sy = high && high * scale < least ? least / high : scale
  const x0 = (props.width - wide * sx) / 2
  const y0 = (props.height + high * sy) / 2
  const at = points.map(([x, y]) => [x0 + (x - left) * sx, y0 - (y - low) * sy])
  const path = at.map(([x, y], n) => `${n ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')
  return { path, texts: textsOf(at) }
})
/** Each leg that is a straight part of the outline, named at its middle. */
function textsOf(at: number[][]): Drawn['texts'] {
  const taken = new Set<number>()
  const texts: Drawn['texts'] = []
  const middle = {
    x: at.reduce((sum, p) => sum + p[0], 0) / at.length,
    y: at.reduce((sum, p) => sum + p[1], 0) / at.length,
  }
  for (const leg of props.legs) {
    if (leg.counts) continue
    const part = props.outline.findIndex((p, n) => {
      const next = props.outline[n + 1]
      if (!next || taken.has(n)) return false
      return Math.abs(Math.hypot(next[0] - p[0], next[1] - p[1]) - leg.size) < 1.5
    })
    if (part < 0) continue
    taken.add(part)
    const [a, b] = [at[part], at[part + 1]]
    const level = Math.abs(b[0] - a[0]) >= Math.abs(b[1] - a[1])
    const [x, y] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
    const size = legShown(leg.size)
    const text = props.letters ? `${leg.letter} ${size}` : size
    const outside = level ? (y >= middle.y ? 1 : -1) : x >= middle.x ? 1 : -1
    if (level) {
      const flat = at.every((p) => Math.abs(p[1] - at[0][1]) < 1)
      texts.push({ x, y: flat || outside < 0 ? y - 3 : y + font.value, text, anchor: 'middle' })
    } else
      texts.push({ x: x + outside * 3, y: y + font.value / 3, text, anchor: outside > 0 ? 'start' : 'end' })
  }
  return texts
}
</script>

<template>
  <svg
    :width="width"
    :height="height"
    :viewBox="`0 0 ${width} ${height}`"
    role="img"
    :aria-label="legs.map((leg) => `${leg.letter} ${leg.counts ? leg.size : legShown(leg.size)}`).join(', ')"
    class="shape"
    :class="{ large: letters }"
  >
    <template v-if="drawn">
      <path :d="drawn.path" />
      <text
        v-for="(t, n) in drawn.texts"
        :key="n"
        :x="t.x"
        :y="t.y"
        :text-anchor="t.anchor"
        :font-size="font"
      >
        {{ t.text }}
      </text>
    </template>
  </svg>
</template>

<style scoped>
.shape {
  display: block;
}
path {
  fill: none;
  stroke: #5b4a78;
  stroke-width: 1.8;
  stroke-linejoin: round;
}
.large path {
  stroke-width: 3.5;
}
text {
  fill: var(--ink);
  font-family: var(--mono);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 2.5px;
}
</style>
