<script setup lang="ts">
// The text of a make-up, as one writes it: lines numbered, the one that is wrong marked.
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { StreamLanguage, defaultHighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { toml } from '@codemirror/legacy-modes/mode/toml'
import { Compartment, EditorState, StateEffect, StateField } from '@codemirror/state'
import {
  Decoration,
  EditorView,
  highlightActiveLine,
  keymap,
  lineNumbers,
  type DecorationSet,
} from '@codemirror/view'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

const props = defineProps<{ label: string; writable: boolean; wrong: number | null }>()
const text = defineModel<string>({ required: true })
const place = ref<HTMLElement>()
let view: EditorView | undefined
const access = new Compartment()
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
// What is only read can be gone through by keys all the same.
const reach = () => [
  EditorState.readOnly.of(!props.writable),
  EditorView.contentAttributes.of({
    tabindex: '0',
    'aria-label': props.label,
    'aria-readonly': String(!props.writable),
  }),
]

onMounted(() => {
  view = new EditorView({
    parent: place.value,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        lineNumbers(),
        history(),
        highlightActiveLine(),
        StreamLanguage.define(toml),
        syntaxHighlighting(defaultHighlightStyle),
        keymap.of([...defaultKeymap, ...historyKeymap]),
        access.of(reach()),
        lineMark,
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
  () => [props.writable, props.label],
  () => view?.dispatch({ effects: access.reconfigure(reach()) }),
)
watch(
  () => props.wrong,
  (line) => view?.dispatch({ effects: marked.of(line) }),
)
/** Put the cursor on a line. */
function toLine(number: number) {
  if (!view || number > view.state.doc.lines) return
  view.dispatch({ selection: { anchor: view.state.doc.line(number).from }, scrollIntoView: true })
  view.focus()
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
