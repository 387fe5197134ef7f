// The shelves of the person signed in, and putting a document on one.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ask, client, type Schemas } from './client'

export type ShelfKind = Schemas['ShelfDocumentView']['kind']

export function useShelves() {
  return useQuery({ queryKey: ['shelves'], queryFn: () => ask(client.GET('/api/shelves')) }).data
}

/** Puts a document on a shelf as its next number; whoever waits for it shows what was refused. */
export function usePutOnShelf() {
  const queries = useQueryClient()
  return async (shelf: number, kind: ShelfKind, source: string) => {
    await ask(
      client.POST('/api/shelves/{shelf}/documents', { params: { path: { shelf } }, body: { kind, source } }),
    )
    await queries.invalidateQueries({ queryKey: ['shelves'] })
  }
}
