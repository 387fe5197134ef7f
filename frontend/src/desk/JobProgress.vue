<script setup lang="ts">
// How far a job is; it can be stopped.
import { NButton, NProgress } from 'naive-ui'
import type { Schemas } from '../api/client'

defineProps<{ job: Schemas['JobView'] }>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <span class="job" role="status">
    <NProgress
      class="done"
      type="line"
      :percentage="Math.round(job.done * 100)"
      :show-indicator="false"
      :height="4"
    />
    {{ job.state === 'waiting' ? 'waiting' : `${Math.round(job.done * 100)} %` }}
    <NButton text type="primary" @click="emit('stop')">stop</NButton>
  </span>
</template>

<style scoped>
.job {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 30px;
}
.done {
  width: 110px;
}
</style>
