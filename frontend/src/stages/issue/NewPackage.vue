<script setup lang="ts">
// A package to be issued: which documents in which forms, to whom, with what words.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import JobButton from '../../desk/JobButton.vue'

type Choice = Schemas['DocumentChoice']
const props = defineProps<{ choices: Choice[] }>()
const emit = defineEmits<{ done: [] }>()
const projectId = useProjectId()
const FORMS = ['pdf', 'xlsx', 'csv', 'dxf', 'X84', 'abs']
const HEADS: Record<string, string> = {
  pdf: 'PDF', xlsx: 'XLSX', csv: 'CSV', dxf: 'DXF', X84: 'GAEB X84', abs: 'BVBS',
} // prettier-ignore
const title = ref('')
const recipient = ref('')
const note = ref('')
/** At first everything as PDF, and the bill as a workbook too. */
const chosen = ref(
  new Set(
    props.choices.flatMap((c) =>
      c.forms
        .filter((form) => form === 'pdf' || (c.key === 'bill' && form === 'xlsx'))
        .map((form) => `${c.key} ${form}`),
    ),
  ),
)
const heads = computed(() => FORMS.filter((form) => props.choices.some((c) => c.forms.includes(form))))
function put(keys: string[], now: boolean) {
  const next = new Set(chosen.value)
  for (const key of keys) {
    if (now) next.add(key)
    else next.delete(key)
  }
  chosen.value = next
}
const column = (form: string) =>
  props.choices.filter((c) => c.forms.includes(form)).map((c) => `${c.key} ${form}`)
const documents = computed(() =>
  Object.fromEntries(
    props.choices
      .map((c) => [c.key, c.forms.filter((form) => chosen.value.has(`${c.key} ${form}`))] as const)
      .filter(([, forms]) => forms.length),
  ),
)
const send = () =>
  ask(
    client.POST('/api/projects/{project_id}/packages', {
      params: { path: { project_id: projectId.value } },
      body: {
        title: title.value,
        documents: documents.value,
        recipient: recipient.value,
        note: note.value,
      },
    }),
  )
</script>

<template>
  <div class="desk-head"><b>A package to be issued</b></div>
  <div class="asked">
    <label
      ><span class="quiet">Title</span>
      <NInput
        v-model:value="title"
        size="small"
        placeholder="Tender of 27 November"
        :input-props="{ autofocus: true, 'aria-label': 'Title of the package' }"
    /></label>
    <label
      ><span class="quiet">By letter to</span>
      <NInput
        v-model:value="recipient"
        size="small"
        placeholder="an e-mail address, or nobody"
        :input-props="{ 'aria-label': 'By letter to', inputmode: 'email' }"
    /></label>
    <label class="wide"
      ><span class="quiet">Note</span>
      <NInput
        v-model:value="note"
        size="small"
        placeholder="stands on the cover list and in the letter"
        :input-props="{ 'aria-label': 'Note on the package' }"
    /></label>
  </div>
  <div class="scroll" tabindex="0" role="region" aria-label="Documents">
    <table class="listing">
      <thead>
        <tr>
          <th>Document</th>
          <th v-for="form in heads" :key="form" class="as">
            <NButton
              text
              :title="`All or none as ${HEADS[form]}`"
              @click="put(column(form), !column(form).every((key) => chosen.has(key)))"
              >{{ HEADS[form] }}</NButton
            >
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="choice in choices" :key="choice.key">
          <td>{{ choice.title }}</td>
          <td v-for="form in heads" :key="form" class="as">
            <NCheckbox
              v-if="choice.forms.includes(form)"
              :checked="chosen.has(`${choice.key} ${form}`)"
              :aria-label="`${choice.title} as ${HEADS[form]}`"
              @update:checked="put([`${choice.key} ${form}`], $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <div class="strip">
    <span
      ><b class="num">{{ chosen.size }}</b> file{{ chosen.size === 1 ? '' : 's' }} and a cover list</span
    >
    <span class="quiet">All written as at one moment; the bill is kept as it is then.</span>
    <JobButton class="go" primary :send="send" :disabled="!title.trim() || !chosen.size" @done="emit('done')"
      >Issue it</JobButton
    >
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 16px;
  padding: 10px 12px;
  border-bottom: 1px solid var(--rule);
}
label {
  display: grid;
  grid-template-columns: 80px 1fr;
  align-items: center;
}
.wide {
  grid-column: 1 / -1;
}
.scroll {
  flex: 1;
}
.as {
  width: 84px;
  text-align: center;
}
.strip {
  display: flex;
  gap: 16px;
  align-items: center;
  min-height: 44px;
  padding: 4px 12px;
  border-top: 1px solid var(--ink);
}
.go {
  margin-left: auto;
}
</style>
