<script setup lang="ts">
import { NButton } from 'naive-ui'
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
const said = (value: unknown) =>
  value === '' || value === null || value === undefined
    ? 'nothing'
    : typeof value === 'object'
      ? Object.values(value).join(', ')
      : String(value)
</script>

<template>
  <Dialog v-if="notices.clash" :title="notices.clash.sentence" @close="notices.decided(null)">
    <table>
      <thead>
        <tr>
          <th></th>
          <th>Theirs</th>
          <th>Yours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th>{{ row.name }}</th>
          <td class="num">{{ row.theirs }}</td>
          <td class="num">{{ row.yours }}</td>
        </tr>
      </tbody>
    </table>
    <p class="choices">
      <NButton autofocus @click="notices.decided(false)">Keep theirs</NButton>
      <NButton type="primary" @click="notices.decided(true)">Write mine over it</NButton>
    </p>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 4px 8px 4px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  font-weight: 500;
}
.choices {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
  margin: 16px 0 0;
}
</style>
