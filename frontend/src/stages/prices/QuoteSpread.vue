<script setup lang="ts">
// Where the quotes lie beside each other, and where the price taken lies among them.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'

const props = defineProps<{ quotes: Schemas['QuoteView'][]; price: string | null | undefined }>()
const span = computed(() => {
  const values = props.quotes.map((q) => Number(q.per_unit))
  const [low, high] = [Math.min(...values), Math.max(...values)]
  return { low, wide: high - low || 1 }
})
const x = (value: number) => 50 + ((value - span.value.low) / span.value.wide) * 490
const dots = computed(() =>
  props.quotes.map((q) => ({ ...q, x: x(Number(q.per_unit)) })).sort((a, b) => a.x - b.x),
)
</script>

<template>
  <svg
    viewBox="0 0 600 52"
    role="img"
    :aria-label="`Quotes from ${shown(span.low, 2, 4)} to ${shown(span.low + span.wide, 2, 4)}`"
  >
    <line x1="20" x2="580" y1="24" y2="24" class="axis" />
    <line v-if="price" :x1="x(Number(price))" :x2="x(Number(price))" y1="12" y2="36" class="taken" />
    <g v-for="(dot, at) in dots" :key="dot.id">
      <circle :cx="dot.x" cy="24" r="4.500" :class="{ lapsed: dot.lapsed }">
        <title>{{ dot.supplier }}{{ dot.lapsed ? ', lapsed' : '' }}</title>
      </circle>
      <text :x="dot.x" :y="at % 2 ? 49 : 10" text-anchor="middle">
        {{ shown(dot.per_unit, 2, 4) }}{{ dot.lapsed ? ' lapsed' : '' }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 600px;
  max-width: 100%;
  flex: none;
}
.axis {
  stroke: var(--rule);
}
.taken {
  stroke: var(--accent);
  stroke-width: 2;
}
circle {
  fill: var(--main);
}
.lapsed {
  fill: var(--panel);
  stroke: var(--quiet);
}
text {
  font: 11px var(--mono);
  fill: var(--quiet);
}
</style>
