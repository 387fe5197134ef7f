// Fields of a document that is written in a form: what each shows, and the change of it alone.

/** Names of what is typed as text in something. */
type Typed<T> = { [K in keyof T]: T[K] extends string ? K : never }[keyof T] & string
/** Names of its lists, such as layers. */
type Lists<T> = { [K in keyof T]: T[K] extends object[] ? K : never }[keyof T] & string
type RowOf<T, L extends keyof T> = T[L] extends (infer R extends object)[] ? R : never

/** What an `EntryField` is bound to. */
export interface Bound {
  value: string
  disabled: boolean
  onChange: (text: string) => unknown
}

/** Bindings: `field` one of the document's own, `inRow` one in a row of a list of it. */
export function fieldsOf<T extends object>(
  given: () => T,
  change: (fields: Partial<T>) => unknown,
  disabled: () => boolean,
) {
  const row = <L extends Lists<T>>(list: L, n: number, fields: Partial<RowOf<T, L>>) => {
    const rows = given()[list] as RowOf<T, L>[]
    return change({
      [list]: rows.map((each, at) => (at === n ? { ...each, ...fields } : each)),
    } as Partial<T>)
  }
  return {
    field: (name: Typed<T>): Bound => ({
      value: given()[name] as string,
      disabled: disabled(),
      onChange: (text: string) => change({ [name]: text } as Partial<T>),
    }),
    inRow: <L extends Lists<T>>(list: L, n: number, name: Typed<RowOf<T, L>>): Bound => ({
      value: (given()[list] as RowOf<T, L>[])[n][name] as string,
      disabled: disabled(),
      onChange: (text: string) => row(list, n, { [name]: text } as Partial<RowOf<T, L>>),
    }),
    changeRow: row,
    /** A list without a row. */
    without: <L extends Lists<T>>(list: L, n: number) =>
      change({ [list]: (given()[list] as RowOf<T, L>[]).filter((_, at) => at !== n) } as Partial<T>),
  }
}
