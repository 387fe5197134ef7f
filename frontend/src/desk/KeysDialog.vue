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
  ['2.4 to 3', 'typed in a dimension: the mean of two ends'],
  ['12 at 1 in 40', 'what is 12 on plan, on its slope; also at 2.5%, at 30°'],
  ['F2', 'edit what is there'],
  ['Esc', 'leave the cell as it was'],
  ['Shift and arrows', 'choose a block of cells'],
  ['Ctrl A', 'choose every line'],
  ['Ctrl C, Ctrl V', 'copy and paste cells, both ways with a spreadsheet'],
  ['Ctrl D', 'fill the block down from its first line'],
  ['Alt ↑, Alt ↓', 'put the line up or down'],
  ['Ctrl H', 'find and replace in dimension lines'],
  ['Ctrl Delete', 'delete the line'],
]
const sheet = [
  ['wheel, drag', 'zoom at the pointer, pan'],
  ['C, R, A', 'count, run, area'],
  ['B, I', 'box, circle: areas drawn with two picks'],
  ['V', 'void in an area of the element'],
  ['5.4, 5400mm @ 30', 'typed while drawing: the next length, and its angle'],
  ['U', 'the next two picks are a point of a curve and its end'],
  ['F', 'follow the drawing’s own lines to the next pick'],
  ['arrows, P', 'move the pointer while drawing, put a point'],
  ['K', 'scale'],
  ['Enter', 'end the figure'],
  ['Backspace', 'take the last point back'],
  ['Esc', 'leave the figure'],
  ['M, D', 'move, or copy to other bays, the figure picked'],
  [
    '[ and ]',
    'go through its corners; arrows move one, Delete takes it out; of a void’s last three, the void',
  ],
  ['Alt click', 'take a corner out'],
  ['Delete', 'delete the figure picked'],
]
const groups = computed(() => [
  { title: 'Everywhere', keys: everywhere },
  ...(route.meta.stage === 'issue' ? [] : [{ title: 'In a table', keys: table }]),
  ...(['sheets', 'measure'].includes(String(route.meta.stage))
    ? [{ title: 'On the sheet', keys: sheet }]
    : []),
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
