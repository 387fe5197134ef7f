// A set of detailing rules as a document: read from its text and written back.
import { parse } from 'smol-toml'

export interface Least {
  times_d: number
  least: string
  to?: string
  beyond_bend?: boolean
  step?: string
}
export interface Rules {
  key: string
  name: string
  source: string
  bends: 'formula' | 'count' | 'none'
  bend_times_d?: number
  cut_step: string
  stock: string[]
  counting: string
  grade?: string
  bars: string[]
  former: { to: string; times_d: number }[]
  least_leg: Least
  least_hook: Least
  covers: Record<string, string>
  laps: { concrete: string; times_d: number; above?: string }[]
}
export const read = (text: string): Rules => parse(text) as unknown as Rules

const value = (what: unknown): string => {
  if (typeof what === 'string') return JSON.stringify(what)
  if (Array.isArray(what)) return `[${what.map(value).join(', ')}]`
  if (typeof what === 'object' && what !== null)
    return `{ ${Object.entries(what)
      .filter(([, each]) => each !== undefined && each !== '')
      .map(([name, each]) => `${/^[\w-]+$/.test(name) ? name : JSON.stringify(name)} = ${value(each)}`)
      .join(', ')} }`
  return String(what)
}
const HEAD = [
  'key', 'name', 'source', 'bends', 'bend_times_d', 'cut_step', 'stock', 'counting', 'grade', 'bars', 'former',
  'least_leg', 'least_hook', 'covers', 'laps',
] as const // prettier-ignore
export const write = (rules: Rules): string =>
  HEAD.filter((name) => rules[name] !== undefined && rules[name] !== '')
    .map((name) => `${name} = ${value(rules[name])}\n`)
    .join('')
