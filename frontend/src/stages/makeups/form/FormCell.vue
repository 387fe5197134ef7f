<script setup lang="ts">
// The frame of a field in a make-up's form: its words above it, `span` of twelve columns wide.
defineProps<{ label: string; span: number }>()
</script>

<template>
  <div class="cell" :style="{ gridColumn: `span ${span}` }">
    <span class="quiet">{{ label }}</span>
    <slot />
  </div>
</template>

<style scoped>
.cell {
  display: grid;
  min-width: 0;
}
.cell > span {
  overflow: hidden;
  font-size: 12px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
