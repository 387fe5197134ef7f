<script setup lang="ts">
// Another value for what is behind the number in the working column: what it would do, before anything is
// written.
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../api/client'
import { useProject, useSave } from '../api/project'
import { useTriable, useTrials, type Value } from '../api/trials'
import ChoiceField from './ChoiceField.vue'
import EntryField from './EntryField.vue'
import { useNotices } from './notices'
import { money, signed } from './numbers'

type Field = Schemas['TriableView']
const MOST_ITEMS = 6
const NEW = 0
const props = defineProps<{ number: string }>()
const router = useRouter()
const notices = useNotices()
const { save, projectId } = useSave()
const { data: project } = useProject()
const open = ref(false)
const { data: fields } = useTriable(() => (open.value ? props.number : ''))
const { data: trials } = useTrials(open)
const readonly = computed(() => project.value?.role === 'viewer')
const put = ref<Record<string, Value>>({})
const effect = ref<Schemas['TriedEffect'] | null>(null)
const into = ref(NEW)
const name = ref('')
const values = computed(() => Object.values(put.value))
watch(() => props.number, forget)
function forget() {
  open.value = false
  put.value = {}
  effect.value = null
}
const key = (field: Field) => `${field.ref} ${field.field}`
/** Fields of one thing stand under its name. */
const groups = computed(() => {
  const found = new Map<string, Field[]>()
  for (const field of fields.value ?? []) found.set(field.ref, [...(found.get(field.ref) ?? []), field])
  return [...found.values()]
})
let asked = 0
async function tryIt(field: Field, value: string) {
  if (value.trim() === field.value) delete put.value[key(field)]
  else put.value[key(field)] = { ref: field.ref, field: field.field, value: value.trim() }
  const mine = ++asked
  if (!values.value.length) return void (effect.value = null)
  try {
    const found = await ask(
      client.POST('/api/projects/{project_id}/tries', {
        params: { path: { project_id: projectId.value } },
        body: { values: values.value },
      }),
    )
    if (mine === asked) effect.value = found
  } catch (error) {
    notices.show(error)
  }
}
const by = computed(() =>
  effect.value ? Number(effect.value.bill_after) - Number(effect.value.bill_before) : 0,
)
async function write() {
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/tries/kept', {
        params: { path: { project_id: projectId.value } },
        body: { values: values.value },
      }),
    ),
  )
  if (done) forget()
}
const choices = computed(() => [
  { value: NEW, label: 'a new trial' },
  ...(trials.value ?? []).map((each) => ({ value: each.id, label: each.name })),
])
async function keepForTrial() {
  const path = { project_id: projectId.value }
  let trial = into.value
  if (trial === NEW) {
    const made = await save(() =>
      ask(
        client.POST('/api/projects/{project_id}/trials', {
          params: { path },
          body: { name: name.value || 'Trial', values: values.value },
        }),
      ),
    )
    if (!made) return
    trial = made.id ?? NEW
  } else
    for (const body of values.value) {
      const params = { path: { ...path, trial } }
      if (
        !(await save(() =>
          ask(client.POST('/api/projects/{project_id}/trials/{trial}/values', { params, body })),
        ))
      )
        return
    }
  forget()
  name.value = ''
  await router.push({ path: `/projects/${projectId.value}/bill/trials`, query: { trial: String(trial) } })
}
</script>

<template>
  <div class="try">
    <NButton text type="primary" :aria-expanded="open" @click="open ? forget() : (open = true)"
      >Try another value {{ open ? '▾' : '▸' }}</NButton
    >
    <div v-if="open" class="inside">
      <p v-if="fields && !fields.length" class="quiet">Nothing behind it is typed here.</p>
      <template v-for="group in groups" :key="group[0].ref">
        <p class="quiet called">{{ group[0].called }}</p>
        <label v-for="(field, n) in group" :key="key(field)" class="field">
          <span>{{ field.name }}</span>
          <EntryField
            number
            :asked="n === 0 && group === groups[0]"
            :value="put[key(field)]?.value ?? field.value"
            :label="`Try for ${field.name} of ${field.called}`"
            @change="tryIt(field, $event)"
          />
          <span class="quiet unit">{{ field.unit }}</span>
        </label>
      </template>
      <div v-if="effect" class="effect" role="status">
        <p>
          Bill <span class="num">{{ money(effect.bill_before) }}</span> →
          <b class="num">{{ money(effect.bill_after) }}</b> {{ project?.currency }},
          <b class="num">{{ signed(by) }}</b>
        </p>
        <p v-for="says in effect.says" :key="says" class="bad">{{ says }}</p>
        <p v-if="effect.waits" class="quiet">
          {{ effect.waits }} figure{{ effect.waits > 1 ? 's' : '' }} that take long are not in it.
        </p>
        <p v-if="!effect.items_moved && !effect.says.length" class="quiet">No item moves.</p>
        <table v-if="effect.items.length">
          <tbody>
            <tr v-for="item in effect.items.slice(0, MOST_ITEMS)" :key="item.id">
              <td>{{ item.ref }} {{ item.description }}</td>
              <td class="num">{{ signed(Number(item.after) - Number(item.before)) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="effect.items_moved > MOST_ITEMS" class="quiet">
          and {{ effect.items_moved - MOST_ITEMS }} more items
        </p>
        <p class="quiet">Nothing is written yet.</p>
        <div v-if="!readonly" class="does">
          <NButton size="small" type="primary" :disabled="!!effect.says.length" @click="write"
            >Write it</NButton
          >
          <NButton size="small" @click="forget">Forget it</NButton>
        </div>
        <form v-if="!readonly" class="into" @submit.prevent="keepForTrial">
          <ChoiceField :value="into" :options="choices" label="Into which trial" @choose="into = $event" />
          <NInput
            v-if="into === NEW"
            v-model:value="name"
            size="small"
            placeholder="its name"
            :input-props="{ 'aria-label': 'Name of the trial' }"
          />
          <NButton size="small" attr-type="submit" :disabled="!!effect.says.length">Put it there</NButton>
        </form>
      </div>
    </div>
  </div>
</template>

<style scoped>
.try {
  margin: 0 0 12px;
}
.inside {
  margin-top: 6px;
  padding: 8px 10px;
  border: 1px solid var(--rule);
  background: var(--ground);
}
.called {
  margin: 4px 0 2px;
}
.field {
  display: grid;
  grid-template-columns: 1fr 104px 40px;
  gap: 8px;
  align-items: center;
  min-height: 30px;
}
.effect {
  margin-top: 8px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
.effect p {
  margin: 0 0 6px;
}
table {
  width: 100%;
  margin-bottom: 6px;
  border-collapse: collapse;
}
td {
  padding: 2px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
td.num {
  padding-left: 8px;
  text-align: right;
  white-space: nowrap;
}
.does,
.into {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.into {
  display: grid;
  grid-template-columns: 1fr auto;
}
.into > :first-child {
  grid-column: 1 / -1;
}
</style>
