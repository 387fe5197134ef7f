<script setup lang="ts">
// The text of a make-up, as one writes it: lines numbered, the one that is wrong marked.
import { StreamLanguage, defaultHighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { toml } from '@codemirror/legacy-modes/mode/toml'
import { StateEffect, StateField } from '@codemirror/state'
import {
  Decoration,
  EditorView,
  highlightActiveLine,
  lineNumbers,
  type DecorationSet,
} from '@codemirror/view'
import { watch } from 'vue'
import { useEditor } from './editor'

const props = defineProps<{ label: string; writable: boolean; wrong: number | null }>()
const text = defineModel<string>({ required: true })
const marked = StateEffect.define<number | null>()
const lineMark = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, change) {
    let now = marks.map(change.changes)
    for (const effect of change.effects)
      if (effect.is(marked))
        now =
          effect.value === null || effect.value > change.state.doc.lines
            ? Decoration.none
            : Decoration.set(
                Decoration.line({ class: 'wrong-line' }).range(change.state.doc.line(effect.value).from),
              )
    return now
  },
  provide: (field) => EditorView.decorations.from(field),
})
const view = useEditor(
  text,
  [
    lineNumbers(),
    highlightActiveLine(),
    StreamLanguage.define(toml),
    syntaxHighlighting(defaultHighlightStyle),
    lineMark,
  ],
  () => ({
    readonly: !props.writable,
    attributes: { 'aria-label': props.label, 'aria-readonly': String(!props.writable) },
  }),
)
watch(
  () => props.wrong,
  (line) => view.value?.dispatch({ effects: marked.of(line) }),
)
/** Put the cursor on a line. */
function toLine(number: number) {
  const doc = view.value?.state.doc
  if (!doc || number > doc.lines) return
  view.value?.dispatch({ selection: { anchor: doc.line(number).from }, scrollIntoView: true })
  view.value?.focus()
}
defineExpose({ toLine })
</script>

<template>
  <div ref="place" class="text"></div>
</template>

<style scoped>
.text {
  min-width: 0;
  min-height: 0;
  overflow: hidden;
}
.text :deep(.cm-editor) {
  height: 100%;
  font-size: 12.5px;
}
.text :deep(.cm-scroller) {
  font-family: var(--mono);
  line-height: 1.5;
}
.text :deep(.cm-focused) {
  outline: none;
}
.text :deep(.cm-gutters) {
  border-right: 1px solid var(--rule);
  background: var(--ground);
  color: var(--quiet);
}
.text :deep(.cm-activeLine) {
  background: color-mix(in srgb, var(--main-soft) 45%, transparent);
}
.text :deep(.wrong-line) {
  background: var(--bad-soft);
}
</style>
