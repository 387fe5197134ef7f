<script setup lang="ts">
// Picking a quantity line: an element first, then which of its quantities; of those in some units, where
// these are named. What was picked stays until it is taken: whoever shows this has another one then.
import { computed, onMounted, ref } from 'vue'
import { useElement } from '../api/project'
import ChoiceField from './ChoiceField.vue'
import ElementPick from './ElementPick.vue'
import { quantity } from './numbers'

const props = defineProps<{
  units?: string[]
  without?: number
  autofocus?: boolean
  label?: string
  placeholder?: string
}>()
const emit = defineEmits<{ choose: [element: number, output: string] }>()
const element = ref<number | null>(null)
const first = ref<InstanceType<typeof ElementPick>>()
onMounted(() => props.autofocus && first.value?.focus())
const { data: drawn } = useElement(element)
const outputs = computed(() =>
  (drawn.value?.id === element.value ? (drawn.value?.quantities ?? []) : [])
    .filter((q) => props.units?.includes(q.unit) ?? true)
    .map((q) => ({ value: q.output, label: `${q.label}, ${quantity(q.net, q.unit)} ${q.unit}` })),
)
const choose = (output: string) => element.value !== null && emit('choose', element.value, output)
</script>

<template>
  <span class="picks">
    <ElementPick
      ref="first"
      class="pick"
      :value="element"
      :without="without"
      :label="label ?? 'Take from an element'"
      :placeholder="placeholder ?? 'an element or allowance…'"
      @choose="element = $event"
    />
    <ChoiceField
      v-if="outputs.length"
      class="pick"
      :value="null"
      :options="outputs"
      label="Which quantity"
      placeholder="which quantity…"
      @choose="choose"
    />
    <span v-else-if="drawn && drawn.id === element" class="quiet">
      {{ drawn.mark }} has no quantity{{ units ? ` in ${units.join(', ') || 'numbers'}` : ' yet' }}.
    </span>
  </span>
</template>

<style scoped>
.picks {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}
.pick {
  width: 240px;
}
</style>
