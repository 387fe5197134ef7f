<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import Dialog from './Dialog.vue'

const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const everywhere = [
  ['Ctrl K', 'find anything and go there'],
  ['Ctrl Z, Ctrl Shift Z', 'undo and redo your own changes'],
  ['?', 'the keys of this screen'],
]
const table = [
  ['arrows, Tab, Enter', 'move in a table'],
  ['any key', 'type over the cell'],
  ['F2', 'edit what is there'],
  ['Esc', 'leave the cell as it was'],
  ['Ctrl C, Ctrl V', 'copy and paste cells'],
  ['Ctrl D', 'take the value from the line above'],
  ['Ctrl Delete', 'delete the line'],
]
const sheet = [
  ['wheel, drag', 'zoom at the pointer, pan'],
  ['C', 'count'],
  ['A', 'area'],
  ['V', 'void in an area of the element'],
  ['K', 'scale'],
  ['Enter', 'end the figure'],
  ['Backspace', 'take the last point back'],
  ['Esc', 'leave the figure'],
  ['Delete', 'delete the figure picked'],
]
const groups = computed(() => [
  { title: 'Everywhere', keys: everywhere },
  ...(route.meta.stage === 'issue' ? [] : [{ title: 'In a table', keys: table }]),
  ...(['sheets', 'measure'].includes(String(route.meta.stage)) ? [{ title: 'On the sheet', keys: sheet }] : []),
])
</script>

<template>
  <Dialog title="Keys of this screen" @close="emit('close')">
    <section v-for="group in groups" :key="group.title">
      <h3>{{ group.title }}</h3>
      <p v-for="[key, does] in group.keys" :key="key">
        <kbd>{{ key }}</kbd> <span>{{ does }}</span>
      </p>
    </section>
  </Dialog>
</template>

<style scoped>
h3 {
  margin: 8px 0 4px;
  color: var(--quiet);
}
p {
  display: grid;
  grid-template-columns: 150px 1fr;
  margin: 0;
  padding: 3px 0;
}
kbd {
  justify-self: start;
}
</style>
