<script setup lang="ts">
// How a price is worked out: what is asked, line by line; an input that is another resource's price follows it.
import { computed } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { shown } from '../../desk/numbers'

const props = defineProps<{
  resource: Schemas['ResourceView']
  resources: Schemas['ResourceView'][]
  readonly: boolean
}>()
const { save, projectId } = useSave()
const { data: project } = useProject()
type Input = Schemas['WorkedInput']
const WAYS: { value: Schemas['WorkedView']['way']; label: string }[] = [
  { value: 'labour', label: 'all-in labour' },
  { value: 'hire', label: 'plant from hire' },
  { value: 'owned', label: 'plant that is owned' },
]
const change = (body: Omit<Schemas['WorkedChange'], 'version'>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/resources/{resource}/worked', {
        params: { path: { project_id: projectId.value, resource: props.resource.id } },
        body: { version: version ?? props.resource.version, ...body },
      }),
    ),
  )
const TYPED = 0
/** Resources whose price an input may be: of its unit. */
const sources = (input: Input) => [
  { value: TYPED, label: 'typed here' },
  ...props.resources
    .filter((r) => r.id !== props.resource.id && `money/${r.unit}` === input.unit)
    .map((r) => ({ value: r.id, label: r.name })),
]
const type = (input: Input, text: string) => change({ inputs: { [input.key]: text }, draws: {} })
const draw = (input: Input, source: number) => change({ inputs: {}, draws: { [input.key]: source || null } })
const unit = (input: Input) => input.unit.replace('money', project.value?.currency ?? '')
const worked = computed(() => props.resource.worked)
</script>

<template>
  <section v-if="worked" class="worked scroll asks" aria-label="How the price is worked out">
    <div class="row">
      <span>Worked out as</span>
      <ChoiceField
        class="way"
        :value="worked.way"
        :options="WAYS"
        label="Worked out as"
        :disabled="readonly"
        @choose="change({ way: $event, inputs: {}, draws: {} })"
      />
    </div>
    <div v-for="input in worked.inputs" :key="`${worked.way} ${input.key}`" class="row">
      <span>{{ input.label }}</span>
      <span v-if="input.source" class="num drawn">{{
        input.drawn ? shown(input.drawn, 2, 4) : 'no price'
      }}</span>
      <EntryField
        v-else
        class="number"
        number
        :value="input.value"
        :disabled="readonly"
        :label="input.label"
        :placeholder="input.needed ? 'needed' : '0'"
        @change="type(input, $event)"
      />
      <span class="quiet unit">{{ unit(input) }}</span>
      <ChoiceField
        v-if="input.draws"
        class="source"
        :value="input.source ?? TYPED"
        :options="sources(input)"
        :label="`${input.label} is taken from`"
        :disabled="readonly"
        @choose="draw(input, $event)"
      />
    </div>
  </section>
</template>

<style scoped>
.worked {
  flex: 0 1 auto;
  padding: 4px 12px 10px;
  border-bottom: 1px solid var(--rule);
}
.row {
  display: grid;
  grid-template-columns: minmax(150px, 260px) 120px 64px 190px;
  align-items: center;
  gap: 10px;
  min-height: 32px;
}
.way {
  grid-column: 2 / 4;
}
.drawn {
  padding-right: 10px;
  text-align: right;
}
</style>
