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
async function fresh() {
  const params = { path: { project_id: projectId.value, element: props.element.id } }
  return save(() =>
    ask(client.POST('/api/projects/{project_id}/elements/{element}/lines', { params, body: {} })),
  )
}
async function take(element: number | null, output: string) {
  const into = line.value ?? (await fresh())
  if (!into?.id) return
  const params = { path: { project_id: projectId.value, line: into.id } }
  const saved = await save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/lines/{line}/taken', {
        params,
        body: { version: version ?? into.version ?? 1, element, output },
      }),
    ),
  )
  if (saved) emit('taken', into.id)
}
</script>

<template>
  <div class="desk-bar" @keydown.esc.stop="emit('close')">
    <b>{{ line ? `Line ${line.number}` : 'A new line' }}</b>
    <template v-if="line?.taken_from">
      <span class="quiet">is {{ line.source }}, and follows it</span>
      <NButton size="small" @click="take(null, '')">No longer</NButton>
      <span class="quiet">or is taken from</span>
    </template>
    <span v-else class="quiet">is taken from</span>
    <QuantityPick :units="UNITS" :without="element.id" autofocus @choose="take" />
    <NButton text @click="emit('close')">close</NButton>
  </div>
</template>
