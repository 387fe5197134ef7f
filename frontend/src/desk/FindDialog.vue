<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useFind, useProjectId } from '../api/project'
import Dialog from './Dialog.vue'

const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const project = useProjectId()
const wanted = ref('')
const settled = refDebounced(wanted, 120)
const chosen = ref(0)
const { data: named } = useFind(settled)

const pages = ['Sheets', 'Measure', 'Make-ups', 'Bars', 'Prices', 'Rates', 'Bill', 'Issue']
const found = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  const stages = pages
    .filter((name) => name.toLowerCase().includes(words))
    .map((name) => ({ kind: 'stage', name, to: `/${name.toLowerCase()}` }))
  return [...stages, ...(words ? (named.value ?? []) : [])].slice(0, 12)
})
watch(found, () => (chosen.value = 0))

function move(by: number) {
  chosen.value = Math.min(Math.max(chosen.value + by, 0), found.value.length - 1)
}
async function go(at: number) {
  const target = found.value[at]
  if (!target) return
  await router.push(`/projects/${project.value}${target.to}`)
  emit('close')
}
</script>

<template>
  <Dialog title="Find and go to" wide @close="emit('close')">
    <NInput
      v-model:value="wanted"
      placeholder="An element, sheet, resource, rate or bill item"
      :input-props="{ autofocus: true, 'aria-label': 'Find' }"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(chosen)"
    />
    <NButton
      v-for="(each, at) in found"
      :key="each.to"
      text
      class="laid found"
      :class="{ chosen: at === chosen }"
      @click="go(at)"
    >
      <span>{{ each.name }}</span><span class="quiet">{{ each.kind }}</span>
    </NButton>
    <p v-if="!found.length" class="quiet">Nothing by that name in this project.</p>
  </Dialog>
</template>

<style scoped>
.found {
  display: flex;
  justify-content: space-between;
  width: 100%;
  padding: 5px 8px;
  border-bottom: 1px solid var(--rule);
}
.chosen,
.found:hover {
  background: var(--main-soft);
}
</style>
