<script setup lang="ts">
// Setting a sheet's scale, there on the sheet: by ratio, or by two picks and the length between them.
import { NButton } from 'naive-ui'
import { nextTick, ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'

const props = defineProps<{ sheet: Schemas['SheetDetail']; picks: [number, number][] }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const ratio = ref('')
const length = ref('')
const lengthField = ref<HTMLInputElement>()

watch(
  () => props.picks.length,
  (n) => n === 2 && void nextTick(() => lengthField.value?.focus()),
)

const path = () => ({ params: { path: { project_id: projectId.value, sheet: props.sheet.id } } })
async function set(by: 'ratio' | 'length') {
  const done = await save((version) => {
    const at = version ?? props.sheet.version
    return by === 'ratio'
      ? ask(client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/ratio', { ...path(), body: { version: at, ratio: ratio.value } }))
      : ask(
          client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/length', {
            ...path(),
            body: { version: at, first: props.picks[0], second: props.picks[1], length: length.value },
          }),
        )
  })
  if (done) emit('close')
}
</script>

<template>
  <div class="bar" role="group" aria-label="Scale of the sheet" @keydown.esc.stop="emit('close')">
    <b>{{ sheet.ratio === null ? 'This sheet has no scale yet, so nothing can be measured on it.' : 'Set the scale again.' }}</b>
    <form @submit.prevent="set('ratio')">
      <label>Ratio 1:<input v-model="ratio" size="6" aria-label="Ratio" placeholder="100" /></label>
      <NButton size="small" attr-type="submit" :type="ratio ? 'primary' : 'default'" :disabled="!ratio">Set</NButton>
    </form>
    <span class="quiet">or</span>
    <form @submit.prevent="set('length')">
      <label v-if="picks.length === 2"
        >Length between the picks <input ref="lengthField" v-model="length" size="8" aria-label="Known length" placeholder="5.4"
      /></label>
      <span v-else>pick the two ends of a known length ({{ picks.length }} of 2)</span>
      <NButton v-if="picks.length === 2" size="small" attr-type="submit" type="primary" :disabled="!length">Set</NButton>
    </form>
    <button v-if="sheet.ratio !== null" class="plain quiet" @click="emit('close')">leave it</button>
  </div>
</template>

<style scoped>
.bar {
  position: absolute;
  inset: 0 0 auto;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  padding: 6px 12px;
  border-bottom: 2px solid var(--accent);
  background: var(--accent-soft);
}
form {
  display: flex;
  align-items: center;
  gap: 6px;
}
input {
  height: 26px;
  padding: 0 6px;
  border: 1px solid #b9b1a3;
  font: 13px var(--mono);
}
b {
  font-weight: 500;
}
</style>
