<script setup lang="ts">
// A field that keeps what is being typed while its value is read again, and what was refused afterwards.
import { NInput } from 'naive-ui'
import { ref, watch } from 'vue'

const props = defineProps<{
  value: string | number
  label?: string
  placeholder?: string
  disabled?: boolean
  number?: boolean
}>()
const emit = defineEmits<{ change: [text: string] }>()
const draft = ref(String(props.value))
const focused = ref(false)

watch(
  () => props.value,
  (now, before) => {
    if (!focused.value || draft.value === String(before)) draft.value = String(now)
  },
)
</script>

<template>
  <NInput
    v-model:value="draft"
    :class="{ number }"
    :input-props="label ? { 'aria-label': label } : {}"
    :placeholder="placeholder ?? ''"
    :disabled="disabled"
    size="small"
    @focus="focused = true"
    @blur="focused = false"
    @change="emit('change', draft)"
  />
</template>

<style scoped>
.number {
  font-family: var(--mono);
}
.number :deep(input) {
  text-align: right;
}
</style>
