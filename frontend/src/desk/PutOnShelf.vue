<script setup lang="ts">
// The shelf to put something on; nothing where there is none.
import { useShelves } from '../api/shelves'
import ChoiceField from './ChoiceField.vue'

defineProps<{ label: string }>()
const emit = defineEmits<{ put: [shelf: number] }>()
const shelves = useShelves()
</script>

<template>
  <ChoiceField
    v-if="shelves?.length"
    class="shelf"
    :value="null"
    :options="shelves.map((s) => ({ value: s.id, label: s.name }))"
    :label="label"
    placeholder="Put on a shelf…"
    @choose="emit('put', $event)"
  />
</template>

<style scoped>
.shelf {
  width: 150px;
}
</style>
