<script setup lang="ts">
// A pick in a cell: a list found by typing. Nothing is taken until Enter, Tab or a click on a choice; Esc
// leaves it.
import { NSelect } from 'naive-ui'
import { nextTick, onMounted, ref } from 'vue'

const props = defineProps<{
  value: string
  choices: { value: string; label: string }[]
  label: string
  /** What was typed over the cell. */
  typed: string
}>()
const emit = defineEmits<{
  taken: [value: string, then: 'stay' | 'Enter' | 'Tab', back: boolean]
  left: []
}>()
const holder = ref<HTMLElement>()
let then: 'stay' | 'Enter' | 'Tab' = 'stay'
let back = false
let taken = false
let sought = ''
const field = () => holder.value?.querySelector('input')

onMounted(async () => {
  await nextTick()
  const input = field()
  if (!input) return
  input.focus()
  if (!props.typed) return
  input.value = props.typed
  input.dispatchEvent(new Event('input', { bubbles: true }))
})
/** Before Naive hears of it. Naive takes the choice in view at Enter; Tab means the same, and goes on. */
function before(event: KeyboardEvent) {
  if (!event.isTrusted || (event.key !== 'Enter' && event.key !== 'Tab')) return
  then = event.key
  back = event.shiftKey
  if (event.key === 'Enter') return
  event.preventDefault()
  field()?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
}
function take(value: string) {
  taken = true
  emit('taken', value, then, back)
}
/** After it: a hand faster than the list, which isn't drawn yet, has taken what it typed; where that finds nothing the
 * cell is left as it was. */
function after(event: KeyboardEvent) {
  if (!event.isTrusted || !['Enter', 'Tab', 'Escape'].includes(event.key) || taken) return
  const wanted = event.key === 'Escape' ? '' : sought.trim().toLowerCase()
  const labels = props.choices.map((each) => each.label.toLowerCase())
  const exact = labels.indexOf(wanted)
  const found = wanted ? props.choices[exact < 0 ? labels.findIndex((l) => l.includes(wanted)) : exact] : null
  if (found) take(found.value)
  else emit('left')
}
</script>

<template>
  <div
    ref="holder"
    class="pick"
    @keydown.capture="before"
    @keydown.stop="after"
    @mousedown.stop
    @dblclick.stop
  >
    <NSelect
      show
      :value="value || null"
      :options="choices"
      :input-props="{ 'aria-label': label }"
      :consistent-menu-width="false"
      placeholder="type to find"
      filterable
      size="tiny"
      :menu-props="{ style: { minWidth: '220px', maxWidth: '460px' } }"
      @search="sought = $event"
      @update:value="take"
      @blur="emit('left')"
    />
  </div>
</template>

<style scoped>
.pick {
  position: absolute;
  inset: 1px;
  text-align: left;
}
</style>
