<script setup lang="ts">
// One number a working was made from; it opens to its own arithmetic.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { shown } from './numbers'

const props = defineProps<{ part: Schemas['WorkingView'] }>()
const open = ref(false)
const opens = computed(() => Boolean(props.part.figures || props.part.parts.length))
</script>

<template>
  <div class="part">
    <component
      :is="opens ? 'button' : 'div'"
      class="plain head"
      :aria-expanded="opens ? open : undefined"
      @click="open = !open"
    >
      <span
        ><i v-if="opens">{{ open ? '▾' : '▸' }}</i> {{ part.name }}</span
      >
      <span class="num"
        >{{
          part.value === null
            ? 'no number'
            : shown(part.value, Number.isInteger(part.value) && (!part.unit || part.unit === 'nr') ? 0 : 2, 4)
        }}
        <span class="quiet">{{ part.unit }}</span></span
      >
    </component>
    <p v-if="part.source && !opens" class="quiet source">{{ part.source }}</p>
    <div v-if="open" class="inner">
      <p v-if="part.expression" class="quiet">{{ part.expression }}</p>
      <p v-if="part.figures" class="num">{{ part.figures }}</p>
      <WorkingPart v-for="(inner, at) in part.parts" :key="at" :part="inner" />
    </div>
  </div>
</template>

<style scoped>
.part {
  border-bottom: 1px solid var(--rule);
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  width: 100%;
  padding: 4px 0;
}
i {
  font-style: normal;
  color: var(--quiet);
}
.source {
  margin: -3px 0 4px;
  font-size: 12px;
}
.inner {
  margin: 0 0 6px 6px;
  padding-left: 9px;
  border-left: 1px solid var(--rule);
}
.inner p {
  margin: 0;
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
