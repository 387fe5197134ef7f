<script setup lang="ts">
// Picking a quantity line: an element first, then which of its quantities; those of one unit only.
import { computed, ref } from 'vue'
import { useElement } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import ElementPick from '../../desk/ElementPick.vue'
import { quantity } from '../../desk/numbers'

const props = defineProps<{ unit: string; without?: number }>()
const emit = defineEmits<{ choose: [element: number, output: string] }>()
const element = ref<number | null>(null)
const { data: drawn } = useElement(element)
const outputs = computed(() =>
  (drawn.value?.id === element.value ? (drawn.value?.quantities ?? []) : [])
    .filter((q) => q.unit === props.unit)
    .map((q) => ({ value: q.output, label: `${q.label}, ${quantity(q.net, q.unit)} ${q.unit}` })),
)
function choose(output: string) {
  if (element.value !== null) emit('choose', element.value, output)
  element.value = null
}
</script>

<template>
  <span class="picks">
    <ElementPick
      class="pick"
      :value="element"
      :without="without"
      label="Take from an element"
      placeholder="an element or allowance…"
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
      {{ drawn.mark }} has no quantity in {{ unit || 'numbers' }}.
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
