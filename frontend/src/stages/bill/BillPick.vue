<script setup lang="ts">
// Which bill is looked at, and what is done with bills as a whole.
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import JobButton from '../../desk/JobButton.vue'
import Menu from '../../desk/Menu.vue'
import { day } from '../../desk/numbers'

const WorkbookIn = defineAsyncComponent(() => import('./WorkbookIn.vue'))
const IssueBill = defineAsyncComponent(() => import('./IssueBill.vue'))
const MergeBills = defineAsyncComponent(() => import('./MergeBills.vue'))

const props = defineProps<{
  bill: Schemas['BillOutline']
  bills: Schemas['BillBrief'][]
  readonly: boolean
}>()
const router = useRouter()
const projectId = useProjectId()
const { save } = useSave()
const asked = ref<'' | 'receive' | 'issue' | 'merge'>('')
const home = computed(() => `/projects/${projectId.value}/bill`)
const query = computed(() => (props.bill.kind === 'own' ? {} : { bill: String(props.bill.id) }))
const go = (what: string, more: Record<string, string> = {}) =>
  router.push({ path: what ? `${home.value}/${what}` : home.value, query: { ...query.value, ...more } })
const WORDS: Record<string, string> = { received: 'received', issued: 'issued', own: '' }
const choices = computed(() =>
  props.bills.map((b) => ({
    value: b.id,
    label: [b.title, [WORDS[b.kind], day(b.dated)].filter(Boolean).join(' ')].filter(Boolean).join(', '),
  })),
)
const look = (id: number) => {
  const own = props.bills.find((b) => b.id === id)?.kind === 'own'
  return router.push({ path: home.value, query: own ? {} : { bill: String(id) } })
}
const others = computed(() => props.bills.filter((b) => b.id !== props.bill.id))
/** The bill that this one is held against first: our own, or of our own the one issued last. */
function compare() {
  const own = others.value.find((b) => b.kind === 'own')
  const before = own ? props.bill.id : (others.value.at(-1)?.id ?? 0)
  return go('compared', { before: String(before), after: String(own?.id ?? props.bill.id) })
}
const change = (body: { title?: string; period?: string }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/bills/{bill_id}', {
        params: { path: { project_id: projectId.value, bill_id: props.bill.id } },
        body: { version: version ?? props.bill.version, ...body },
      }),
    ),
  )
async function remove() {
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/bills/{bill_id}', {
        params: { path: { project_id: projectId.value, bill_id: props.bill.id } },
      }),
    ),
  )
  if (done) await router.push(home.value)
}
function made(id: number | null) {
  asked.value = ''
  if (id) void look(id)
}
</script>

<template>
  <div class="bills">
    <ChoiceField
      v-if="choices.length > 1"
      class="which"
      :value="bill.id"
      :options="choices"
      label="Which bill"
      @choose="look"
    />
    <div class="does">
      <Menu label="Look at it">
        <template #default="{ close }">
          <NButton text @click="(close(), go(''))">Its items</NButton>
          <NButton text @click="(close(), go('report'))">By location, resource, stage…</NButton>
          <NButton text @click="(close(), go('makes'))">What makes most of it</NButton>
          <NButton v-if="bill.kind === 'own'" text @click="(close(), go('trials'))"
            >Trials: what other values would do</NButton
          >
          <NButton v-if="others.length" text @click="(close(), compare())">Beside another bill</NButton>
          <NButton v-if="bill.kind === 'received'" text @click="(close(), go('matches'))"
            >Items to be matched</NButton
          >
        </template>
      </Menu>
      <Menu v-if="!readonly" label="Bills" right>
        <template #default="{ close }">
          <NButton text @click="(close(), (asked = 'receive'))">Receive a client’s bill…</NButton>
          <NButton text @click="(close(), (asked = 'issue'))">Issue our own bill…</NButton>
          <NButton v-if="others.length" text @click="(close(), (asked = 'merge'))"
            >Bring one bill into another…</NButton
          >
          <JobButton plain kind="bill_exchange" :asks="{ bill: bill.id }">As GAEB DA XML</JobButton>
          <NButton v-if="bill.kind !== 'own'" text @click="(close(), remove())">Delete this bill</NButton>
        </template>
      </Menu>
    </div>
    <p v-if="bill.file" class="file">
      <JobButton kind="bill_given_back" :asks="{ bill: bill.id }">Give it back priced</JobButton>
      <span class="quiet">{{ bill.file }}, with nothing but rates and amounts changed</span>
    </p>
    <label class="period">
      <span class="quiet">The work lasts</span>
      <EntryField
        :value="bill.period"
        :disabled="readonly || bill.kind === 'issued'"
        placeholder="26 weeks"
        label="How long the work lasts"
        @change="change({ period: $event })"
      />
    </label>
    <WorkbookIn v-if="asked === 'receive'" @done="made" />
    <IssueBill v-else-if="asked === 'issue'" @done="made" />
    <MergeBills v-else-if="asked === 'merge'" :from="bill.id" :bills="bills" @done="made" />
  </div>
</template>

<style scoped>
.bills {
  padding: 8px 26px 4px 12px;
  border-bottom: 1px solid var(--rule);
}
.does {
  display: flex;
  justify-content: space-between;
  padding: 4px 0;
}
.file {
  display: grid;
  gap: 2px;
  margin: 2px 0 6px;
}
.file > span {
  overflow-wrap: anywhere;
}
.period {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  align-items: center;
  gap: 8px;
  padding-bottom: 4px;
}
</style>
