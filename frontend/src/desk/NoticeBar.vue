<script setup lang="ts">
import { NAlert } from 'naive-ui'
import { useNotices } from './notices'

const notices = useNotices()
</script>

<template>
  <NAlert
    v-if="notices.notice"
    class="notice"
    type="error"
    closable
    :show-icon="false"
    @close="notices.clear()"
    ><b>{{ notices.notice.sentence }}</b> {{ notices.notice.remedy }}</NAlert
  >
</template>

<style scoped>
/* Over the desk, so that nothing moves under the pointer. */
.notice {
  position: fixed;
  bottom: 38px;
  left: 276px;
  z-index: 10;
  max-width: min(660px, calc(100vw - 300px));
  border-left: 3px solid var(--bad);
  box-shadow: 0 4px 16px rgb(35 33 29 / 18%);
}
.notice :deep(.n-alert-body) {
  padding-right: 38px; /* the cross stands there */
}
b {
  font-weight: 600;
}
</style>
