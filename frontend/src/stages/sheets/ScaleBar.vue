<script setup lang="ts">
// A sheet's scale, there on the sheet: set by ratio, by a known length, or by one each way where a scan is stretched;
// proved on a second known length; and details that have a scale of their own.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useDrawings, useSave } from '../../api/project'
import type { Tool } from '../../desk/sheet/tools'
import { unitHere } from '../../desk/ways'

type Picks = [number, number][]
const props = withDefaults(defineProps<{ sheet: Schemas['SheetDetail']; picks: Picks; tool?: Tool }>(), {
  tool: 'scale',
})
const emit = defineEmits<{ close: []; tool: [tool: Tool]; remove: [area: number] }>()
const { save, projectId } = useSave()
const ratio = ref('')
const length = ref('')
const everywhere = ref(false)
const { data: drawings } = useDrawings()
/** How many sheets of this drawing have no scale yet, this one among them. */
const unscaled = computed(
  () =>
    drawings.value?.find((d) => d.id === props.sheet.drawing)?.sheets.filter((s) => s.ratio === null)
      .length ?? 0,
)
const across = ref<{ picks: Picks; length: string } | null>(null)
const field = ref<InstanceType<typeof NInput>>()
const moves = computed(() => props.sheet.shapes.filter((shape) => shape.kind !== 'count').length)
const heads: Partial<Record<Tool, string>> = {
  proof: 'Prove the scale on a second known length.',
  along: 'A stretched scan: first a known length across the sheet, then one up it.',
  up: 'Now a known length up the sheet.',
  detail: 'A detail at a scale of its own: pick two corners around it, then type its scale.',
}
const head = computed(() => {
  if (heads[props.tool]) return heads[props.tool]
  if (props.sheet.ratio === null) return 'This sheet has no scale yet, so nothing can be measured on it.'
  return moves.value
    ? `Another scale measures ${moves.value} figure${moves.value > 1 ? 's' : ''} of this sheet anew.`
    : 'Set the scale again.'
})

const scale = ref<InstanceType<typeof NInput>>()
// A drawing that has just come in asks for its scale, there and then.
onMounted(() => {
  if (props.sheet.ratio === null && document.activeElement === document.body) scale.value?.focus()
})
watch(
  () => props.picks.length,
  (n) => n === 2 && void nextTick(() => field.value?.focus()),
)

const path = () => ({ params: { path: { project_id: projectId.value, sheet: props.sheet.id } } })
async function byRatio() {
  const done = await save((version) =>
    ask(
      client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/ratio', {
        ...path(),
        body: { version: version ?? props.sheet.version, ratio: ratio.value, everywhere: everywhere.value },
      }),
    ),
  )
  if (done) emit('close')
}
async function byPicks() {
  if (props.tool === 'along') {
    across.value = { picks: props.picks, length: length.value }
    length.value = ''
    emit('tool', 'up')
    return
  }
  const [first, second] = props.picks
  const done = await save((version) => {
    const at = version ?? props.sheet.version
    const body = { version: at, first, second, length: length.value }
    if (props.tool === 'detail') {
      const ring = [first, [second[0], first[1]], second, [first[0], second[1]]]
      return ask(
        client.POST('/api/projects/{project_id}/sheets/{sheet}/scale-areas', {
          ...path(),
          body: { ring, ratio: length.value },
        }),
      )
    }
    if (props.tool === 'up' && across.value)
      return ask(
        client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/stretched', {
          ...path(),
          body: {
            version: at,
            along: [across.value.picks[0], across.value.picks[1]],
            length: across.value.length,
            up: [first, second],
            height: length.value,
          },
        }),
      )
    return props.tool === 'proof'
      ? ask(client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/proof', { ...path(), body }))
      : ask(client.PUT('/api/projects/{project_id}/sheets/{sheet}/scale/length', { ...path(), body }))
  })
  if (!done) return
  length.value = ''
  emit('close')
}
</script>

<template>
  <div class="bar" role="group" aria-label="Scale of the sheet" @keydown.esc.stop="emit('close')">
    <b>{{ head }}</b>
    <template v-if="tool === 'scale' || tool === 'pick'">
      <form @submit.prevent="byRatio">
        <label
          >Scale<NInput
            ref="scale"
            v-model:value="ratio"
            class="scale"
            size="small"
            :placeholder="unitHere('m') === 'm' ? '1:100' : '1/4&quot; = 1\'-0&quot;'"
            :input-props="{ 'aria-label': 'Scale, as it is written on the sheet' }"
        /></label>
        <NCheckbox v-if="unscaled > 1" v-model:checked="everywhere"
          >on all {{ unscaled }} sheets of {{ sheet.number }} that have none</NCheckbox
        >
        <NButton size="small" attr-type="submit" :type="ratio ? 'primary' : 'default'" :disabled="!ratio"
          >Set</NButton
        >
      </form>
      <span class="quiet">or</span>
    </template>
    <form @submit.prevent="byPicks">
      <label v-if="picks.length === 2"
        >{{ tool === 'detail' ? 'Scale of the detail' : 'Length between the picks' }}
        <NInput
          ref="field"
          v-model:value="length"
          class="scale"
          size="small"
          :placeholder="tool === 'detail' ? '1:20' : `5 ${unitHere('m')}`"
          :input-props="{ 'aria-label': tool === 'detail' ? 'Scale of the detail' : 'Known length' }"
      /></label>
      <span v-else>{{
        tool === 'detail' ? 'pick two corners around it' : 'pick the two ends of a known length'
      }}</span>
      <NButton v-if="picks.length === 2" size="small" attr-type="submit" type="primary" :disabled="!length">{{
        tool === 'proof' ? 'Prove' : tool === 'along' ? 'Go on' : 'Set'
      }}</NButton>
    </form>
    <NButton v-if="tool === 'scale' || tool === 'pick'" text @click="emit('tool', 'along')">
      the scan is stretched
    </NButton>
    <template v-if="tool === 'detail'">
      <span v-for="area in sheet.areas" :key="area.id" class="quiet"
        >{{ area.scale }}
        <NButton text type="primary" @click="emit('remove', area.id)">take off</NButton></span
      >
    </template>
    <NButton v-if="sheet.ratio !== null" text @click="emit('close')">leave it</NButton>
  </div>
</template>

<style scoped>
.bar {
  position: absolute;
  inset: 0 0 auto;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  padding: 6px 12px;
  border-bottom: 2px solid var(--accent);
  background: var(--accent-soft);
}
form {
  display: flex;
  align-items: center;
  gap: 6px;
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.scale {
  width: 116px;
  font-family: var(--mono);
}
b {
  font-weight: 500;
}
</style>
