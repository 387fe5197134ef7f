<script setup lang="ts">
// A survey to type levels into, or a surface through surveys.
import { NButton, NForm, NFormItem, NInput, NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client } from '../../api/client'
import { useGround } from '../../api/ground'
import { useDrawings, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

const props = defineProps<{ kind: 'survey' | 'sheet' | 'surface' }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const { save, projectId } = useSave()
const { data: ground } = useGround()
const name = ref('')
const surveys = ref<number[]>([])
const sheet = ref<number | null>(null)
const { data: drawings } = useDrawings()
const sheets = computed(() =>
  (drawings.value ?? []).flatMap((d) =>
    d.sheets
      .filter((s) => s.ratio !== null)
      .map((s) => ({ value: s.id, label: `${d.number} p. ${s.page} ${s.title}` })),
  ),
)
const TITLES = { survey: 'Levels to be typed', sheet: 'Levels picked off a sheet', surface: 'A surface' }
const params = computed(() => ({ path: { project_id: projectId.value } }))
const options = computed(() => (ground.value?.surveys ?? []).map((s) => ({ value: s.id, label: s.name })))
async function make() {
  const body = { name: name.value, surveys: surveys.value }
  const saved = await save(() =>
    props.kind !== 'surface'
      ? ask(
          client.POST('/api/projects/{project_id}/surveys', {
            params: params.value,
            body: { name: name.value, sheet: sheet.value },
          }),
        )
      : ask(client.POST('/api/projects/{project_id}/surfaces', { params: params.value, body })),
  )
  if (!saved) return
  emit('done', saved.id ?? null)
}
</script>

<template>
  <Dialog :title="TITLES[kind]" @close="emit('done', null)">
    <NForm size="small" @submit.prevent="make">
      <NFormItem label="Name" :show-feedback="false">
        <NInput
          v-model:value="name"
          autofocus
          :placeholder="kind === 'surface' ? 'Rock' : 'Trial holes'"
          :input-props="{ 'aria-label': 'Name' }"
        />
      </NFormItem>
      <NFormItem v-if="kind === 'surface'" label="Through the levels of" :show-feedback="false">
        <NSelect
          v-model:value="surveys"
          multiple
          filterable
          :options="options"
          :input-props="{ 'aria-label': 'Surveys it goes through' }"
        />
      </NFormItem>
      <NFormItem v-if="kind === 'sheet'" label="Sheet, to scale" :show-feedback="false">
        <ChoiceField
          class="wide"
          :value="sheet"
          :options="sheets"
          label="Sheet the levels are picked off"
          @choose="sheet = $event"
        />
      </NFormItem>
      <p>
        <NButton type="primary" attr-type="submit" :disabled="kind === 'sheet' && sheet === null"
          >Add</NButton
        >
      </p>
    </NForm>
  </Dialog>
</template>

<style scoped>
.wide {
  flex: 1;
}
</style>
