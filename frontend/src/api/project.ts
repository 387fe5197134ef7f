// The open project: what is read of it, and the one way to write to it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { sentenceOf, useNotices } from '../desk/notices'
import { useTally } from '../desk/tally'
import { ask, client, Problem, type Schemas } from './client'

export type Saved = Schemas['Saved']

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
  key: MaybeRefOrGetter<unknown[]>,
  read: (project: number) => Promise<T>,
  enabled: MaybeRefOrGetter<boolean> = true,
  again: (data: T | undefined) => number | false = () => false,
): Read<T> {
  const id = useProjectId()
  return useQuery({
    refetchInterval: (query) => again(query.state.data as T | undefined),
    queryKey: computed(() => ['project', id.value, ...toValue(key)]),
    queryFn: () => read(id.value),
    enabled: computed(() => Number.isFinite(id.value) && toValue(enabled)),
  }) as unknown as Read<T>
}

const at = (project_id: number) => ({ params: { path: { project_id } } })

export const useProject = () =>
  useRead(['whole'], (p) => ask(client.GET('/api/projects/{project_id}', at(p))))
export const useDrawings = () =>
  useRead(['drawings'], (p) => ask(client.GET('/api/projects/{project_id}/drawings', at(p))))
export const useLocations = () =>
  useRead(['locations'], (p) => ask(client.GET('/api/projects/{project_id}/locations', at(p))))
export const useMakeUps = () =>
  useRead(['makeups'], (p) => ask(client.GET('/api/projects/{project_id}/makeups', at(p))))
export const useResources = () =>
  useRead(['resources'], (p) => ask(client.GET('/api/projects/{project_id}/resources', at(p))))
export const useBuildUps = () =>
  useRead(['build-ups'], (p) => ask(client.GET('/api/projects/{project_id}/build-ups', at(p))))
export const useBill = () =>
  useRead(['bill'], (p) => ask(client.GET('/api/projects/{project_id}/bill', at(p))))
export const useChecks = () =>
  useRead(['checks'], (p) => ask(client.GET('/api/projects/{project_id}/checks', at(p))))
export const useHistory = () =>
  useRead(['history'], (p) => ask(client.GET('/api/projects/{project_id}/history', at(p))))

/** A sheet; asked again until what its page holds was read. */
export const useSheet = (sheet: MaybeRefOrGetter<number | null>) =>
  useRead(
    () => ['sheet', toValue(sheet)],
    (project_id) =>
      ask(
        client.GET('/api/projects/{project_id}/sheets/{sheet}', {
          params: { path: { project_id, sheet: toValue(sheet)! } },
        }),
      ),
    () => toValue(sheet) !== null,
    (now) => (now?.content === 'waiting' ? 700 : false),
  )
export const useHistoryOf = (ref: MaybeRefOrGetter<string>) =>
  useRead(
    () => ['history-of', toValue(ref)],
    (project_id) =>
      ask(
        client.GET('/api/projects/{project_id}/history/{ref}', {
          params: { path: { project_id, ref: toValue(ref) } },
        }),
      ),
    () => toValue(ref) !== '',
  )
export const useElement = (element: MaybeRefOrGetter<number | null>) =>
  useRead(
    () => ['element', toValue(element)],
    (project_id) =>
      ask(
        client.GET('/api/projects/{project_id}/elements/{element}', {
          params: { path: { project_id, element: toValue(element)! } },
        }),
      ),
    () => toValue(element) !== null,
  )
export const useBuildUp = (build_up: MaybeRefOrGetter<number | null>) =>
  useRead(
    () => ['build-up', toValue(build_up)],
    (project_id) =>
      ask(
        client.GET('/api/projects/{project_id}/build-ups/{build_up}', {
          params: { path: { project_id, build_up: toValue(build_up)! } },
        }),
      ),
    () => toValue(build_up) !== null,
  )
export const useWalk = (ref: MaybeRefOrGetter<string>) =>
  useRead(
    () => ['walk', toValue(ref)],
    (project_id) =>
      ask(
        client.GET('/api/projects/{project_id}/walk/{ref}', {
          params: { path: { project_id, ref: toValue(ref) } },
        }),
      ),
    () => toValue(ref) !== '',
  )

/** A write: given the version to write over when a clash was answered with “write mine”. */
export type Send = (version?: number) => Promise<Saved>

/**
 * The one way to write. Tells the tally, refreshes what is on screen, and shows a refusal or a clash.
 * `save` shows a refusal and answers null. `trySave` and `tryMake` are for cells of a table, which keep a refused value
 * and say themselves why: they answer the refusal's sentence instead.
 */
export function useSave() {
  const queries = useQueryClient()
  const notices = useNotices()
  const tally = useTally()
  const id = useProjectId()

  async function refresh(): Promise<void> {
    await queries.invalidateQueries({ queryKey: ['project', id.value] })
  }

  /** What was saved; null where a clash was decided for the other's value. Left undecided, a clash is a refusal. */
  async function attempt(send: Send): Promise<Saved | null> {
    tally.begin()
    try {
      let saved: Saved
      try {
        saved = await send()
      } catch (error) {
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
      tally.moved(id.value, saved)
      notices.clear()
      await refresh()
      return saved
    } finally {
      tally.end()
    }
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
