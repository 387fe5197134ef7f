<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useBill, useBuildUps, useDrawings, useLocations, useProjectId, useResources } from '../api/project'
import Dialog from './Dialog.vue'

const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const project = useProjectId()
const { data: locations } = useLocations()
const { data: resources } = useResources()
const { data: buildUps } = useBuildUps()
const { data: bill } = useBill()
const { data: drawings } = useDrawings()
const wanted = ref('')
const chosen = ref(0)

const all = computed(() => [
  ...['Sheets', 'Measure', 'Prices', 'Rates', 'Bill', 'Issue'].map((name) => ({
    kind: 'stage',
    name,
    to: `/${name.toLowerCase()}`,
  })),
  { kind: 'stage', name: 'Make-ups', to: '/make-ups' },
  ...(locations.value ?? []).flatMap((l) =>
    l.elements.map((e) => ({ kind: l.name, name: `${e.mark} ${e.description}`, to: `/measure/${e.id}` })),
  ),
  ...(drawings.value ?? []).flatMap((d) =>
    d.sheets.map((s) => ({
      kind: 'sheet',
      name: `${d.number} p. ${s.page} ${s.title}`,
      to: `/sheets/${s.id}`,
    })),
  ),
  ...(resources.value ?? []).map((r) => ({ kind: r.kind, name: r.name, to: `/prices/${r.id}` })),
  ...(buildUps.value ?? []).map((b) => ({ kind: 'rate', name: b.name, to: `/rates/${b.id}` })),
  ...(bill.value?.sections ?? []).flatMap((s) =>
    s.items.map((i) => ({
      kind: 'bill item',
      name: `${i.ref} ${i.description}`,
      to: `/bill?at=item:${i.id}`,
    })),
  ),
])
const found = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return all.value
    .filter((each) => words.every((word) => `${each.name} ${each.kind}`.toLowerCase().includes(word)))
    .slice(0, 12)
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
    <input
      v-model="wanted"
      autofocus
      aria-label="Find"
      placeholder="An element, sheet, resource, rate or bill item"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(chosen)"
    />
    <button
      v-for="(each, at) in found"
      :key="each.to"
      class="plain"
      :class="{ chosen: at === chosen }"
      @click="go(at)"
    >
      <span>{{ each.name }}</span><span class="quiet">{{ each.kind }}</span>
    </button>
    <p v-if="!found.length" class="quiet">Nothing by that name in this project.</p>
  </Dialog>
</template>

<style scoped>
input {
  width: 100%;
  padding: 7px 8px;
  border: 1px solid var(--main);
  font: inherit;
}
button {
  display: flex;
  justify-content: space-between;
  width: 100%;
  padding: 5px 8px;
  border-bottom: 1px solid var(--rule);
}
.chosen,
button:hover {
  background: var(--main-soft);
}
</style>
