// What is read of the ground, and the ways in which it is written.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, toValue, watch, type MaybeRefOrGetter, type Ref } from 'vue'
import { ask, client, type Schemas } from './client'
import { keys } from './keys'
import { useProjectId } from './project'
import { at, inside, reading } from './reading'

/** While something is being worked out it is asked for now and then, should word of it not come. */
const AGAIN = 1500
export function useGround() {
  const id = useProjectId()
  return useQuery({
    ...computedAsk(() => reading.ground(id.value)),
    refetchInterval: (query) => {
      const now = query.state.data as Schemas['GroundView'] | undefined
      const all = [
        ...(now?.surveys ?? []),
        ...(now?.surfaces ?? []),
        ...(now?.earthworks ?? []),
        ...(now?.networks ?? []),
        ...(now?.routes ?? []),
      ]
      return all.some((each) => each.state === 'working') ? AGAIN : false
    },
  })
}
function computedAsk<T>(of: () => { queryKey: readonly unknown[]; queryFn: () => Promise<T> }) {
  return { queryKey: computed(() => of().queryKey), queryFn: () => of().queryFn() }
}

/** What is read of one of many: none until it is known which; what it was stays until it is read anew. */
function useOne<T extends object>(
  key: (project: number, one: number) => readonly unknown[],
  one: MaybeRefOrGetter<number | null>,
  read: (project: number, one: number) => Promise<T>,
  when: MaybeRefOrGetter<boolean> = true,
) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => key(id.value, toValue(one) ?? 0)),
    queryFn: () => read(id.value, toValue(one) ?? 0),
    enabled: computed(() => toValue(one) !== null && toValue(when)),
    placeholderData: ((before: T | undefined, query?: { queryKey: readonly unknown[] }) =>
      query?.queryKey[1] === id.value && query.queryKey[3] === toValue(one) ? before : undefined) as never,
    retry: false,
    shallow: true, // thousands of places are read as they are
  }) as unknown as { data: Ref<T | undefined>; error: Ref<Error | null> }
}
type One = MaybeRefOrGetter<number | null>
type Made = MaybeRefOrGetter<string>

/** What the survey feed has sent; nothing where there is none. */
export function useDeliveries() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => ['project', id.value, 'deliveries']),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/surveys/feed', at(id.value))),
    retry: false,
    staleTime: 0,
  })
}
export const useSurvey = (survey: One) =>
  useOne(keys.survey, survey, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/surveys/{survey}', inside(p, 'survey', of))),
  )
export const usePoints = (survey: One) =>
  useOne(
    (p, of) => [...keys.survey(p, of), 'points'],
    survey,
    (p, of) => ask(client.GET('/api/projects/{project_id}/surveys/{survey}/points', inside(p, 'survey', of))),
  )
export const useSurface = (surface: One) =>
  useOne(keys.surface, surface, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/surfaces/{surface}', inside(p, 'surface', of))),
  )
/** Contours as far apart as chosen, or as fits where 0; `made` is what the surface was made from. */
export const useContours = (surface: One, made: Made, interval: MaybeRefOrGetter<number>) =>
  useOne(
    (p, of) => [...keys.surface(p, of), 'contours', toValue(made), toValue(interval)],
    surface,
    (p, of) =>
      ask(
        client.GET('/api/projects/{project_id}/surfaces/{surface}/contours', {
          params: { path: { project_id: p, surface: of }, query: { interval: toValue(interval) } },
        }),
      ),
    () => toValue(made) !== '',
  )
export const useEarthwork = (element: One) =>
  useOne(keys.earthwork, element, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/earthworks/{element}', inside(p, 'element', of))),
  )
const ofWork =
  (what: string, made: Made) =>
  (p: number, of: number): readonly unknown[] => [...keys.earthwork(p, of), what, toValue(made)]
const isMade = (made: Made) => () => toValue(made) !== ''
export const useEarthMap = (element: One, made: Made) =>
  useOne(
    ofWork('map', made),
    element,
    (p, of) =>
      ask(client.GET('/api/projects/{project_id}/earthworks/{element}/map', inside(p, 'element', of))),
    isMade(made),
  )
export const useRows = (element: One, made: Made) =>
  useOne(
    ofWork('rows', made),
    element,
    (p, of) =>
      ask(client.GET('/api/projects/{project_id}/earthworks/{element}/rows', inside(p, 'element', of))),
    isMade(made),
  )
export const useRow = (element: One, made: Made, row: One) =>
  useOne(
    (p, of) => [...keys.earthwork(p, of), 'row', toValue(made), toValue(row)],
    element,
    (p, of) =>
      ask(
        client.GET('/api/projects/{project_id}/earthworks/{element}/rows/{row}', {
          params: { path: { project_id: p, element: of, row: toValue(row) ?? 0 } },
        }),
      ),
    () => toValue(made) !== '' && toValue(row) !== null,
  )
export const useBlocks = (element: One, made: Made, wanted: MaybeRefOrGetter<boolean>) =>
  useOne(
    ofWork('blocks', made),
    element,
    (p, of) =>
      ask(client.GET('/api/projects/{project_id}/earthworks/{element}/blocks', inside(p, 'element', of))),
    () => toValue(made) !== '' && toValue(wanted),
  )
export const useNetwork = (element: One) =>
  useOne(keys.network, element, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/networks/{network}', inside(p, 'network', of))),
  )
export const useTrenchKind = (kind: One) =>
  useOne(keys.trenchKind, kind, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/trench-kinds/{trench_kind}', inside(p, 'trench_kind', of))),
  )
/** The long section of the way a run is on; `made` is what the network was made from. */
export const useLong = (element: One, made: Made, run: One) =>
  useOne(
    (p, of) => [...keys.network(p, of), 'long', toValue(made), toValue(run)],
    element,
    (p, of) =>
      ask(
        client.GET('/api/projects/{project_id}/networks/{network}/runs/{run}/long', {
          params: { path: { project_id: p, network: of, run: toValue(run) ?? 0 } },
        }),
      ),
    () => toValue(made) !== '' && toValue(run) !== null,
  )
export const useTrenchSection = (element: One, made: Made, run: One, at: MaybeRefOrGetter<number>) =>
  useOne(
    (p, of) => [...keys.network(p, of), 'section', toValue(made), toValue(run), toValue(at)],
    element,
    (p, of) =>
      ask(
        client.GET('/api/projects/{project_id}/networks/{network}/runs/{run}/section', {
          params: {
            path: { project_id: p, network: of, run: toValue(run) ?? 0 },
            query: { at: toValue(at) },
          },
        }),
      ),
    () => toValue(made) !== '' && toValue(run) !== null,
  )
export const useTypical = (typical: One) =>
  useOne(keys.typical, typical, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/typicals/{typical}', inside(p, 'typical', of))),
  )
export const useRoute = (element: One) =>
  useOne(keys.route, element, (p, of) =>
    ask(client.GET('/api/projects/{project_id}/routes/{route}', inside(p, 'route', of))),
  )
const ofRoute =
  (what: string, made: Made) =>
  (p: number, of: number): readonly unknown[] => [...keys.route(p, of), what, toValue(made)]
export const useRoutePlan = (element: One, made: Made) =>
  useOne(
    ofRoute('plan', made),
    element,
    (p, of) => ask(client.GET('/api/projects/{project_id}/routes/{route}/plan', inside(p, 'route', of))),
    isMade(made),
  )
export const useRouteLong = (element: One, made: Made) =>
  useOne(
    ofRoute('long', made),
    element,
    (p, of) => ask(client.GET('/api/projects/{project_id}/routes/{route}/long', inside(p, 'route', of))),
    isMade(made),
  )
export const useHaul = (element: One, made: Made) =>
  useOne(
    ofRoute('haul', made),
    element,
    (p, of) => ask(client.GET('/api/projects/{project_id}/routes/{route}/haul', inside(p, 'route', of))),
    isMade(made),
  )
/** The runs on sheets that a centreline can go along. */
export const useRunsOfSheets = (element: One, wanted: MaybeRefOrGetter<boolean>) =>
  useOne(
    (p, of) => [...keys.route(p, of), 'runs'],
    element,
    (p, of) => ask(client.GET('/api/projects/{project_id}/routes/{route}/runs', inside(p, 'route', of))),
    wanted,
  )
/** How many sections, and rows of its table, of a route are read at once. */
const SECTIONS = 24
const TABLE_ROWS = 100
type Read<T> = (project: number, route: number, first: number, most: number) => Promise<T>
const readSections: Read<Schemas['RouteSections']> = (project_id, route, first, most) =>
  ask(
    client.GET('/api/projects/{project_id}/routes/{route}/sections', {
      params: { path: { project_id, route }, query: { first, most } },
    }),
  )
export const readTable: Read<Schemas['RouteTable']> = (project_id, route, first, most) =>
  ask(
    client.GET('/api/projects/{project_id}/routes/{route}/table', {
      params: { path: { project_id, route }, query: { first, most } },
    }),
  )
/** What lies along a route about a place, and what follows read ahead: a key held down finds it there. */
function useAlong<T>(
  what: string,
  read: Read<T>,
  element: One,
  made: Made,
  at: MaybeRefOrGetter<number>,
  most: number,
) {
  const id = useProjectId()
  const queries = useQueryClient()
  const page = computed(() => Math.floor(toValue(at) / most))
  const there = computed(() => toValue(made) !== '' && toValue(element) !== null)
  const key = (n: number) => [...ofRoute(what, made)(id.value, toValue(element) ?? 0), n]
  const of = (n: number) => read(id.value, toValue(element) ?? 0, n * most, most)
  watch(
    () => key(page.value).join(),
    () => {
      if (!there.value) return
      for (const n of [page.value + 1, page.value - 1])
        if (n >= 0) void queries.prefetchQuery({ queryKey: key(n), queryFn: () => of(n) })
    },
    { immediate: true },
  )
  const { data: told, error } = useQuery({
    queryKey: computed(() => key(page.value)),
    queryFn: () => of(page.value),
    enabled: there,
    placeholderData: ((before: T | undefined, query?: { queryKey: readonly unknown[] }) =>
      query?.queryKey[1] === id.value && query.queryKey[3] === toValue(element)
        ? before
        : undefined) as never,
    retry: false,
    shallow: true,
  }) as unknown as { data: Ref<T | undefined>; error: Ref<Error | null> }
  // What was read ahead is there at once, however busy a key that is held down keeps the page.
  const data = computed(() => queries.getQueryData<T>(key(page.value)) ?? told.value)
  return { data, error }
}
export const useSections = (element: One, made: Made, at: MaybeRefOrGetter<number>) =>
  useAlong('sections', readSections, element, made, at, SECTIONS)
export const useRouteTable = (element: One, made: Made, at: MaybeRefOrGetter<number>) =>
  useAlong('table', readTable, element, made, at, TABLE_ROWS)
/** Earthworks, trenches and routes as one job; read anew whenever something of the ground moved. */
export function useWhole(by: Ref<Schemas['WholeView']['by']>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.ground(id.value), 'whole', by.value]),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/ground/whole', {
          params: { path: { project_id: id.value }, query: { by: by.value } },
        }),
      ),
  })
}
