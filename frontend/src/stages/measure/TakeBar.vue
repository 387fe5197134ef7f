<script setup lang="ts">
// A dimension line that takes its length, area or number from a quantity of another element, and follows it.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import QuantityPick from '../../desk/QuantityPick.vue'

const props = defineProps<{ element: Schemas['ElementView']; line: number | null }>()
const emit = defineEmits<{ close: []; taken: [line: number] }>()
const { save, projectId } = useSave()
// What a line can take: lengths, areas, numbers.
const UNITS = ['m', 'ft', 'm²', 'ft²', 'nr']
/** The line the cursor is in, where no figure measures it; else there will be a new one. */
const line = computed(() => {
  const at = props.element.lines.findIndex((l) => l.id === props.line && l.figure === null)
  return at < 0 ? null : { ...props.element.lines[at], number: at + 1 }
})
const add = (element: number, output: string) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/lines/taken', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { element, output },
      }),
    ),
  )
const change = (into: Schemas['LineView'], element: number | null, output: string) =>
  save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/lines/{line}/taken', {
        params: { path: { project_id: projectId.value, line: into.id } },
        body: { version: version ?? into.version, element, output },
      }),
    ),
  )
async function take(element: number, output: string) {
  const saved = await (line.value ? change(line.value, element, output) : add(element, output))
  if (saved?.id) emit('taken', saved.id)
}
async function letGo(from: Schemas['LineView']) {
  if (await change(from, null, '')) emit('taken', from.id)
}
</script>

<template>
  <div class="desk-bar" @keydown.esc.stop="emit('close')">
    <b>{{ line ? `Line ${line.number}` : 'A new line' }}</b>
    <template v-if="line?.taken_from">
      <span class="quiet">is {{ line.source }}, and follows it</span>
      <NButton size="small" @click="letGo(line)">No longer</NButton>
      <span class="quiet">or is taken from</span>
    </template>
    <span v-else class="quiet">is taken from</span>
    <QuantityPick :units="UNITS" :without="element.id" autofocus @choose="take" />
    <NButton text @click="emit('close')">close</NButton>
  </div>
</template>
