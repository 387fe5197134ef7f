<script setup lang="ts">
// A note on the item in focus: it goes out with the bill.
import type { Schemas } from '../../api/client'
import EntryField from '../../desk/EntryField.vue'

defineProps<{ item: Schemas['ItemView']; readonly: boolean }>()
const emit = defineEmits<{ change: [note: string] }>()
</script>

<template>
  <label class="note">
    <b>{{ item.ref }} note</b>
    <EntryField
      :value="item.note"
      :disabled="readonly"
      placeholder="goes out with the bill"
      :label="`Note on ${item.ref}`"
      @change="emit('change', $event)"
    />
    <span v-if="item.client_text && item.client_text !== item.description" class="quiet theirs"
      >client: {{ item.client_text }}</span
    >
  </label>
</template>

<style scoped>
.note {
  display: grid;
  grid-template-columns: auto minmax(120px, 1fr) auto;
  align-items: center;
  gap: 12px;
  min-height: 36px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
.theirs {
  max-width: 420px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
