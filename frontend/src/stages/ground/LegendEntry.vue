<script setup lang="ts">
// What a hatch of a section stands for, with its area; pressed, it is shown or hidden.
import { NButton } from 'naive-ui'

defineProps<{ name: string; hatch: string; hidden: boolean; area: string }>()
defineEmits<{ toggle: [] }>()
</script>

<template>
  <span>
    <NButton
      text
      :aria-pressed="!hidden"
      :class="{ off: hidden }"
      :title="hidden ? 'Show it' : 'Hide it'"
      @click="$emit('toggle')"
    >
      <svg width="16" height="12" aria-hidden="true">
        <rect width="16" height="12" :fill="hatch" stroke="#8b7e63" stroke-width="0.6" />
      </svg>
      {{ name }}
    </NButton>
    <span class="num quiet">{{ area }}</span>
  </span>
</template>

<style scoped>
svg {
  margin-right: 5px;
}
.num {
  margin-left: 5px;
}
.off {
  opacity: 0.45;
  text-decoration: line-through;
}
</style>
