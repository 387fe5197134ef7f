<script setup lang="ts">
// One bill brought into another: where its sections go, and what is taken where both have an item otherwise.
import { NButton, NRadioButton, NRadioGroup } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useBillOf, useMergeSeen } from '../../api/bill'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import { quantity, rateShown } from '../../desk/numbers'

const props = defineProps<{ from: number; bills: Schemas['BillBrief'][] }>()
const emit = defineEmits<{ done: [bill: number | null] }>()
const projectId = useProjectId()
const { save } = useSave()
const own = computed(() => props.bills.find((b) => b.kind === 'own'))
const given = props.bills.find((b) => b.id === props.from)
const from = ref(given?.kind === 'own' ? (props.bills.find((b) => b.kind !== 'own')?.id ?? 0) : props.from)
const into = ref(props.bills.find((b) => b.kind === 'own')?.id ?? 0)
const sections = ref<Record<string, number | null>>({})
const choices = ref<Record<string, Schemas['ClashView']['choices'][number]>>({})
watch([from, into], () => {
  sections.value = {}
  choices.value = {}
})
const { data: seen, error } = useMergeSeen(() => ({
  into: into.value,
  from: from.value,
  sections: sections.value,
}))
const { data: target } = useBillOf(() => (into.value === own.value?.id ? null : into.value))
const named = (bills: Schemas['BillBrief'][]) => bills.map((b) => ({ value: b.id, label: b.title }))
const goals = computed(() => [
  { value: 0, label: 'a new section' },
  ...(target.value?.sections ?? []).map((s) => ({ value: s.id, label: `${s.ref} ${s.title}` })),
])
const put = (section: number, goal: number) => {
  sections.value = { ...sections.value, [section]: goal || null }
}
const open = computed(() => seen.value?.clashes.filter((c) => !choices.value[c.theirs!.id]) ?? [])
const all = (choice: Schemas['ClashView']['choices'][number]) => {
  for (const clash of seen.value?.clashes ?? [])
    choices.value[clash.theirs!.id] = clash.choices.includes(choice) ? choice : 'ours'
}
const WORDS = { ours: 'ours', theirs: 'theirs', both: 'both', sum: 'the sum' }
const told = (item: Schemas['StoodView'] | null | undefined) =>
  item
    ? `${quantity(item.quantity, item.unit)} ${item.unit}${item.rate !== null ? ` at ${rateShown(item.rate)}` : ''}`
    : ''
async function merge() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/bills/{bill_id}/merge', {
        params: { path: { project_id: projectId.value, bill_id: from.value } },
        body: { into: into.value, sections: sections.value, choices: choices.value },
      }),
    ),
  )
  if (saved) emit('done', into.value)
}
</script>

<template>
  <Dialog title="Bring one bill into another" widest @close="emit('done', null)">
    <div class="two">
      <span class="quiet">The items of</span>
      <ChoiceField
        :value="from"
        :options="named(bills.filter((b) => b.id !== into))"
        label="The bill that is brought in"
        @choose="from = $event"
      />
      <span class="quiet">go into</span>
      <ChoiceField
        :value="into"
        :options="named(bills.filter((b) => b.id !== from && b.kind !== 'issued'))"
        label="The bill that is added to"
        @choose="into = $event"
      />
    </div>
    <p v-if="error" class="bad" role="alert">{{ error.message }}</p>
    <template v-else-if="seen">
      <p>
        <b>{{ seen.fresh }}</b> item{{ seen.fresh === 1 ? ' is' : 's are' }} new, <b>{{ seen.same }}</b>
        {{ seen.same === 1 ? 'says' : 'say' }} the same, <b>{{ seen.clashes.length }}</b>
        {{ seen.clashes.length === 1 ? 'is' : 'are' }} there otherwise.
      </p>
      <table class="sections">
        <tbody>
          <tr v-for="section in seen.sections" :key="section.id">
            <td :style="{ paddingLeft: `${section.depth * 14}px` }">{{ section.ref }} {{ section.title }}</td>
            <td class="quiet">into</td>
            <td class="goal">
              <ChoiceField
                :value="section.into ?? 0"
                :options="goals"
                :label="`Where ${section.title} goes`"
                @choose="put(section.id, $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="seen.clashes.length">
        <h3>
          In both, otherwise
          <span class="quiet"
            >for all of them: <NButton text type="primary" @click="all('ours')">ours</NButton>,
            <NButton text type="primary" @click="all('theirs')">theirs</NButton>,
            <NButton text type="primary" @click="all('sum')">the sum</NButton></span
          >
        </h3>
        <table class="clashes">
          <tbody>
            <tr v-for="clash in seen.clashes" :key="clash.theirs!.id">
              <td>
                {{ clash.ours?.description }}
                <span v-if="clash.differs.includes('words')" class="quiet"
                  >/ {{ clash.theirs?.description }}</span
                >
              </td>
              <td class="num">ours {{ told(clash.ours) }}</td>
              <td class="num">theirs {{ told(clash.theirs) }}</td>
              <td>
                <NRadioGroup
                  v-model:value="choices[clash.theirs!.id]"
                  size="small"
                  :name="`choice-${clash.theirs!.id}`"
                >
                  <NRadioButton v-for="choice in clash.choices" :key="choice" :value="choice">{{
                    WORDS[choice]
                  }}</NRadioButton>
                </NRadioGroup>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
      <NButton type="primary" :disabled="open.length > 0" @click="merge">{{
        open.length ? `${open.length} still to choose` : 'Bring it in'
      }}</NButton>
    </template>
  </Dialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto minmax(0, 1fr);
  align-items: center;
  gap: 10px;
}
table {
  width: 100%;
  margin-bottom: 10px;
  border-collapse: collapse;
}
td {
  padding: 3px 8px 3px 0;
  border-top: 1px solid var(--rule);
}
.goal {
  width: 320px;
}
h3 {
  display: flex;
  justify-content: space-between;
  padding: 6px 0;
}
h3 span {
  font-weight: 400;
}
</style>
