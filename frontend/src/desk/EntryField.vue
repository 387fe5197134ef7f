<script setup lang="ts">
// A field that keeps what is being typed while its value is read again, and what was refused afterwards.
import { ref, watch } from 'vue'

const props = defineProps<{ value: string | number }>()
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
  <input v-model="draft" @focus="focused = true" @blur="focused = false" @change="emit('change', draft)" />
</template>
