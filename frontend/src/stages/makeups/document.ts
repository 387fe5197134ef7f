// A make-up as a document: read from its text, and written back with the comments that stood above its lines.
import { parse } from 'smol-toml'

export interface Choice {
  label: string
  sets: Record<string, string>
}
export interface Input {
  key: string
  label: string
  unit?: string
  default?: string
  rule?: string
  table?: string
  prefix?: string
  minimum?: number
  group?: string
  hint?: string
  words?: boolean
  choices?: Choice[]
}
export interface Derived {
  key: string
  label: string
  unit?: string
  formula: string
}
export interface Band {
  from: string
  below: string
  sets: Record<string, string>
}
export interface Bands {
  key: string
  label: string
  by: string
  rows: Band[]
}
export interface Output {
  key: string
  label: string
  unit: string
  family: string
  formula: string
  waste?: number
  deducts?: string
  item?: string
  section?: string
  optional?: boolean
  parts?: boolean
  purchase?: { pack: string; holds: string }
}
export interface Caution {
  when: string
  says: string
  on?: string
}
export interface Part {
  label: string
  family: string
  view?: string
  points: [string, string][]
  radius?: string
  hollow?: boolean
}
export interface Bar {
  key: string
  label: string
  output: string
  d: string
  number?: string
  shape?: string
  legs?: string[]
  r?: string
  exact?: boolean
  run?: string
  laid?: string
}
export interface MakeUpDocument {
  key: string
  name: string
  kind?: string
  about?: string
  leaves?: string
  headline: string
  needs?: string[]
  figures?: string[]
  uses?: string[]
  steel?: string
  inputs?: Input[]
  bands?: Bands[]
  derived?: Derived[]
  outputs?: Output[]
  cautions?: Caution[]
  bars?: Bar[]
  sketch?: Part[]
}

const HEAD = [
  'key',
  'name',
  'kind',
  'about',
  'leaves',
  'headline',
  'needs',
  'figures',
  'uses',
  'steel',
] as const
export const TABLES = ['inputs', 'bands', 'derived', 'outputs', 'cautions', 'bars', 'sketch'] as const
export type Table = (typeof TABLES)[number]

/** The document of a text; throws where the text is none. */
export const read = (text: string): MakeUpDocument => parse(text) as unknown as MakeUpDocument

/** The text of a document; the comments of the text it comes from stay above what they stood above. */
export function write(document: MakeUpDocument, before: string): string {
  const lines: string[] = []
  for (const name of HEAD)
    if (name === 'key' || name === 'name' || name === 'headline' || !empty(document[name]))
      lines.push(`${name} = ${value(document[name] ?? '')}`)
  for (const name of TABLES) {
    const rows = document[name] ?? []
    if (!rows.length) continue
    lines.push(`${name} = [`, ...rows.map((row) => `  ${value(row)},`), ']')
  }
  return withComments(lines, before).join('\n') + '\n'
}

/** A table by size as a document of its own. */
export const writeSizes = (table: Bands): string =>
  `key = ${value(table.key)}\nlabel = ${value(table.label)}\nby = ${value(table.by)}\nrows = [\n${table.rows
    .map((row) => `  ${value(row)},\n`)
    .join('')}]\n`

const empty = (what: unknown) =>
  what === undefined || what === '' || what === false || (Array.isArray(what) && !what.length)

function value(what: unknown): string {
  if (typeof what === 'string') return JSON.stringify(what)
  if (Array.isArray(what)) return `[${what.map(value).join(', ')}]`
  if (typeof what !== 'object' || what === null) return String(what)
  const fields = Object.entries(what)
    .filter(([, each]) => !empty(each))
    .map(([name, each]) => `${/^[\w-]+$/.test(name) ? name : JSON.stringify(name)} = ${value(each)}`)
  return `{ ${fields.join(', ')} }`
}

/** What a comment is known to stand above: the name a line begins with, or the first words in it. */
const tokenOf = (line: string) => /^\s*(\w+) =/.exec(line)?.[1] ?? /"([^"]*)"/.exec(line)?.[0] ?? ''

function withComments(lines: string[], before: string): string[] {
  const comments = new Map<string, string[]>()
  let waiting: string[] = []
  for (const line of before.split('\n')) {
    if (/^\s*#/.test(line)) waiting.push(line)
    else if (line.trim() && waiting.length) {
      comments.set(tokenOf(line), [...(comments.get(tokenOf(line)) ?? []), ...waiting])
      waiting = []
    }
  }
  const set: string[] = []
  for (const line of lines) {
    const above = comments.get(tokenOf(line))
    comments.delete(tokenOf(line))
    set.push(...(above ?? []), line)
  }
  // What stood above a line that is gone stays at the head.
  return [...[...comments.values()].flat(), ...set, ...waiting]
}

/** Whether a formula, or words of the bill, use a value. */
export function isUsed(document: MakeUpDocument, name: string): boolean {
  const trial = JSON.parse(JSON.stringify(document)) as MakeUpDocument
  const before = JSON.stringify(trial)
  rename(trial, name, `${name}_`)
  return JSON.stringify(trial) !== before
}

/** Another name for a value, wherever formulas and words use it. */
export function rename(document: MakeUpDocument, from: string, to: string): void {
  if (!from || !to || from === to) return
  const name = new RegExp(`\\b${from}\\b`, 'g')
  const inFormula = (text: string) => text.replace(name, to)
  const inWords = (text: string | undefined) => text?.replaceAll(`{${from}}`, `{${to}}`)
  for (const each of document.derived ?? []) each.formula = inFormula(each.formula)
  for (const each of document.bands ?? []) each.by = inFormula(each.by)
  for (const each of document.cautions ?? []) each.when = inFormula(each.when)
  for (const each of document.outputs ?? []) {
    each.formula = inFormula(each.formula)
    if (each.purchase)
      each.purchase = { pack: inWords(each.purchase.pack)!, holds: inFormula(each.purchase.holds) }
    for (const words of ['item', 'section', 'family'] as const)
      if (each[words]) each[words] = inWords(each[words])!
  }
  for (const bar of document.bars ?? []) {
    if (bar.output === from) bar.output = to
    if (bar.legs) bar.legs = bar.legs.map(inFormula)
    for (const of of ['d', 'number', 'r', 'run', 'laid'] as const) if (bar[of]) bar[of] = inFormula(bar[of]!)
  }
  for (const part of document.sketch ?? []) {
    part.points = part.points.map(([x, y]) => [inFormula(x), inFormula(y)])
    if (part.radius) part.radius = inFormula(part.radius)
  }
}

/** What a number of things is had in: whole ones only, or in parts. */
export function hadWhole(text: string, key: string, whole: boolean): string {
  const document = read(text)
  const output = document.outputs?.find((each) => each.key === key)
  if (output && whole) output.formula = `ceil(${output.formula})`
  else if (output) output.parts = true
  return write(document, text)
}

/** A name for formulas, from words: “Bars at each end” is bars_at_each_end. */
export const nameFrom = (words: string) =>
  words
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
    .slice(0, 32)
