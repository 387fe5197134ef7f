<script setup lang="ts">
// One field of a make-up's form, under its words; `span` of twelve columns.
import { NInput } from 'naive-ui'
import ChoiceField from '../../../desk/ChoiceField.vue'
import EntryField from '../../../desk/EntryField.vue'
import { computed } from 'vue'
import { useForm } from './form'
import FormCell from './FormCell.vue'
import FormulaField from './FormulaField.vue'

const props = withDefaults(
  defineProps<{
    label: string
    span?: number
    /** Words, a formula, or a name, which is taken once it is whole. */
    kind?: 'words' | 'name' | 'formula'
    options?: { value: string; label: string }[]
    fixed?: boolean
    placeholder?: string
    hint?: string
  }>(),
  { span: 3, kind: 'words', options: undefined, placeholder: '', hint: '' },
)
const { readonly: whole } = useForm()
const readonly = computed(() => whole.value || props.fixed)
const value = defineModel<string>({ required: true })
</script>

<template>
  <FormCell :label="label" :span="span" :title="hint">
    <ChoiceField
      v-if="options && !readonly"
      :value="value"
      :options="options"
      :label="label"
      @choose="value = $event"
    />
    <EntryField
      v-else-if="kind === 'name' && !readonly"
      class="mono"
      :value="value"
      :label="label"
      @change="value = $event.trim()"
    />
    <FormulaField v-else-if="kind === 'formula'" v-model="value" :label="label" />
    <NInput
      v-else
      :value="options?.find((option) => option.value === value)?.label ?? value"
      size="small"
      :class="{ mono: kind === 'name' }"
      :placeholder="placeholder"
      :readonly="readonly"
      :input-props="{ 'aria-label': label }"
      @update:value="value = $event"
    />
  </FormCell>
</template>

<style scoped>
.mono {
  font-family: var(--mono);
}
</style>
