<script setup lang="ts">
// A day, shown and typed as 02 Nov 2026, or chosen from a calendar whose weeks start on Monday.
import { NDatePicker } from 'naive-ui'

defineProps<{ value: string; disabled?: boolean; placeholder?: string }>()
const emit = defineEmits<{ change: [day: string] }>()
</script>

<template>
  <NDatePicker
    type="date"
    size="small"
    format="dd MMM yyyy"
    value-format="yyyy-MM-dd"
    :first-day-of-week="0"
    :formatted-value="value || null"
    :disabled="disabled"
    :placeholder="placeholder ?? '02 Nov 2026'"
    :actions="null"
    update-value-on-close
    @update:formatted-value="$event && emit('change', $event)"
  />
</template>
