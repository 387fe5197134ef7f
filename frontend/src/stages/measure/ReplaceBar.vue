<script setup lang="ts">
// Find and replace in dimension lines: of this element, or of the whole project; undone as one.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { onMounted, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'

type Field = Schemas['Replacement']['field']
const props = defineProps<{ element: number; mark: string; field: Field }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const fields: { value: Field; label: string }[] = [
  { value: 'note', label: 'notes' },
  { value: 'times', label: 'times' },
  { value: 'length', label: 'lengths' },
  { value: 'width', label: 'widths' },
  { value: 'height', label: 'heights' },
]
// It looks first where the cursor stands.
const field = ref(props.field)
const first = ref<InstanceType<typeof NInput>>()
onMounted(() => first.value?.focus())
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
  <form class="desk-bar" @submit.prevent="replace" @keydown.esc.stop="emit('close')">
    <label
      >In <ChoiceField class="in" :value="field" :options="fields" label="Field" @choose="field = $event"
    /></label>
    <label
      >find
      <NInput
        ref="first"
        v-model:value="find"
        class="words"
        size="small"
        placeholder=""
        :input-props="{ required: true, 'aria-label': 'Find' }"
    /></label>
    <label
      >put
      <NInput
        v-model:value="put"
        class="words"
        size="small"
        placeholder=""
        :input-props="{ 'aria-label': 'Put instead' }"
    /></label>
    <NCheckbox v-model:checked="everywhere">in every element, not just {{ mark }}</NCheckbox>
    <NButton size="small" attr-type="submit" type="primary">Replace</NButton>
    <span class="quiet" role="status">{{ done }}</span>
    <NButton text @click="emit('close')">close</NButton>
  </form>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.words {
  width: 110px;
}
.in {
  width: 104px;
}
</style>
