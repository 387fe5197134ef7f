<script setup lang="ts">
// A dialog over the desk: it keeps the focus, and gives it back to what opened it.
import { NModal } from 'naive-ui'

defineProps<{ title: string; wide?: boolean; widest?: boolean }>()
const emit = defineEmits<{ close: [] }>()
/** The keys of the desk behind it stay out; Esc is the dialog's own. */
function keep(event: KeyboardEvent) {
  if (event.key !== 'Escape') event.stopPropagation()
}
</script>

<template>
  <NModal
    show
    preset="card"
    size="small"
    :title="title"
    :style="{ width: widest ? '1000px' : wide ? '680px' : '440px', maxWidth: 'calc(100vw - 32px)' }"
    :aria-label="title"
    @update:show="emit('close')"
  >
    <div class="inside scroll" @keydown="keep"><slot /></div>
  </NModal>
</template>

<style scoped>
.inside {
  max-height: calc(100vh - 140px);
}
</style>
