// What the parts of a make-up's form share: the document they edit in place, and the words it may use.
import type { Completion } from '@codemirror/autocomplete'
import { computed, inject, provide, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import type { Schemas } from '../../../api/client'
import { useProject } from '../../../api/project'
import { asOptions } from '../../../desk/ChoiceField.vue'
import { isUsed, nameFrom, rename, type MakeUpDocument, type Table } from '../document'

/** The row of a table that was refused, and why. */
export interface Refused {
  table: Table
  at: number
  says: string
}
type Options = ComputedRef<{ value: string; label: string }[]>
interface Form {
  document: Ref<MakeUpDocument>
  readonly: ComputedRef<boolean>
  words: ComputedRef<Schemas['MakeUpWords'] | undefined>
  /** What formulas are offered: names as they stand in the form, those known when it last held, functions. */
  vocabulary: ComputedRef<Completion[]>
  units: Options
  unitsOrNone: Options
  families: Options
  call: (row: Named, label: string) => void
  nameAs: (row: { key: string }, key: string) => void
  wrongIn: (table: Table) => Refused | null
}
interface Named {
  key: string
  label: string
}
const FORM: InjectionKey<Form> = Symbol('form of a make-up')

/** The form a part stands in. */
export const useForm = () => inject(FORM)!

export const asNumber = (entry: string) =>
  entry.trim() === '' || Number.isNaN(Number(entry)) ? undefined : Number(entry)

const DIMENSIONS: Record<string, string> = {
  times: 'how many', length: 'of the line', width: 'of the line', height: 'of the line', area: 'of the line',
  girth: 'round the area', void_girth: 'round its voids', deduct: '1 for a ddt line',
  drawn_junctions: 'where its run meets others',
} // prettier-ignore

export function provideForm(
  document: Ref<MakeUpDocument>,
  props: { readonly: boolean; names: Schemas['NameView'][]; words: Schemas['MakeUpWords'] | undefined },
  refused: Ref<Refused | null>,
) {
  const { data: project } = useProject()
  const units = computed(() => asOptions(project.value?.units ?? []))
  const vocabulary = computed(() => {
    const { inputs, derived, bands } = document.value
    const own = [
      ...(inputs ?? []).map((i): [string, string] => [i.key, i.label]),
      ...(derived ?? []).map((d): [string, string] => [d.key, d.label]),
      ...(bands ?? []).flatMap((b) =>
        Object.keys(b.rows?.[0]?.sets ?? {}).map((name): [string, string] => [name, b.label]),
      ),
    ]
    const known = props.names.map((n): [string, string] => [n.name, `${n.words} ${n.unit}`.trim()])
    const names = new Map([...Object.entries(DIMENSIONS), ...own, ...known].filter(([name]) => name))
    return [
      ...[...names].map(([label, detail]) => ({ label, detail, type: 'variable', boost: 1 })),
      ...(props.words?.functions ?? []).map((f) => ({
        label: f.name,
        detail: `(${f.parameters.join(', ')})`,
        info: f.source,
        apply: `${f.name}(`,
        type: 'function',
      })),
    ]
  })
  /** Words give a name as long as it isn't one of its own. */
  function call(row: Named, label: string) {
    const follows =
      (row.key === '' || row.key === nameFrom(row.label)) && !(row.key && isUsed(document.value, row.key))
    row.label = label
    if (!follows) return
    if (document.value.headline === row.key) document.value.headline = nameFrom(label)
    row.key = nameFrom(label)
  }
  function nameAs(row: { key: string }, key: string) {
    if (!vocabulary.value.some((each) => each.label === key)) rename(document.value, row.key, key)
    if (document.value.headline === row.key) document.value.headline = key
    row.key = key
  }
  provide(FORM, {
    document,
    readonly: computed(() => props.readonly),
    words: computed(() => props.words),
    vocabulary,
    units,
    unitsOrNone: computed(() => [{ value: '', label: 'a number' }, ...units.value]),
    families: computed(() => asOptions(props.words?.families ?? [])),
    call,
    nameAs,
    wrongIn: (table) => (refused.value?.table === table ? refused.value : null),
  })
}
