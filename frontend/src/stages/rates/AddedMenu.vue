<script setup lang="ts">
// What is added where the bill takes a rate, and the rate's note.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import Menu from '../../desk/Menu.vue'
import { shown, typeable } from '../../desk/numbers'

const props = defineProps<{ rate: Schemas['BuildUpView']; readonly: boolean }>()
const emit = defineEmits<{ change: [fields: Omit<Schemas['BuildUpChange'], 'version'>] }>()
const ADDED_ON = [
  { value: 'cost' as const, label: 'cost (mark-up)' },
  { value: 'price' as const, label: 'price (margin)' },
]
const adds = computed(() => {
  const { added, added_on } = props.rate
  if (!Number(added)) return props.rate.note ? 'Mark-up •' : 'Mark-up'
  return `${added_on === 'cost' ? 'Mark-up' : 'Margin'} ${shown(added, 0, 4)} %`
})
</script>

<template>
  <Menu :label="adds" right>
    <label class="asked"
      >Added %<EntryField
        number
        :value="typeable(rate.added)"
        placeholder="0"
        :disabled="readonly"
        label="Percentage added"
        @change="emit('change', { added: $event || '0' })"
    /></label>
    <label class="asked"
      >of the<ChoiceField
        :value="rate.added_on"
        :options="ADDED_ON"
        label="What is added to"
        :disabled="readonly"
        @choose="emit('change', { added_on: $event })"
    /></label>
    <label class="asked"
      >Note<EntryField
        :value="rate.note"
        placeholder="how, from where"
        :disabled="readonly"
        label="Note on the rate"
        @change="emit('change', { note: $event })"
    /></label>
  </Menu>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: 74px 1fr;
  align-items: center;
  gap: 8px;
  margin-bottom: 4px;
}
</style>
