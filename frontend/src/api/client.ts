// The typed client of the API, and refusals as values the interface can show.
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** A refusal of the server: a sentence, the field at fault, a remedy; both values when a write was stale. */
export class Problem extends Error {
  constructor(
    readonly sentence: string,
    readonly remedy: string = '',
    readonly field: string = '',
    readonly status: number = 0,
    readonly clash: Clash | null = null,
    /** The numbers the sentence tells, by name; `wait` is seconds to wait before trying again. */
    readonly numbers: Record<string, number> = {},
    readonly code: string = '',
  ) {
    super(remedy ? `${sentence} ${remedy}` : sentence)
  }
}

export interface Clash {
  yours: Record<string, unknown>
  theirs: Record<string, unknown>
  version: number
}

let csrfToken = ''
let known = 0

/** The latest change this tab has put in place: an answer to a write tells all that moved since. */
export const knownChange = () => known
/** Start from the change a project was read at; 0 while none is. */
export function startAt(change: number): void {
  known = change
}
/** Go on to a change; false where that, or a later one, was put in place already. */
export function reach(change: number): boolean {
  if (change <= known) return false
  known = change
  return true
}

export function setToken(token: string): void {
  csrfToken = token
}

export const client = createClient<paths>({ baseUrl: '/' })
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-Sandscale-Token', csrfToken)
      request.headers.set('X-Sandscale-Known', String(known))
    }
    return request
  },
})

interface Outcome<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The answer of a call, or a Problem thrown. */
export async function ask<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>
  try {
    outcome = await call
  } catch {
    throw new Problem('The server can’t be reached.', 'What you typed is kept; try again in a moment.')
  }
  if (outcome.data !== undefined) return outcome.data
  throw problemOf(outcome.error, outcome.response.status)
}

function problemOf(body: unknown, status: number): Problem {
  const said = (typeof body === 'object' && body !== null ? body : {}) as Record<string, unknown>
  const title =
    typeof said.title === 'string' ? said.title : 'The server could not finish this; nothing was changed.'
  const clash = said.yours
    ? ({ yours: said.yours, theirs: said.theirs, version: said.version } as Clash)
    : null
  const numbers = (said.numbers ?? {}) as Record<string, number>
  const [remedy, field, code] = [said.remedy, said.field, said.code].map((each) => String(each ?? ''))
  return new Problem(title, remedy, field, status, clash, numbers, code)
}

/** Send a file: as a form for a drawing, as the body for a project. */
export async function sendFile<T>(url: string, body: FormData | Blob): Promise<T> {
  return ask<T>(
    fetch(url, { method: 'POST', body, headers: { 'X-Sandscale-Token': csrfToken } }).then(
      async (response) => {
        const read = await response.json().catch(() => undefined)
        return response.ok ? { data: read as T, response } : { error: read, response }
      },
    ),
  )
}
