<script setup lang="ts">
// A bar of its own shape: its corners clicked on a grid of 50 mm, or typed as x, y in mm, one after the other.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'

const props = defineProps<{ outline: number[][] }>()
const emit = defineEmits<{ draw: [corners: [number, number][]] }>()
const STEP = 50
const [WIDE, HIGH] = [300, 130]
const corners = ref<[number, number][]>([])
const shownCorners = computed(() =>
  corners.value.length ? corners.value : (props.outline as [number, number][]),
)
const text = ref(props.outline.map(([x, y]) => `${x}, ${y}`).join('; '))
const mm = ref(2000 / WIDE)
const wrong = ref('')
const points = computed(() =>
  shownCorners.value.map(([x, y]) => `${10 + x / mm.value},${HIGH - 10 - y / mm.value}`).join(' '),
)
function pick(event: MouseEvent) {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const snap = (value: number) => Math.round((value * mm.value) / STEP) * STEP
  corners.value.push([snap(event.clientX - box.left - 10), snap(HIGH - 10 - (event.clientY - box.top))])
  text.value = corners.value.map(([x, y]) => `${x}, ${y}`).join('; ')
}
function back() {
  corners.value.pop()
  text.value = corners.value.map(([x, y]) => `${x}, ${y}`).join('; ')
}
function keep() {
  const read = text.value
    .split(';')
    .filter((each) => each.trim())
    .map((each) =>
      each
        .split(/[,\s]+/)
        .filter(Boolean)
        .map(Number),
    )
  const bad = read.findIndex((each) => each.length !== 2 || each.some((n) => !Number.isFinite(n)))
  if (bad >= 0 || read.length < 2) {
    wrong.value =
      bad >= 0
        ? `Corner ${bad + 1} isn’t two numbers: type each as x, y in mm, such as 0, 0; 0, 300; 900, 300.`
        : 'A bar has two corners at least, its ends.'
    return
  }
  wrong.value = ''
  corners.value = []
  emit('draw', read as [number, number][])
}
</script>

<template>
  <div class="pad" aria-label="Corners of the bar">
    <svg
      :width="WIDE + 20"
      :height="HIGH"
      role="img"
      aria-label="Click where the corners lie"
      tabindex="0"
      @click="pick"
      @keydown.backspace.prevent="back"
    >
      <defs>
        <pattern id="grid" width="15" height="15" patternUnits="userSpaceOnUse" x="10" :y="HIGH - 10">
          <path d="M15 0H0V15" class="rule" />
        </pattern>
      </defs>
      <rect width="100%" height="100%" fill="url(#grid)" />
      <polyline :points="points" />
    </svg>
    <div class="side">
      <p class="quiet">
        Click corner after corner, or type them as x, y in mm. Backspace takes the last back.
      </p>
      <NInput
        v-model:value="text"
        size="small"
        placeholder="0, 0; 0, 300; 900, 300"
        :input-props="{ 'aria-label': 'Corners as x, y in mm' }"
        @keydown.enter="keep"
      />
      <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
      <NButton size="small" type="primary" @click="keep">Bend it so</NButton>
    </div>
  </div>
</template>

<style scoped>
.pad {
  display: flex;
  gap: 14px;
  padding: 8px 12px;
  border-top: 1px solid var(--ink);
}
svg {
  flex: none;
  border: 1px solid var(--rule);
  background: var(--ground);
  cursor: crosshair;
}
.rule {
  fill: none;
  stroke: var(--rule);
}
polyline {
  fill: none;
  stroke: #5b4a78;
  stroke-width: 2.5;
}
.side {
  display: flex;
  flex: 1;
  flex-direction: column;
  gap: 6px;
  align-items: flex-start;
}
.side p {
  margin: 0;
}
</style>
