// What is read of a project, as it is asked for by a stage and ahead of it.
import { ask, client } from './client'
import { keys } from './keys'

export const at = (project_id: number) => ({ params: { path: { project_id } } })
/** The address of something of a project, by its id there. */
export const inside = <K extends string, V>(project_id: number, name: K, value: V) => ({
  params: { path: { project_id, [name]: value } as { project_id: number } & Record<K, V> },
})

/** What is read of a project: the key it is kept under, and how it is asked for. */
export interface Ask<T> {
  queryKey: readonly unknown[]
  queryFn: () => Promise<T>
}
export const asks = <T>(queryKey: readonly unknown[], queryFn: () => Promise<T>): Ask<T> => ({
  queryKey,
  queryFn,
})
export const reading = {
  whole: (p: number) => asks(keys.whole(p), () => ask(client.GET('/api/projects/{project_id}', at(p)))),
  drawings: (p: number) =>
    asks(keys.drawings(p), () => ask(client.GET('/api/projects/{project_id}/drawings', at(p)))),
  locations: (p: number) =>
    asks(keys.locations(p), () => ask(client.GET('/api/projects/{project_id}/locations', at(p)))),
  resources: (p: number) =>
    asks(keys.resources(p), () => ask(client.GET('/api/projects/{project_id}/resources', at(p)))),
  bill: (p: number) => asks(keys.bill(p), () => ask(client.GET('/api/projects/{project_id}/bill', at(p)))),
  schedule: (p: number) =>
    asks(keys.schedule(p), () => ask(client.GET('/api/projects/{project_id}/bars', at(p)))),
  ground: (p: number) =>
    asks(keys.ground(p), () => ask(client.GET('/api/projects/{project_id}/ground', at(p)))),
  element: (p: number, element: number) =>
    asks(keys.element(p, element), () =>
      ask(client.GET('/api/projects/{project_id}/elements/{element}', inside(p, 'element', element))),
    ),
  buildUp: (p: number, buildUp: number) =>
    asks(keys.buildUp(p, buildUp), () =>
      ask(client.GET('/api/projects/{project_id}/build-ups/{build_up}', inside(p, 'build_up', buildUp))),
    ),
  sheet: (p: number, sheet: number) =>
    asks(keys.sheet(p, sheet), () =>
      ask(client.GET('/api/projects/{project_id}/sheets/{sheet}', inside(p, 'sheet', sheet))),
    ),
}
