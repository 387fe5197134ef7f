<script setup lang="ts">
// A formula, in one line; the names and functions it may use are offered while it is typed.
import {
  autocompletion,
  completionKeymap,
  startCompletion,
  type CompletionContext,
} from '@codemirror/autocomplete'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { useEditor } from '../editor'
import { useForm } from './form'

const props = defineProps<{ label: string }>()
const text = defineModel<string>({ required: true })
const { readonly, vocabulary } = useForm()

function offered(context: CompletionContext) {
  const word = context.matchBefore(/\w+/)
  if (!word && !context.explicit) return null
  return { from: word?.from ?? context.pos, options: vocabulary.value, validFor: /^\w*$/ }
}
// One formula is one line: what is pasted in several is put in one.
const oneLine = EditorState.transactionFilter.of((change) => {
  if (change.newDoc.lines === 1) return change
  const insert = change.newDoc.toString().replace(/\s*\n\s*/g, ' ')
  return [change, { changes: { from: 0, to: change.newDoc.length, insert }, sequential: true }]
})
useEditor(
  text,
  [
    EditorView.lineWrapping,
    oneLine,
    autocompletion({ override: [offered], icons: false, interactionDelay: 0 }),
    // Tab leaves the field; Ctrl+Space asks for the names.
    keymap.of([
      { key: 'Ctrl-Space', run: startCompletion },
      ...completionKeymap,
      { key: 'Enter', run: () => true },
    ]),
  ],
  () => ({ readonly: readonly.value, attributes: { role: 'textbox', 'aria-label': props.label } }),
)
</script>

<template>
  <div ref="place" class="formula"></div>
</template>

<style scoped>
.formula {
  border: 1px solid var(--rule);
  background: var(--panel);
}
.formula:focus-within {
  border-color: var(--main);
}
.formula :deep(.cm-editor.cm-focused) {
  outline: none;
}
.formula :deep(.cm-content) {
  padding: 3px 0;
  font-family: var(--mono);
  font-size: 12.5px;
}
.formula :deep(.cm-tooltip) {
  border: 1px solid var(--rule);
  background: var(--panel);
}
.formula :deep(.cm-tooltip-autocomplete > ul) {
  font-family: var(--mono);
  font-size: 12px;
}
.formula :deep(.cm-tooltip-autocomplete > ul > li[aria-selected]) {
  background: var(--main-soft);
  color: inherit;
}
.formula :deep(.cm-completionDetail) {
  margin-left: 10px;
  color: var(--quiet);
  font-family: var(--sans);
  font-style: normal;
}
</style>
