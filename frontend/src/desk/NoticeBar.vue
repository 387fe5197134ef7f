<script setup lang="ts">
import { useNotices } from './notices'

const notices = useNotices()
</script>

<template>
  <div v-if="notices.notice" class="notice" role="alert">
    <span
      ><b>{{ notices.notice.sentence }}</b> {{ notices.notice.remedy }}</span
    >
    <button class="plain" aria-label="Close this message" @click="notices.clear()">close</button>
  </div>
</template>

<style scoped>
.notice {
  grid-area: notice;
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 7px 14px;
  border-top: 2px solid var(--bad);
  background: var(--bad-soft);
}
b {
  font-weight: 600;
  color: var(--bad);
}
</style>
