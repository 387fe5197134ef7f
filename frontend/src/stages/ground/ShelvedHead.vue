<script setup lang="ts">
// The head of what is drawn up once and built many times: its name, what is built like it, a copy, a shelf to
// put it on.
import { NButton } from 'naive-ui'
import EntryField from '../../desk/EntryField.vue'
import type { Bound } from '../../desk/fields'
import PutOnShelf from '../../desk/PutOnShelf.vue'

defineProps<{
  /** What it is called in a label, such as “the kind”. */
  it: string
  name: Bound
  /** What is built like it. */
  built: string
  number: number | null
  readonly: boolean
}>()
const emit = defineEmits<{ put: [shelf: number]; copy: []; remove: [] }>()
</script>

<template>
  <div class="desk-head">
    <EntryField class="name" v-bind="name" :label="`Name of ${it}`" />
    <span class="quiet">{{ built }}</span>
    <span v-if="number" class="quiet">number {{ number }} of its shelf</span>
    <span class="push"></span>
    <template v-if="!readonly">
      <PutOnShelf :label="`Put ${it} on a shelf`" @put="emit('put', $event)" />
      <NButton text @click="emit('copy')">Copy</NButton>
      <NButton text @click="emit('remove')">Delete</NButton>
    </template>
  </div>
</template>

<style scoped>
.name {
  flex: 1;
  min-width: 120px;
  max-width: 280px;
  font-weight: 600;
}
</style>
