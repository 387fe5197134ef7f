<script setup lang="ts">
// A dialog over the desk, on the browser's own dialog element: it keeps the focus and gives it back.
import { onMounted, ref } from 'vue'

defineProps<{ title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const dialog = ref<HTMLDialogElement>()
onMounted(() => dialog.value?.showModal())
</script>

<template>
  <dialog
    ref="dialog"
    :class="{ wide }"
    :aria-label="title"
    @close="emit('close')"
    @click.self="dialog?.close()"
    @keydown.stop
  >
    <div class="head">
      <h2>{{ title }}</h2>
      <button class="plain quiet" @click="dialog?.close()">close <kbd>Esc</kbd></button>
    </div>
    <slot />
  </dialog>
</template>

<style scoped>
dialog {
  width: 420px;
  padding: 0 16px 16px;
  border: 1px solid var(--ink);
  background: var(--panel);
  color: var(--ink);
  box-shadow: 0 10px 30px rgb(35 33 29 / 20%);
}
dialog.wide {
  width: 640px;
}
dialog::backdrop {
  background: rgb(35 33 29 / 25%);
}
.head {
  display: flex;
  justify-content: space-between;
  padding: 12px 0;
  gap: 12px;
}
.head button {
  flex: none;
}
</style>
