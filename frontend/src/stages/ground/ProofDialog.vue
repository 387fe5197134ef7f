<script setup lang="ts">
// The proof of an earthwork in one package: what it holds and how many sections stand on a page is chosen.
import { NCheckbox, NCheckboxGroup } from 'naive-ui'
import { ref } from 'vue'
import type { Schemas } from '../../api/client'
import Dialog from '../../desk/Dialog.vue'
import JobButton from '../../desk/JobButton.vue'
import PerPage from './PerPage.vue'
import type { Work } from './earth'

defineProps<{ work: Work }>()
const emit = defineEmits<{ close: [] }>()
type Part = NonNullable<Schemas['NewJob']['parts']>[number]
const PARTS: Partial<Record<Part, string>> = {
  plan: 'Level plan with squares and volumes',
  sections: 'Every section with its area',
  areas: 'Area sheet',
  volumes: 'Volume sheet',
  squares: 'Squares',
  prisms: 'Prisms, in the workbook',
  findings: 'What was found and decided',
}
const parts = ref<Part[]>(Object.keys(PARTS) as Part[])
const perPage = ref(4)
</script>

<template>
  <Dialog :title="`Proof of ${work.mark} ${work.description}`" @close="emit('close')">
    <p class="quiet">One package: a PDF, a workbook with live formulas, and a drawing as DXF.</p>
    <NCheckboxGroup v-model:value="parts" class="parts">
      <NCheckbox v-for="(words, part) in PARTS" :key="part" :value="part">{{ words }}</NCheckbox>
    </NCheckboxGroup>
    <PerPage v-model="perPage" />
    <p v-if="work.state === 'working'" class="says">
      It is being worked out: the package tells what it came to before.
    </p>
    <JobButton kind="ground_proof" primary :asks="{ element: work.id, parts, per_page: perPage }"
      >Make the package</JobButton
    >
  </Dialog>
</template>

<style scoped>
.parts {
  display: grid;
  gap: 4px;
  padding: 4px 0 10px;
}
.says {
  background: var(--accent-soft);
}
</style>
