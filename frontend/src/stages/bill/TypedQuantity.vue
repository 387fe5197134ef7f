<script setup lang="ts">
// A typed quantity says where it comes from before it is kept.
import { NButton, NInput } from 'naive-ui'
import { ref } from 'vue'

defineProps<{ text: string; unit: string }>()
const emit = defineEmits<{ keep: [reason: string] }>()
const reason = ref('')
</script>

<template>
  <form class="reason" @submit.prevent="emit('keep', reason)">
    <label
      >Quantity {{ text }} {{ unit }} is typed. It comes from
      <NInput
        v-model:value="reason"
        class="words"
        size="small"
        placeholder="specification, clause 2.14"
        :input-props="{ autofocus: true, required: true, 'aria-label': 'Reason for the typed quantity' }"
    /></label>
    <NButton type="primary" size="small" attr-type="submit">Keep it</NButton>
  </form>
</template>

<style scoped>
.reason,
label {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 10px;
}
.reason {
  flex: none;
  padding: 6px 12px;
  border-top: 1px solid var(--ink);
  background: var(--accent-soft);
}
label {
  white-space: nowrap;
}
</style>
