<script setup lang="ts">
// What else can be done here: a word that opens a short list below it; Escape and a click elsewhere close it.
import { onClickOutside } from '@vueuse/core'
import { nextTick, ref } from 'vue'

defineProps<{ label: string; right?: boolean }>()
const open = ref(false)
const holder = ref<HTMLElement>()
onClickOutside(holder, () => (open.value = false))
async function toggle() {
  open.value = !open.value
  await nextTick()
  if (open.value) holder.value?.querySelector<HTMLElement>('.menu input, .menu button')?.focus()
}
const close = () => (open.value = false)
</script>

<template>
  <div ref="holder" class="holder" @keydown.esc.stop="close">
    <button class="plain quiet" :aria-expanded="open" @click="toggle">{{ label }} ▾</button>
    <div v-if="open" class="menu" :class="{ right }"><slot :close="close" /></div>
  </div>
</template>

<style scoped>
.holder {
  position: relative;
}
.menu {
  position: absolute;
  top: 26px;
  left: 0;
  z-index: 5;
  display: grid;
  gap: 2px;
  width: 250px;
  padding: 8px;
  border: 1px solid var(--ink);
  background: var(--panel);
  white-space: normal;
}
.menu.right {
  left: auto;
  right: 0;
}
.menu :deep(.plain) {
  padding: 4px 6px;
}
.menu :deep(.plain:hover) {
  background: var(--main-soft);
}
.menu :deep(.plain:disabled) {
  opacity: 0.5;
}
</style>
