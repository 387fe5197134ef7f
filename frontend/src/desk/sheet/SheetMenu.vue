<script setup lang="ts">
// What else can be done with a sheet: see all of it, find words on it, put the totals on it, take it out as PDF.
import { NButton, NInput } from 'naive-ui'
import { ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import JobButton from '../JobButton.vue'
import Menu from '../Menu.vue'

const props = defineProps<{ sheet: Schemas['SheetDetail']; readonly?: boolean }>()
const emit = defineEmits<{ overview: []; whole: []; totals: []; found: [box: number[] | null] }>()
const project = useProjectId()
const wanted = ref('')
const words = ref<Schemas['WordView'][]>([])
const at = ref(-1)
watch(
  () => props.sheet.id,
  () => {
    words.value = []
    at.value = -1
    emit('found', null)
  },
)

const asked = ref('')
async function find() {
  const text = wanted.value.trim()
  if (text !== asked.value) {
    asked.value = text
    at.value = -1
    words.value = text
      ? await ask(
          client.GET('/api/projects/{project_id}/sheets/{sheet}/words', {
            params: { path: { project_id: project.value, sheet: props.sheet.id }, query: { find: text } },
          }),
        )
      : []
  }
  if (!words.value.length) return emit('found', null)
  at.value = (at.value + 1) % words.value.length
  emit('found', words.value[at.value].box)
}
</script>

<template>
  <Menu v-slot="{ close }" label="Sheet">
    <form @submit.prevent="find">
      <NInput
        v-model:value="wanted"
        size="small"
        placeholder="Find words on the sheet"
        :input-props="{ type: 'search', 'aria-label': 'Find words on the sheet' }"
      />
      <span class="quiet num">{{ words.length ? `${at + 1} of ${words.length}` : asked ? 'none' : '' }}</span>
    </form>
    <p v-if="sheet.content === 'waiting'" class="quiet">Its lines and words are being read.</p>
    <p v-else-if="sheet.content !== 'read'" class="quiet">{{ sheet.content }}</p>
    <NButton text @click="(emit('overview'), close())">Show all that is measured</NButton>
    <NButton text @click="(emit('whole'), close())">Show the whole sheet</NButton>
    <NButton v-if="!readonly" text @click="(emit('totals'), close())">
      {{ sheet.tally_at.length ? 'Take the totals off' : 'Put the totals on the sheet' }}
    </NButton>
    <slot :close="close" />
    <JobButton kind="sheet_pdf" :sheet="sheet.id" plain>PDF with its figures</JobButton>
  </Menu>
</template>

<style scoped>
form {
  display: flex;
  align-items: center;
  gap: 8px;
}
p {
  margin: 2px 6px;
}
</style>
