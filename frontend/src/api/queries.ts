// What was read of the server and is kept, one store for the whole application.
import { QueryClient } from '@tanstack/vue-query'
import { Problem } from './client'

const retry = (count: number, error: unknown) => !(error instanceof Problem && error.status) && count < 4
export const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 30_000, retry, refetchOnWindowFocus: true } },
})
