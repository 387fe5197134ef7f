<script setup lang="ts">
// An enquiry: what is asked, of whom, what was answered and what is still waited for.
import { NButton, NSelect } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useEnquiry, useSuppliers } from '../../api/prices'
import { useProjectId, useResources } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import DateField from '../../desk/DateField.vue'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { day, money, shown, typeable } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'

const props = defineProps<{ enquiry: number }>()
const router = useRouter()
const walk = useWalkStore()
const { data: enquiry } = useEnquiry(() => props.enquiry)
const { data: suppliers } = useSuppliers()
const { data: resources } = useResources()
const sent = computed(() => !!enquiry.value?.asked_on)

type Asked = Schemas['EnquiryLineView']
const projectId = useProjectId()
const at = <P extends object>(path: P) => ({ params: { path: { project_id: projectId.value, ...path } } })
const stage = useLedgerStage<Asked>(() => enquiry.value?.lines ?? [], {
  write: (line, version, fields) =>
    ask(
      client.PATCH('/api/projects/{project_id}/enquiry-lines/{enquiry_line}', {
        ...at({ enquiry_line: line.id }),
        body: { version, ...fields } as Schemas['AskedQuantity'],
      }),
    ),
  make: () => 'Choose what is priced in “ask for more”.',
  drop: (line) =>
    ask(
      client.DELETE('/api/projects/{project_id}/enquiry-lines/{enquiry_line}', at({ enquiry_line: line.id })),
    ),
  ref: (line) => `resource:${line.resource}`,
  fields: (key, text) => ({ [key]: text.trim() }),
})
const { project, save } = stage
const readonly = computed(() => stage.readonly.value || sent.value)
const asking = computed<Column<Asked>[]>(() => [
  { key: 'name', label: 'Asked for', show: (l) => l.name, wrap: true },
  {
    key: 'needed',
    label: 'The bill needs',
    number: true,
    width: '110px',
    show: (l) => shown(l.needed, 0, 2),
    unit: (l) => l.unit,
  },
  {
    key: 'quantity',
    label: 'Asked',
    number: true,
    width: '110px',
    text: (l) => typeable(l.quantity),
    show: (l) => shown(l.quantity, 0, 2),
    unit: (l) => l.unit,
  },
])
const asked = computed<Row<Asked>[]>(() =>
  (enquiry.value?.lines ?? []).map((line) => ({ id: line.id, kind: 'line', data: line })),
)
const unasked = computed(() => {
  const there = new Set(enquiry.value?.lines.map((line) => line.resource))
  return (resources.value ?? []).filter((r) => !there.has(r.id)).map((r) => ({ value: r.id, label: r.name }))
})
const of = computed(() => at({ enquiry: props.enquiry }))
const change = (fields: Omit<Schemas['EnquiryChange'], 'version'>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/enquiries/{enquiry}', {
        ...of.value,
        body: { version: version ?? enquiry.value!.version, ...fields },
      }),
    ),
  )
const askFor = (resource: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/enquiries/{enquiry}/lines', {
        ...of.value,
        body: { resource },
      }),
    ),
  )
const askWhom = (chosen: number[]) =>
  save(() =>
    ask(
      client.PUT('/api/projects/{project_id}/enquiries/{enquiry}/suppliers', {
        ...of.value,
        body: { suppliers: chosen },
      }),
    ),
  )
const send = () =>
  save(() => ask(client.POST('/api/projects/{project_id}/enquiries/{enquiry}/send', of.value)))
const fetching = ref(false)
const came = ref('')
async function fetchAnswers() {
  fetching.value = true
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/enquiries/{enquiry}/answers', of.value)),
  )
  fetching.value = false
  // What it was called, without of which enquiry.
  if (saved) came.value = saved.label.replace(/^[^:]*: /, 'just now: ')
}
const takeAll = () =>
  save(() => ask(client.POST('/api/projects/{project_id}/enquiries/{enquiry}/take', of.value)))
async function remove() {
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/enquiries/{enquiry}', of.value))))
    await router.push(`/projects/${projectId.value}/prices`)
}

type Answer = Schemas['AnswerView']
const looked = ref<number | null>(null)
const answer = computed(() => enquiry.value?.answers.find((a) => a.id === looked.value) ?? null)
const left = computed(() => enquiry.value?.answers.filter((a) => !a.quote && !a.aside) ?? [])
const state = (a: Answer) => (a.quote ? 'taken in' : a.aside ? 'set aside' : '')
const columns = computed<Column<Answer>[]>(() => [
  { key: 'supplier', label: 'Answered by', show: (a) => a.supplier, wrap: true },
  {
    key: 'price',
    label: `Price ${project.value?.currency ?? ''}`,
    number: true,
    width: '84px',
    show: (a) => money(a.price),
    ref: (a) => `answer:${a.id}`,
  },
  { key: 'unit', label: 'for one', width: '92px', show: (a) => a.unit, wrap: true },
  {
    key: 'per_unit',
    label: 'per unit',
    number: true,
    width: '92px',
    show: (a) => (a.per_unit ? shown(a.per_unit, 2, 4) : ''),
    unit: (a) => `/${a.used_in}`,
  },
  {
    key: 'least',
    label: 'at least',
    number: true,
    width: '58px',
    show: (a) => (a.least ? shown(a.least, 0, 2) : ''),
  },
  { key: 'valid_to', label: 'Valid to', width: '80px', show: (a) => day(a.valid_to, true) || 'no end' },
  {
    key: 'says',
    label: 'What is known',
    width: '116px',
    show: (a) => [state(a), a.says].filter(Boolean).join('; '),
    wrap: true,
  },
])
const answers = computed<Row<Answer>[]>(() =>
  (enquiry.value?.lines ?? []).flatMap((line): Row<Answer>[] => {
    const found = enquiry.value!.answers.filter((a) => a.line === line.id)
    if (!found.length) return []
    return [
      { id: `head:${line.id}`, kind: 'head', label: line.name, cells: { per_unit: `${shown(line.quantity, 0, 2)} ${line.unit}` } },
      ...found.map((a): Row<Answer> => ({ id: a.id, kind: 'line', data: a, struck: a.aside, warn: a.says || undefined })),
    ]
  }),
) // prettier-ignore
function look(row: Row<Answer>) {
  looked.value = row.data?.id ?? null
  if (row.data) walk.look(`answer:${row.data.id}`)
}
const take = (a: Answer) =>
  save(() => ask(client.POST('/api/projects/{project_id}/answers/{answer}/take', at({ answer: a.id }))))
const setAside = (a: Answer) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/answers/{answer}/aside', {
        ...at({ answer: a.id }),
        body: { aside: !a.aside },
      }),
    ),
  )
const options = computed(() =>
  (suppliers.value ?? []).map((s) => ({ value: s.id, label: s.email ? s.name : `${s.name}, no address` })),
)
watch(
  () => enquiry.value?.id,
  (id) => {
    looked.value = null
    came.value = ''
    const first = enquiry.value?.answers[0]?.id
    if (id) walk.offer(first ? `answer:${first}` : `resource:${enquiry.value!.lines[0]?.resource}`)
  },
  { immediate: true },
)
</script>

<template>
  <template v-if="enquiry && suppliers">
    <div class="desk-head">
      <b class="number">Enquiry {{ enquiry.number }}</b>
      <EntryField
        class="title"
        :value="enquiry.title"
        :disabled="readonly"
        label="What the enquiry is for"
        placeholder="what it is for"
        @change="change({ title: $event })"
      />
      <label class="quiet"
        >answers by
        <DateField
          v-if="!readonly"
          class="day"
          placeholder="any day"
          :value="enquiry.answer_by ?? ''"
          @change="change({ answer_by: $event })"
        />
        <b v-else>{{ day(enquiry.answer_by) || 'any day' }}</b>
      </label>
      <span class="push"></span>
      <span v-if="sent" class="quiet">sent {{ day(enquiry.asked_on) }}</span>
      <NButton v-if="!stage.readonly.value" text @click="remove">Delete</NButton>
      <NButton v-if="!stage.readonly.value && !sent" size="small" type="primary" @click="send">Send</NButton>
    </div>
    <div class="whom">
      <span class="quiet">{{ sent ? 'Asked' : 'Goes to' }}</span>
      <NSelect
        v-if="!readonly"
        multiple
        filterable
        size="small"
        :value="enquiry.suppliers.map((s) => s.supplier)"
        :options="options"
        placeholder="choose suppliers"
        :input-props="{ 'aria-label': 'Suppliers asked' }"
        @update:value="askWhom"
      />
      <ul v-else>
        <li v-for="s in enquiry.suppliers" :key="s.supplier">
          <b>{{ s.name }}</b>
          <span v-if="s.waited.length" class="quiet" :class="{ late: enquiry.late }">
            still owes {{ s.waited.join(', ') }}</span
          >
          <span v-else class="quiet"> has answered</span>
        </li>
      </ul>
    </div>
    <template v-if="sent">
      <p class="bar">
        <b>{{ enquiry.answers.length }}</b> answer{{ enquiry.answers.length === 1 ? '' : 's' }},
        <b>{{ enquiry.waited }}</b> waited for
        <span v-if="came" class="quiet" role="status">{{ came }}</span>
        <span class="push"></span>
        <NButton v-if="!stage.readonly.value" size="small" :loading="fetching" @click="fetchAnswers"
          >Look for answers</NButton
        >
        <NButton v-if="!stage.readonly.value && left.length" size="small" type="primary" @click="takeAll"
          >Take all {{ left.length }} in</NButton
        >
      </p>
      <LedgerTable
        v-if="answers.length"
        :label="`Answers to enquiry ${enquiry.number}`"
        :columns="columns"
        :rows="answers"
        readonly
        @look="look"
      />
      <p v-else class="quiet nothing">
        Nothing was answered yet. Answers come from the price desk; what comes on paper is typed as a quote of
        its resource.
      </p>
      <p v-if="answer" class="bar foot">
        <span class="quiet"
          >{{ answer.supplier }}, {{ answer.source }}, quoted {{ day(answer.quoted_on) }}, came
          {{ day(answer.came_on) }}</span
        >
        <span class="push"></span>
        <template v-if="!stage.readonly.value && !answer.quote">
          <NButton size="small" @click="setAside(answer)">{{
            answer.aside ? 'Heed it again' : 'Set aside'
          }}</NButton>
          <NButton size="small" type="primary" @click="take(answer)">Take it in</NButton>
        </template>
        <NButton
          v-else-if="answer.quote"
          text
          @click="router.push(`/projects/${projectId}/prices/${answer.resource}?at=quote:${answer.quote}`)"
          >Its quote of {{ answer.name }}</NButton
        >
      </p>
    </template>
    <template v-else>
      <LedgerTable
        :label="`Asked for in enquiry ${enquiry.number}`"
        :columns="asking"
        :rows="asked"
        v-bind="stage.bound.value"
      />
      <p v-if="!readonly" class="bar foot">
        <span class="quiet">ask for more</span>
        <ChoiceField
          class="more"
          :value="null"
          :options="unasked"
          label="Ask for more"
          placeholder="a resource"
          @choose="askFor"
        />
        <EntryField
          class="words"
          :value="enquiry.words"
          label="Words to the suppliers"
          placeholder="words to the suppliers, such as where it is delivered"
          @change="change({ words: $event })"
        />
      </p>
    </template>
  </template>
</template>

<style scoped>
.number {
  flex: none;
}
.title {
  flex: 0 1 260px;
  min-width: 120px;
}
.day {
  width: 130px;
}
.whom,
.bar {
  display: flex;
  flex: none;
  align-items: center;
  gap: 12px;
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.whom > span {
  flex: none;
}
.whom ul {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.push {
  margin-left: auto;
}
.foot {
  border-top: 1px solid var(--ink);
  border-bottom: 0;
}
.more {
  width: 220px;
}
.words {
  flex: 1;
}
.late {
  color: var(--accent-ink);
}
.nothing {
  padding: 8px 14px;
}
</style>
