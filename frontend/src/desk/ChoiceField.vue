<script setup lang="ts">
// A choice among options that shows what is: one that was refused doesn't stay shown as if it had been taken.
import { nextTick } from 'vue'

const props = defineProps<{ value: string | number | null; choose: (value: string) => unknown }>()

async function change(event: Event) {
  const select = event.target as HTMLSelectElement
  await props.choose(select.value)
  await nextTick()
  select.value = String(props.value ?? '')
}
</script>

<template>
  <select :value="value" @change="change">
    <slot />
  </select>
</template>
