// The open project: what is read of it, and the one way to write to it.
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import type { InfiniteData } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { sentenceOf, useNotices } from '../desk/notices'
import { useTally } from '../desk/tally'
import { ask, client, Problem, type Schemas } from './client'
import { keys } from './keys'
import { useMovedIn } from './moved'
import { asks, at, inside, reading, type Ask } from './reading'

export type Saved = Schemas['Answer']

/** The id of the project in the address. */
export function useProjectId() {
  const route = useRoute()
  return computed(() => Number(route.params.project))
}

interface Read<T> {
  data: Ref<T | undefined>
  error: Ref<Error | null>
}

function useRead<T>(
  read: (project: number) => Ask<T>,
  enabled: MaybeRefOrGetter<boolean> = true,
  again: (data: T | undefined) => number | false = () => false,
): Read<T> {
  const id = useProjectId()
  return useQuery({
    refetchInterval: (query) => again(query.state.data as T | undefined),
    queryKey: computed(() => read(id.value).queryKey),
    queryFn: () => read(id.value).queryFn(),
    enabled: computed(() => Number.isFinite(id.value) && toValue(enabled)),
  }) as unknown as Read<T>
}
/** A read of one of many: none until it is known which. */
const useOne = <T>(read: (project: number, one: number) => Ask<T>, one: MaybeRefOrGetter<number | null>) =>
  useRead(
    (p) => read(p, toValue(one) ?? 0),
    () => toValue(one) !== null,
  )

export const useProject = () => useRead(reading.whole)
export const useDrawings = () => useRead(reading.drawings)
export const useLocations = () => useRead(reading.locations)
export const useResources = () => useRead(reading.resources)
export const useBill = () => useRead(reading.bill)
export const useElement = (element: MaybeRefOrGetter<number | null>) => useOne(reading.element, element)
export const useBuildUp = (buildUp: MaybeRefOrGetter<number | null>) => useOne(reading.buildUp, buildUp)
export const useMakeUps = () =>
  useRead((p) => asks(keys.makeups(p), () => ask(client.GET('/api/projects/{project_id}/makeups', at(p)))))
/** The make-ups of dimension lines, to choose from. */
export const recipesOf = (makeups: Schemas['MakeUpView'][] | undefined) =>
  (makeups ?? [])
    .filter((each) => each.kind === 'make-up')
    .map((each) => ({ value: each.key, label: each.name }))
export const useBuildUps = () =>
  useRead((p) => asks(keys.buildUps(p), () => ask(client.GET('/api/projects/{project_id}/build-ups', at(p)))))
export const useAllowances = () =>
  useRead((p) =>
    asks(keys.allowances(p), () => ask(client.GET('/api/projects/{project_id}/allowances', at(p)))),
  )
export const useCheckCount = () =>
  useRead((p) =>
    asks(keys.checkCount(p), () => ask(client.GET('/api/projects/{project_id}/checks/count', at(p)))),
  )
export const useChecks = (open: MaybeRefOrGetter<boolean> = true) =>
  useRead(
    (p) => asks(keys.checkList(p), () => ask(client.GET('/api/projects/{project_id}/checks', at(p)))),
    open,
  )

/** Changes, newest first, a window at a time. */
export function useHistory() {
  const id = useProjectId()
  return useInfiniteQuery({
    queryKey: computed(() => keys.history(id.value)),
    initialPageParam: 2 ** 31 - 1,
    queryFn: ({ pageParam }) =>
      ask(
        client.GET('/api/projects/{project_id}/history', {
          params: { path: { project_id: id.value }, query: { before: pageParam, most: CHANGES } },
        }),
      ),
    getNextPageParam: (last) => (last.length < CHANGES ? undefined : last[last.length - 1].id),
  })
}
const CHANGES = 50

type Pages = InfiniteData<Schemas['ElementPage'], number>
/** The elements by location, a window at a time; of those found by some words. */
export function useElements(
  words: MaybeRefOrGetter<string> = '',
  most = 200,
  enabled: MaybeRefOrGetter<boolean> = true,
) {
  const id = useProjectId()
  return useInfiniteQuery({
    enabled: computed(() => toValue(enabled)),
    queryKey: computed(() => [...keys.elementsFound(id.value, toValue(words)), most]),
    initialPageParam: 0,
    // What was found before stands until the next is; never what was found in another project.
    placeholderData: (before: Pages | undefined, query?: { queryKey: readonly unknown[] }) =>
      query?.queryKey[1] === id.value ? before : undefined,
    queryFn: ({ pageParam }) =>
      ask(
        client.GET('/api/projects/{project_id}/elements', {
          params: { path: { project_id: id.value }, query: { first: pageParam, most, find: toValue(words) } },
        }),
      ),
    getNextPageParam: (last) => (last.first + most < last.total ? last.first + most : undefined),
  })
}

/** What is called by some words. */
export const useFind = (words: MaybeRefOrGetter<string>) =>
  useRead(
    (p) =>
      asks(keys.find(p, toValue(words)), () =>
        ask(
          client.GET('/api/projects/{project_id}/find', {
            params: { path: { project_id: p }, query: { find: toValue(words), most: 12 } },
          }),
        ),
      ),
    () => toValue(words).trim() !== '',
  )

/** A sheet; asked again until what its page holds was read. */
export const useSheet = (sheet: MaybeRefOrGetter<number | null>) =>
  useRead(
    (p) => reading.sheet(p, toValue(sheet) ?? 0),
    () => toValue(sheet) !== null,
    (now) => (now?.content === 'waiting' ? 700 : false),
  )
/** What is measured on a sheet, by element. */
export const useTotals = (sheet: MaybeRefOrGetter<number | null>) =>
  useOne(
    (p, of) =>
      asks(keys.totals(p, of), () =>
        ask(client.GET('/api/projects/{project_id}/sheets/{sheet}/totals', inside(p, 'sheet', of))),
      ),
    sheet,
  )
export const useLinks = (item: MaybeRefOrGetter<number>) =>
  useOne(
    (p, of) =>
      asks(keys.linksOf(p, of), () =>
        ask(client.GET('/api/projects/{project_id}/items/{item}/links', inside(p, 'item', of))),
      ),
    item,
  )
/** The items of the bill that need a resource. */
export const useNeeding = (resource: MaybeRefOrGetter<number | null>) =>
  useOne(
    (p, of) =>
      asks(keys.needing(p, of), () =>
        ask(client.GET('/api/projects/{project_id}/resources/{resource}/items', inside(p, 'resource', of))),
      ),
    resource,
  )
/** What is kept of one number, by its ref: none until there is one. */
const useNumber = <T>(read: (project: number, ref: string) => Ask<T>, ref: MaybeRefOrGetter<string>) =>
  useRead(
    (p) => read(p, toValue(ref)),
    () => toValue(ref) !== '',
  )
export const useHistoryOf = (ref: MaybeRefOrGetter<string>) =>
  useNumber(
    (p, of) =>
      asks(keys.historyOf(p, of), () =>
        ask(client.GET('/api/projects/{project_id}/history/{ref}', inside(p, 'ref', of))),
      ),
    ref,
  )
export const useWalk = (ref: MaybeRefOrGetter<string>) =>
  useNumber(
    (p, of) =>
      asks(keys.walk(p, of), () =>
        ask(client.GET('/api/projects/{project_id}/walk/{ref}', inside(p, 'ref', of))),
      ),
    ref,
  )

/** A write: given the version to write over when a clash was answered with “write mine”. */
export type Send = (version?: number) => Promise<Saved>

/**
 * The one way to write. Puts in place what the answer says moved, tells the tally, and shows a refusal or a clash.
 * `save` shows a refusal and answers null. `trySave` and `tryMake` are for cells of a table, which keep a refused value
 * and say themselves why: they answer the refusal's sentence instead.
 */
export function useSave() {
  const queries = useQueryClient()
  const notices = useNotices()
  const tally = useTally()
  const id = useProjectId()

  const apply = useMovedIn(queries)
  /** Read all again: where it isn't known what moved. */
  async function refresh(): Promise<void> {
    await queries.invalidateQueries({ queryKey: keys.project(id.value) })
  }

  /** What was saved; null where a clash was decided for the other's value. Left undecided, a clash is a refusal. */
  async function attempt(send: Send): Promise<Saved | null> {
    tally.begin()
    try {
      let saved: Saved
      try {
        saved = await send()
      } catch (error) {
        if (error instanceof Problem && error.code === 'which-number') {
          const numbers = await notices.which(error)
          if (numbers === null) throw error
          await writeNumbersAs(numbers)
          return await attempt(send)
        }
        if (!(error instanceof Problem) || !error.clash) throw error
        const mine = await notices.decide(error)
        if (mine === null) throw error
        if (!mine) {
          notices.clear()
          await refresh()
          return null
        }
        saved = await send(error.clash.version)
      }
      await apply(id.value, saved.moved)
      tally.moved(saved)
      notices.clear()
      return saved
    } finally {
      tally.end()
    }
  }

  /** How the project writes numbers, said once and kept with it. */
  async function writeNumbersAs(numbers: Schemas['ProjectView']['numbers']): Promise<void> {
    const own = await queries.fetchQuery({ ...reading.whole(id.value), staleTime: 0 })
    const body = { version: own.version, numbers }
    const saved = await ask(client.PATCH('/api/projects/{project_id}', { ...at(id.value), body }))
    await apply(id.value, saved.moved)
    await queries.invalidateQueries({ queryKey: keys.whole(id.value) })
  }

  async function save(send: Send): Promise<Saved | null> {
    try {
      return await attempt(send)
    } catch (error) {
      notices.show(error)
      return null
    }
  }

  async function trySave(send: Send): Promise<string | null> {
    const made = await tryMake(send)
    return typeof made === 'string' ? made : null
  }

  /** The id of what was made, or the refusal's sentence. */
  async function tryMake(send: Send): Promise<number | string> {
    try {
      return (await attempt(send))?.id ?? 0
    } catch (error) {
      return sentenceOf(error)
    }
  }

  return { save, trySave, tryMake, refresh, projectId: id }
}
