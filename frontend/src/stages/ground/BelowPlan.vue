<script setup lang="ts" generic="T extends string">
// What stands below a plan: a bar of what can be looked at, and that, one key to the next.
import { NButton } from 'naive-ui'
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

const ARROWS = { ArrowRight: 1, ArrowDown: 1, PageDown: 1, ArrowLeft: -1, ArrowUp: -1, PageUp: -1 }
const props = defineProps<{
  modelValue: T
  label: string
  tabs: Record<T, string>
  /** Whether keys go from one to the next in what is looked at. */
  stepping: boolean
  /** How far each key goes; arrows and pages go one on where not said. */
  keys?: Record<string, number>
}>()
/** Told of each press, also of the tab that stands there already: it may begin something anew. */
const emit = defineEmits<{ 'update:modelValue': [tab: T]; step: [by: number] }>()
const strip = ref<HTMLElement>()
useEventListener(strip, 'keydown', (event: KeyboardEvent) => {
  const by = (props.keys ?? (ARROWS as Record<string, number>))[event.key]
  if (!by || !props.stepping || event.ctrlKey || event.altKey) return
  if ((event.target as HTMLElement).closest('[role=grid], input')) return
  event.preventDefault()
  emit('step', by)
})
</script>

<template>
  <section ref="strip" class="below" tabindex="0" :aria-label="label">
    <p class="bar">
      <NButton
        v-for="(words, key) in tabs"
        :key="key"
        v-memo="[modelValue === key]"
        text
        :class="{ on: modelValue === key }"
        @click="emit('update:modelValue', key as T)"
        >{{ words }}</NButton
      >
      <slot name="bar" />
    </p>
    <slot />
  </section>
</template>

<style scoped>
.below {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-top: 1px solid var(--ink);
}
.bar {
  display: flex;
  align-items: center;
  flex: none;
  gap: 12px;
  margin: 0;
  padding: 4px 12px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
  overflow: hidden;
}
.bar > .on {
  font-weight: 600;
  color: var(--ink);
  box-shadow: 0 2px var(--accent);
}
.bar > :slotted(.push) {
  margin-left: auto;
}
.bar :slotted(.steps) {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
