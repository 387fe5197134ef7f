<script lang="ts">
/** Words as options that say what they are. */
export const asOptions = <V extends string>(words: readonly V[]) =>
  words.map((word) => ({ value: word, label: word }))
</script>

<script setup lang="ts" generic="V extends string | number">
// A choice among options, found by typing. It shows what is: one that was refused doesn't stay shown as if
// taken.
import { NSelect } from 'naive-ui'
import { nextTick, ref } from 'vue'

defineProps<{
  value: V | null
  options: { value: V; label: string }[]
  label: string
  placeholder?: string
  disabled?: boolean
}>()
const emit = defineEmits<{ choose: [value: V] }>()
const field = ref<InstanceType<typeof NSelect>>()
const open = ref(false)
const holder = ref<HTMLElement>()
/** Typing over a closed list opens it, and finds; Enter there opens it, and sends no form. */
async function before(event: KeyboardEvent) {
  if (open.value || event.ctrlKey || event.metaKey || event.altKey) return
  const typed = event.key.length === 1 && event.key !== ' '
  if (!typed && event.key !== 'Enter') return
  event.preventDefault()
  event.stopPropagation()
  open.value = true
  field.value?.focusInput()
  await nextTick()
  const input = holder.value?.querySelector('input')
  if (!typed || !input) return
  input.value = event.key
  input.dispatchEvent(new Event('input', { bubbles: true }))
}
</script>

<template>
  <div ref="holder" class="choice" @keydown.capture="before">
    <NSelect
      ref="field"
      v-model:show="open"
      :value="value"
      :options="options"
      :input-props="{ 'aria-label': label }"
      :placeholder="placeholder ?? ''"
      :disabled="disabled"
      :consistent-menu-width="false"
      filterable
      size="small"
      @update:value="emit('choose', $event)"
    />
  </div>
</template>

<style scoped>
.choice {
  min-width: 0;
}
</style>
