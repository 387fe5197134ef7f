<script setup lang="ts">
// An allowance: what its rule of thumb asks, typed or drawn from the project, and what it comes to.
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { quantity, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import DrawInput from './DrawInput.vue'

const props = defineProps<{ element: Schemas['ElementView'] }>()
const { save, projectId } = useSave()
const { data: project } = useProject()
const walk = useWalkStore()
const router = useRouter()
const readonly = computed(() => project.value?.role === 'viewer')
type Input = Schemas['InputView']
const isByHand = (input: Input) => input.key.startsWith('hand_')
const asked = computed(() => props.element.inputs.filter((each) => !isByHand(each)))
const groups = computed(() =>
  [...new Set(asked.value.map((each) => each.group))].map((title) => ({
    title,
    inputs: asked.value.filter((each) => each.group === title),
  })),
)
const byHand = (output: string) => props.element.inputs.find((each) => each.key === `hand_${output}`)
const drawing = ref<Input | null>(null)
const drawWords = (input: Input) => (input.drawn.length ? 'change what it draws' : 'draw…')
const summed = (input: Input) => input.drawn.reduce((sum, each) => sum + each.value, 0)

const change = (body: { mark?: string; inputs?: Record<string, string> }) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, ...body },
      }),
    ),
  )
async function remove() {
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/rates`)
}
const go = (drawn: Schemas['DrawnView']) =>
  walk.go(projectId.value, {
    ref: drawn.ref,
    name: drawn.name,
    value: '',
    unit: '',
    stage: drawn.item ? 'bill' : 'measure',
    target: drawn.item ?? drawn.element,
  })
const look = (output: string) => walk.look(`quantity:${props.element.id}:${output}`)
</script>

<template>
  <div class="desk-head">
    <EntryField
      class="name"
      :value="element.mark"
      :disabled="readonly"
      label="Name of the allowance"
      @change="change({ mark: $event })"
    />
    <span class="quiet about" :title="element.about">{{ element.made_by }}</span>
    <span class="push"></span>
    <RouterLink :to="`/projects/${projectId}/make-ups/${element.makeup}`">Its rule</RouterLink>
    <NButton v-if="!readonly" text @click="remove">Delete</NButton>
  </div>
  <p v-for="said in element.says" :key="said" class="found">{{ said }}</p>
  <div class="scroll body">
    <p class="quiet">{{ element.about }}</p>
    <section class="results" aria-label="What it comes to">
      <div v-for="q in element.quantities" :key="q.output" class="result">
        <NButton text class="what" @click="look(q.output)">{{ q.label }}</NButton>
        <b class="num big" data-test="comes-to">{{ quantity(q.net, q.unit) }}</b>
        <span class="quiet">{{ q.unit }}</span>
        <label v-if="byHand(q.output)" class="hand quiet"
          >by hand
          <EntryField
            :value="byHand(q.output)!.entry"
            :disabled="readonly"
            :label="byHand(q.output)!.label"
            placeholder="48: whole shifts only"
            :title="byHand(q.output)!.hint"
            @change="change({ inputs: { [`hand_${q.output}`]: $event } })"
          />
        </label>
      </div>
    </section>
    <section v-for="group in groups" :key="group.title" class="asked" :aria-label="group.title || 'It asks'">
      <h3>{{ group.title || 'It asks' }}</h3>
      <div v-for="input in group.inputs" :key="input.key" class="input" :title="input.hint">
        <span class="label">{{ input.label }}</span>
        <ChoiceField
          v-if="input.choices.length"
          class="entry"
          :value="input.entry"
          :options="asOptions(input.choices)"
          :label="input.label"
          :disabled="readonly"
          @choose="change({ inputs: { [input.key]: $event } })"
        />
        <b v-else-if="input.drawn.length" class="entry num drawn">{{ shown(summed(input), 2, 4) }}</b>
        <EntryField
          v-else
          class="entry"
          :class="{ own: input.entered }"
          :value="input.entry"
          :number="!input.words"
          :disabled="readonly"
          :label="input.label"
          @change="change({ inputs: { [input.key]: $event } })"
        />
        <span class="quiet unit">{{ input.unit }}</span>
        <NButton
          v-if="!readonly && !input.words && !input.choices.length"
          text
          class="draw"
          :aria-label="`${drawWords(input)}: ${input.label.toLowerCase()}`"
          @click="drawing = input"
          >{{ drawWords(input) }}</NButton
        >
        <ul v-if="input.drawn.length" class="pieces" :aria-label="`What ${input.label.toLowerCase()} draws`">
          <li v-for="each in input.drawn" :key="`${each.ref} ${each.resource}`">
            <NButton text type="primary" class="piece" @click="go(each)">{{ each.name }}</NButton>
            <span class="num">{{ shown(each.value, 2, 4) }}</span>
            <span class="quiet">{{ each.unit }}</span>
          </li>
        </ul>
      </div>
    </section>
  </div>
  <DrawInput v-if="drawing" :element="element" :input="drawing" @close="drawing = null" />
</template>

<style scoped>
.name {
  flex: 0 1 200px;
  font-weight: 600;
}
.about {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.push {
  margin-left: auto;
}
.found {
  margin: 0;
  padding: 4px 12px;
  color: var(--accent-ink);
}
.body {
  flex: 1;
  min-height: 0;
  padding: 4px 16px 20px;
}
.results {
  border-block: 1px solid var(--ink);
}
.result {
  display: grid;
  grid-template-columns: minmax(150px, 240px) 90px 34px minmax(0, 1fr);
  align-items: baseline;
  gap: 10px;
  padding: 7px 0;
}
.what {
  justify-content: start;
}
.big {
  font-size: 17px;
  text-align: right;
}
.hand {
  display: grid;
  grid-template-columns: auto minmax(120px, 340px);
  align-items: center;
  gap: 8px;
}
h3 {
  margin: 14px 0 4px;
  color: var(--quiet);
}
.input {
  display: grid;
  grid-template-columns: minmax(150px, 240px) 90px 34px minmax(0, 1fr);
  align-items: center;
  gap: 10px;
  min-height: 32px;
  border-bottom: 1px solid var(--rule);
}
.drawn {
  padding-right: 10px;
  text-align: right;
}
.own :deep(input) {
  font-weight: 600;
}
.draw {
  justify-content: start;
}
.pieces {
  grid-column: 1 / -1;
  margin: 0 0 4px;
  padding: 0 0 0 16px;
  list-style: none;
}
.pieces li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 90px 34px;
  gap: 10px;
}
.pieces .num {
  text-align: right;
}
.piece {
  justify-content: start;
  min-width: 0;
}
.piece :deep(.n-button__content) {
  white-space: normal;
  text-align: left;
}
</style>
