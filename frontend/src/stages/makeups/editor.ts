// A CodeMirror in the element of the template called `place`. Its text is the model’s, and what is only read
// can be gone through by keys all the same.
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { Compartment, EditorState, type Extension } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch, type Ref } from 'vue'

/** `own` goes before the usual keys; `reach` tells who may write and what it is called. */
export function useEditor(
  text: Ref<string>,
  own: Extension[],
  reach: () => { readonly: boolean; attributes: Record<string, string> },
) {
  const place = useTemplateRef<HTMLElement>('place')
  const view = shallowRef<EditorView>()
  const access = new Compartment()
  const reached = () => {
    const { readonly, attributes } = reach()
    return [
      EditorState.readOnly.of(readonly),
      EditorView.contentAttributes.of({ tabindex: '0', ...attributes }),
    ]
  }
  onMounted(() => {
    view.value = new EditorView({
      parent: place.value ?? undefined,
      state: EditorState.create({
        doc: text.value,
        extensions: [
          ...own,
          history(),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          access.of(reached()),
          EditorView.updateListener.of((change) => {
            if (change.docChanged) text.value = change.state.doc.toString()
          }),
        ],
      }),
    })
  })
  onBeforeUnmount(() => view.value?.destroy())
  watch(text, (insert) => {
    const state = view.value?.state
    if (state && insert !== state.doc.toString())
      view.value?.dispatch({ changes: { from: 0, to: state.doc.length, insert } })
  })
  watch(reach, () => view.value?.dispatch({ effects: access.reconfigure(reached()) }))
  return view
}
