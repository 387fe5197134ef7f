<script setup lang="ts">
import { NButton, NDataTable } from 'naive-ui'
import { computed } from 'vue'
import Dialog from './Dialog.vue'
import { useNotices } from './notices'

const notices = useNotices()
const rows = computed(() => {
  const clash = notices.clash?.clash
  if (!clash) return []
  return Object.keys(clash.yours)
    .filter((name) => clash.yours[name] !== clash.theirs[name])
    .map((name) => ({
      name: name.replaceAll('_', ' '),
      yours: said(clash.yours[name]),
      theirs: said(clash.theirs[name]),
    }))
})
const columns = [
  { title: '', key: 'name' },
  { title: 'Theirs', key: 'theirs', className: 'num' },
  { title: 'Yours', key: 'yours', className: 'num' },
]
const said = (value: unknown) =>
  value === '' || value === null || value === undefined
    ? 'nothing'
    : typeof value === 'object'
      ? Object.values(value).join(', ')
      : String(value)
</script>

<template>
  <Dialog v-if="notices.clash" :title="notices.clash.sentence" @close="notices.decided(null)">
    <NDataTable size="small" :columns="columns" :data="rows" />
    <p class="choices">
      <NButton autofocus @click="notices.decided(false)">Keep theirs</NButton>
      <NButton type="primary" @click="notices.decided(true)">Write mine over it</NButton>
    </p>
  </Dialog>
</template>

<style scoped>
.choices {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
  margin: 16px 0 0;
}
</style>
