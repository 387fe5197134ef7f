<script setup lang="ts">
// A field that keeps what is being typed while its value is read again, and what was refused afterwards.
import { NInput } from 'naive-ui'
import { nextTick, onMounted, ref, watch } from 'vue'

const props = defineProps<{
  value: string | number
  label?: string
  placeholder?: string
  disabled?: boolean
  number?: boolean
  /** It was asked for just now, as a name to be changed is. */
  asked?: boolean
}>()
const emit = defineEmits<{ change: [text: string]; left: [] }>()
const field = ref<InstanceType<typeof NInput>>()
onMounted(() => props.asked && field.value?.focus())
const draft = ref(String(props.value))
const focused = ref(false)

watch(
  () => props.value,
  (now, before) => {
    if (!focused.value || draft.value === String(before)) draft.value = String(now)
  },
)
function enter() {
  focused.value = true
  field.value?.select()
}
function leave() {
  focused.value = false
  emit('left')
}
/** Esc leaves what was there. */
async function drop(event: KeyboardEvent) {
  if (draft.value === String(props.value)) return
  event.stopPropagation()
  draft.value = String(props.value)
  await nextTick()
  field.value?.blur()
}
</script>

<template>
  <NInput
    ref="field"
    v-model:value="draft"
    :class="{ number }"
    :input-props="label ? { 'aria-label': label } : {}"
    :placeholder="placeholder ?? ''"
    :disabled="disabled"
    size="small"
    @focus="enter"
    @blur="leave"
    @keydown.esc="drop"
    @change="emit('change', draft)"
  />
</template>

<style scoped>
.number {
  font-family: var(--mono);
}
.number :deep(input) {
  text-align: right;
}
</style>
