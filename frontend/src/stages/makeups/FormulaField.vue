<script setup lang="ts">
// A formula, in one line; the names and functions it may use are offered while it is typed.
import {
  autocompletion,
  completionKeymap,
  startCompletion,
  type CompletionContext,
} from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { Compartment, EditorState } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { inject, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { VOCABULARY } from './vocabulary'

const props = defineProps<{ label: string; readonly?: boolean }>()
const text = defineModel<string>({ required: true })
const vocabulary = inject(VOCABULARY)
const place = ref<HTMLElement>()
const access = new Compartment()
let view: EditorView | undefined

function offered(context: CompletionContext) {
  const word = context.matchBefore(/\w+/)
  if (!word && !context.explicit) return null
  return { from: word?.from ?? context.pos, options: vocabulary?.value ?? [], validFor: /^\w*$/ }
}
const reach = () => [
  EditorState.readOnly.of(Boolean(props.readonly)),
  EditorView.contentAttributes.of({ tabindex: '0', role: 'textbox', 'aria-label': props.label }),
]
onMounted(() => {
  view = new EditorView({
    parent: place.value,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        history(),
        EditorView.lineWrapping,
        // One formula is one line: what is pasted in several is put in one.
        EditorState.transactionFilter.of((change) =>
          change.newDoc.lines > 1
            ? [
                change,
                {
                  changes: {
                    from: 0,
                    to: change.newDoc.length,
                    insert: change.newDoc.toString().replace(/\s*\n\s*/g, ' '),
                  },
                  sequential: true,
                },
              ]
            : change,
        ),
        autocompletion({ override: [offered], icons: false, interactionDelay: 0 }),
        // Tab leaves the field; Ctrl+Space asks for the names.
        keymap.of([
          { key: 'Ctrl-Space', run: startCompletion },
          ...completionKeymap,
          { key: 'Enter', run: () => true },
          ...defaultKeymap,
          ...historyKeymap,
        ]),
        access.of(reach()),
        EditorView.updateListener.of((change) => {
          if (change.docChanged) text.value = change.state.doc.toString()
        }),
      ],
    }),
  })
})
onBeforeUnmount(() => view?.destroy())
watch(text, (now) => {
  if (view && now !== view.state.doc.toString())
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } })
})
watch(
  () => [props.readonly, props.label],
  () => view?.dispatch({ effects: access.reconfigure(reach()) }),
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
