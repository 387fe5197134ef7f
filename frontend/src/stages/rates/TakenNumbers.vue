<script setup lang="ts">
// Below a rate: where the quantity of the line in focus, the output and its hours come from.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import TakenFrom from './TakenFrom.vue'

const props = defineProps<{
  rate: Schemas['BuildUpView']
  line: Schemas['BuildUpLineView'] | null
  readonly: boolean
}>()
const { save, projectId } = useSave()
const open = ref(false)
const forLine = (element: number | null, output: string) =>
  save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/build-up-lines/{line}/taken', {
        params: { path: { project_id: projectId.value, line: props.line!.id } },
        body: { version: version ?? props.line!.version, element, output },
      }),
    ),
  )
const forRate = (figure: 'output' | 'hours') => (element: number | null, output: string) =>
  save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/build-ups/{build_up}/taken', {
        params: { path: { project_id: projectId.value, build_up: props.rate.id } },
        body: { version: version ?? props.rate.version, figure, element, output },
      }),
    ),
  )
</script>

<template>
  <div class="numbers">
    <TakenFrom
      v-if="line && line.basis !== 'percent'"
      :key="line.id"
      :label="`Quantity of ${line.name}`"
      :unit="line.unit"
      :taken="line.taken"
      :readonly="readonly"
      @take="forLine"
    />
    <span v-else class="quiet">A line’s quantity can be taken from an allowance or a quantity line.</span>
    <template v-if="rate.kind === 'rate' && (open || rate.output_taken || rate.hours_taken)">
      <TakenFrom
        label="Output"
        :unit="rate.unit"
        :taken="rate.output_taken"
        :readonly="readonly"
        @take="forRate('output')"
      />
      <TakenFrom
        label="Its hours"
        unit="h"
        :taken="rate.hours_taken"
        :readonly="readonly"
        @take="forRate('hours')"
      />
    </template>
    <NButton v-else-if="rate.kind === 'rate' && !readonly" text @click="open = true">output, hours…</NButton>
  </div>
</template>

<style scoped>
.numbers {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 24px;
  min-height: 36px;
  padding: 5px 12px;
  border-top: 1px solid var(--ink);
}
</style>
