// What is read of a drawing's revisions: where a sheet changed, and what that did to the bill.
import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { ask, client } from './client'
import { keys } from './keys'
import { useProjectId } from './project'
import { inside } from './reading'

export function useChanges(sheet: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.changes(id.value, toValue(sheet))),
    queryFn: () =>
      ask(
        client.GET(
          '/api/projects/{project_id}/sheets/{sheet}/changes',
          inside(id.value, 'sheet', toValue(sheet)),
        ),
      ),
    retry: false,
  })
}
export function useRevised(revision: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.revised(id.value, toValue(revision))),
    queryFn: () =>
      ask(
        client.GET(
          '/api/projects/{project_id}/revisions/{revision}',
          inside(id.value, 'revision', toValue(revision)),
        ),
      ),
    retry: false,
  })
}
/** The lines of a sheet as the server reads them out of it: x1, y1, x2, y2 of each. */
export async function linesOf(project: number, sheet: number): Promise<Float32Array> {
  const answer = await fetch(`/api/projects/${project}/sheets/${sheet}/lines`)
  return answer.ok ? new Float32Array(await answer.arrayBuffer()) : new Float32Array()
}
