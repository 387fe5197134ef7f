<script setup lang="ts">
// What else can be done here: a word that opens a short list below it; Escape and a click elsewhere close it.
import { NButton, NPopover } from 'naive-ui'
import { nextTick, ref, watch } from 'vue'

defineProps<{ label: string; right?: boolean }>()
const open = ref(false)
const opener = ref<InstanceType<typeof NButton>>()
const list = ref<HTMLElement>()
watch(open, async (now) => {
  if (!now) return
  await nextTick()
  list.value?.querySelector<HTMLElement>('input, button:enabled')?.focus()
})
function close() {
  const word = opener.value?.$el as HTMLElement | undefined
  open.value = false
  word?.focus()
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
      <NButton ref="opener" text :aria-expanded="open" @keydown.esc.stop="close"> {{ label }} ▾ </NButton>
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
.menu :deep(.n-button) {
  justify-content: start;
  padding: 4px 6px;
  color: var(--ink);
}
.menu :deep(.n-button:hover:enabled) {
  background: var(--main-soft);
}
</style>
