<script setup lang="ts">
// What the item in focus is priced by: a build-up, a rate that is typed with its reason, or one composed of several.
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useParts } from '../../api/bill'
import { ask, client, type Schemas } from '../../api/client'
import { useBuildUps, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { rateShown, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import { rateLabel } from './rates'

const props = defineProps<{ item: Schemas['ItemView']; readonly: boolean; currency: string }>()
const { save, projectId } = useSave()
const walk = useWalkStore()
const { data: rates } = useBuildUps()
const { data: parts } = useParts(() => props.item.id)
const typing = ref(false)
const composing = ref(false)
const rate = ref('')
const reason = ref('')
watch(
  () => props.item.id,
  () => {
    typing.value = composing.value = false
  },
)
function type() {
  rate.value = props.item.typed_rate
  reason.value = props.item.rate_reason
  typing.value = true
}
const change = (body: Record<string, unknown>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/items/{item}', {
        params: { path: { project_id: projectId.value, item: props.item.id } },
        body: { version: version ?? props.item.version, ...body },
      }),
    ),
  )
async function keep() {
  if (!(await change({ typed_rate: rate.value, rate_reason: reason.value }))) return
  typing.value = false
  walk.look(`item-rate:${props.item.id}`)
}
async function add(build_up: number) {
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/items/{item}/parts', {
        params: { path: { project_id: projectId.value, item: props.item.id } },
        body: { build_up, factor: '1', size: '' },
      }),
    ),
  )
  if (done) walk.look(`item-rate:${props.item.id}`)
}
const changePart = (part: Schemas['RatePartView'], body: { factor?: string; size?: string }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/parts/{rate_part}', {
        params: { path: { project_id: projectId.value, rate_part: part.id } },
        body: { version: version ?? part.version, ...body },
      }),
    ),
  )
const drop = (part: Schemas['RatePartView']) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/parts/{rate_part}', {
        params: { path: { project_id: projectId.value, rate_part: part.id } },
      }),
    ),
  )
const choices = computed(() =>
  (rates.value ?? []).map((r) => ({ value: r.id, label: `${rateLabel(r)} /${r.unit}` })),
)
const each = computed(() => `${props.currency}/${props.item.unit}`)
</script>

<template>
  <div class="priced">
    <form v-if="typing" class="typed" @submit.prevent="keep" @keydown.esc.stop="typing = false">
      <b>{{ item.ref }} at</b>
      <NInput
        v-model:value="rate"
        class="rate"
        size="small"
        :input-props="{ autofocus: true, 'aria-label': 'Typed rate' }"
      />
      <span class="quiet">{{ each }}, because</span>
      <NInput
        v-model:value="reason"
        class="words"
        size="small"
        placeholder="agreed with the client, 12 Nov"
        :input-props="{ 'aria-label': 'Why the rate is typed' }"
      />
      <NButton size="small" type="primary" attr-type="submit" :disabled="!rate.trim() || !reason.trim()"
        >Keep it</NButton
      >
      <NButton size="small" @click="typing = false">Leave</NButton>
    </form>
    <template v-else>
      <b>{{ item.ref }} is priced by</b>
      <span v-if="item.typed_rate"
        >a typed rate, <b class="num">{{ rateShown(item.rate) }}</b> {{ each }}: {{ item.rate_reason }}</span
      >
      <span v-else-if="!item.parts"
        >{{ item.build_up_name || 'nothing yet'
        }}<template v-if="item.build_up && item.sized_by">
          at {{ item.size || 'no' }} {{ item.size ? item.sized_in : item.sized_by }}</template
        ></span
      >
      <span v-for="part in item.parts ? parts : []" :key="part.id" class="part">
        <EntryField
          class="factor"
          number
          :value="part.factor"
          :disabled="readonly"
          :label="`${part.unit} of ${part.name} in one ${item.unit}`"
          @change="changePart(part, { factor: $event })"
        />
        <span
          ><span class="quiet">{{ part.unit }} × </span>{{ part.name }}</span
        >
        <EntryField
          v-if="part.sized_by"
          class="factor"
          number
          :value="part.size"
          :disabled="readonly"
          :placeholder="part.sized_in"
          :label="`${part.sized_by} of ${part.name}`"
          @change="changePart(part, { size: $event })"
        />
        <span class="num">= {{ shown(part.comes_to, 2, 4) }}</span>
        <span v-if="part.says" class="bad">{{ part.says }}</span>
        <NButton
          v-if="!readonly"
          text
          :aria-label="`Take ${part.name} out`"
          title="Take it out"
          @click="drop(part)"
          >×</NButton
        >
      </span>
      <span v-if="item.parts" class="num"
        >together <b>{{ rateShown(item.rate) }}</b> {{ each }}</span
      >
      <template v-if="!readonly">
        <ChoiceField
          v-if="item.parts || composing"
          class="pick"
          :value="null"
          :options="choices"
          label="Another rate in it"
          placeholder="+ a rate…"
          @choose="add"
        />
        <NButton v-else text type="primary" @click="composing = true">compose of several</NButton>
        <NButton text type="primary" @click="type">type a rate</NButton>
        <NButton
          v-if="item.typed_rate"
          text
          type="primary"
          @click="change({ typed_rate: '', rate_reason: '' })"
          >take it off</NButton
        >
      </template>
    </template>
  </div>
</template>

<style scoped>
.priced,
.typed {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
}
.priced {
  min-height: 36px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
.typed {
  flex: 1;
}
.part {
  display: flex;
  align-items: center;
  gap: 6px;
}
.factor {
  width: 68px;
}
.rate {
  width: 110px;
}
.words {
  flex: 1;
  min-width: 180px;
}
.pick {
  width: 220px;
}
</style>
