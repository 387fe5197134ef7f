<script setup lang="ts">
// Several of some options, in a make-up's form; told in words while it is only read.
import { NInput, NSelect } from 'naive-ui'
import { useForm } from './form'
import FormCell from './FormCell.vue'

defineProps<{
  label: string
  options: { value: string; label: string }[]
  nothing: string
  span: number
}>()
const { readonly } = useForm()
const chosen = defineModel<string[] | undefined>({ required: true })
</script>

<template>
  <FormCell :label="label" :span="span">
    <NInput
      v-if="readonly"
      :value="chosen?.join(', ') || nothing"
      size="small"
      readonly
      :input-props="{ 'aria-label': label }"
    />
    <NSelect
      v-else
      :value="chosen ?? []"
      multiple
      size="small"
      :options="options"
      :placeholder="nothing"
      :input-props="{ 'aria-label': label }"
      @update:value="chosen = $event"
    />
  </FormCell>
</template>
