<script setup lang="ts">
// A number was typed that can be two. Which one it is says how the project writes numbers, so it is asked once.
import { NButton } from 'naive-ui'
import Dialog from './Dialog.vue'
import { useNotices } from './notices'

const notices = useNotices()
const number = (name: string) => notices.unsure?.numbers[name] ?? 0
</script>

<template>
  <Dialog v-if="notices.unsure" title="Which number is it?" @close="notices.said(null)">
    <p>{{ notices.unsure.sentence }}</p>
    <p class="choices">
      <NButton autofocus @click="notices.said('1,234.5')"
        >{{ number('thousands') }}: the comma sets thousands apart</NButton
      >
      <NButton @click="notices.said('1 234,5')"
        >{{ String(number('decimals')).replace('.', ',') }}: the comma is the decimal sign</NButton
      >
    </p>
    <p class="quiet">
      The project reads and writes numbers that way from now on, for everyone in it. It can be changed in the
      project’s settings; what was typed before keeps its value.
    </p>
  </Dialog>
</template>

<style scoped>
.choices {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>
