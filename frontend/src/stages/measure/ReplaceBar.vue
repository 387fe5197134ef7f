<script setup lang="ts">
// Find and replace in dimension lines: of this element, or of the whole project; undone as one.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'

const props = defineProps<{ element: number; mark: string }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const field = ref<Schemas['Replacement']['field']>('note')
const find = ref('')
const put = ref('')
const everywhere = ref(false)
const done = ref('')

async function replace() {
  done.value = ''
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/lines/replace', {
        params: { path: { project_id: projectId.value } },
        body: {
          element: everywhere.value ? null : props.element,
          field: field.value,
          find: find.value,
          put: put.value,
        },
      }),
    ),
  )
  if (saved) done.value = `${saved.id} line${saved.id === 1 ? '' : 's'} changed`
}
</script>

<template>
  <form class="bar" @submit.prevent="replace" @keydown.esc.stop="emit('close')">
    <label
      >In
      <select v-model="field" aria-label="Field">
        <option value="note">notes</option>
        <option value="times">times</option>
        <option value="length">lengths</option>
        <option value="width">widths</option>
        <option value="height">heights</option>
      </select></label
    >
    <label>find <input v-model="find" autofocus required aria-label="Find" /></label>
    <label>put <input v-model="put" aria-label="Put instead" /></label>
    <label><input v-model="everywhere" type="checkbox" /> in every element, not just {{ mark }}</label>
    <NButton size="small" attr-type="submit" type="primary">Replace</NButton>
    <span class="quiet" role="status">{{ done }}</span>
    <button type="button" class="plain quiet" @click="emit('close')">close</button>
  </form>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
  background: var(--accent-soft);
}
input:not([type]) {
  width: 110px;
  height: 26px;
  padding: 0 6px;
  border: 1px solid #b9b1a3;
}
</style>
