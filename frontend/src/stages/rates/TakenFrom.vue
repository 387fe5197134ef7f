<script setup lang="ts">
// Where a number of a rate comes from: typed, or taken from a quantity line, such as an allowance's hours.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import { quantity } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import QuantityPick from '../../desk/QuantityPick.vue'

const props = defineProps<{
  label: string
  unit: string
  taken: Schemas['TakenView'] | null
  readonly: boolean
}>()
const emit = defineEmits<{ take: [element: number | null, output: string] }>()
const projectId = useProjectId()
const walk = useWalkStore()
const value = computed(
  () => props.taken && `${quantity(props.taken.value, props.taken.unit)} ${props.taken.unit}`,
)
const go = () =>
  walk.go(projectId.value, {
    ref: props.taken!.ref,
    name: props.taken!.name,
    value: '',
    unit: '',
    stage: 'measure',
    target: props.taken!.element,
  })
</script>

<template>
  <div class="taken">
    <b>{{ label }}</b>
    <template v-if="taken">
      <span class="quiet">taken from</span>
      <NButton text type="primary" @click="go">{{ taken.name }}</NButton>
      <span class="num">{{ value }}</span>
      <NButton
        v-if="!readonly"
        text
        :aria-label="`${label} no longer taken`"
        title="As it was typed before"
        @click="emit('take', null, '')"
        >×</NButton
      >
    </template>
    <template v-else>
      <span class="quiet">typed</span>
      <QuantityPick
        v-if="!readonly"
        :units="[unit]"
        @choose="(element, output) => emit('take', element, output)"
      />
    </template>
  </div>
</template>

<style scoped>
.taken {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}
</style>
