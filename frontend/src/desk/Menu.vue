<script setup lang="ts">
// What else can be done here: a word that opens a short list below it; Escape and a click elsewhere close it.
import { NPopover } from 'naive-ui'
import { nextTick, ref, watch } from 'vue'

defineProps<{ label: string; right?: boolean }>()
const open = ref(false)
const opener = ref<HTMLElement>()
const list = ref<HTMLElement>()
watch(open, async (now) => {
  if (!now) return
  await nextTick()
  list.value?.querySelector<HTMLElement>('input, button:enabled')?.focus()
})
function close() {
  open.value = false
  opener.value?.focus()
}
</script>

<template>
  <NPopover
    v-model:show="open"
    trigger="click"
    :placement="right ? 'bottom-end' : 'bottom-start'"
    :show-arrow="false"
  >
    <template #trigger>
      <button ref="opener" class="plain quiet" :aria-expanded="open" @keydown.esc.stop="close">
        {{ label }} ▾
      </button>
    </template>
    <div ref="list" class="menu" @keydown.esc.stop="close"><slot :close="close" /></div>
  </NPopover>
</template>

<style scoped>
.menu {
  display: grid;
  gap: 2px;
  width: 250px;
}
.menu :deep(.plain) {
  padding: 4px 6px;
}
.menu :deep(.plain:hover:enabled) {
  background: var(--main-soft);
}
.menu :deep(.plain:disabled) {
  opacity: 0.5;
}
</style>
