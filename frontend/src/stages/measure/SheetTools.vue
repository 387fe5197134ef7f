<script setup lang="ts">
// Above the sheet: which sheet it is, what it is measured with, and its scale.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import ChoiceField from '../../desk/ChoiceField.vue'
import SheetMenu from '../../desk/sheet/SheetMenu.vue'
import { measuring, type Tool } from '../../desk/sheet/tools'

const props = defineProps<{
  sheets: Schemas['SheetView'][]
  sheet: Schemas['SheetDetail'] | undefined
  tool: Tool
  /** The kinds of figures that the element's make-up is measured by. */
  usual: string[]
  readonly: boolean
}>()
const emit = defineEmits<{
  choose: [sheet: number]
  use: [tool: Tool]
  overview: []
  whole: []
  totals: []
  found: [box: number[] | null]
}>()
const options = computed(() =>
  props.sheets.map((s) => ({ value: s.id, label: `${s.number} ${s.letter}, ${s.title || `p. ${s.page}`}` })),
)
const kindOf = (tool: Tool) => (tool === 'count' ? 'count' : tool === 'run' ? 'run' : 'area')
/** A tool's name around the letter that is its key. */
const spelt = (name: string, key: string) => {
  const at = name.toUpperCase().indexOf(key)
  return [name.slice(0, at), name[at], name.slice(at + 1)]
}
</script>

<template>
  <div class="desk-head tools">
    <ChoiceField
      class="sheet"
      :value="sheet?.id ?? null"
      :options="options"
      label="Sheet"
      @choose="emit('choose', $event)"
    />
    <NButton
      v-for="each in measuring"
      :key="each.tool"
      text
      class="tool"
      :class="{ on: tool === each.tool, usual: usual.includes(kindOf(each.tool)) }"
      :disabled="readonly || !sheet"
      :title="`${each.name} (${each.key}); Esc puts it down`"
      :aria-label="each.name"
      :aria-pressed="tool === each.tool"
      @click="emit('use', tool === each.tool ? 'pick' : each.tool)"
    >
      {{ spelt(each.name, each.key)[0] }}<u>{{ spelt(each.name, each.key)[1] }}</u
      >{{ spelt(each.name, each.key)[2] }}
    </NButton>
    <SheetMenu
      v-if="sheet"
      :sheet="sheet"
      :readonly="readonly"
      @overview="emit('overview')"
      @whole="emit('whole')"
      @totals="emit('totals')"
      @found="emit('found', $event)"
    />
    <NButton
      v-if="sheet"
      text
      class="push num"
      :class="{ bad: sheet.proof?.finding }"
      :title="sheet.scale_source || 'Set the scale'"
      @click="emit('use', 'scale')"
    >
      {{ sheet.scale }}
    </NButton>
  </div>
</template>

<style scoped>
.tools {
  gap: 8px;
}
.sheet {
  flex: 0 1 200px;
  min-width: 110px;
}
.tool {
  color: var(--ink);
  padding: 3px 7px;
}
.tool.on {
  background: var(--main-soft);
  color: var(--main);
  font-weight: 600;
}
.tool.usual {
  font-weight: 500;
  color: var(--main);
}
.tool u {
  text-underline-offset: 3px;
}
.tool:disabled {
  opacity: 0.5;
}
</style>
