<script lang="ts">
/** Words as options that say what they are. */
export const asOptions = <V extends string>(words: readonly V[]) =>
  words.map((word) => ({ value: word, label: word }))
</script>

<script setup lang="ts" generic="V extends string | number">
// A choice among options, found by typing. It shows what is: one that was refused doesn't stay shown as if
// taken.
import { NSelect } from 'naive-ui'

defineProps<{
  value: V | null
  options: { value: V; label: string }[]
  label: string
  placeholder?: string
  disabled?: boolean
}>()
const emit = defineEmits<{ choose: [value: V] }>()
</script>

<template>
  <NSelect
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
</template>
