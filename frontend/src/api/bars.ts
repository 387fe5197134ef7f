// What is read of bars.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { ask, client } from './client'
import { keys } from './keys'
import { useProjectId } from './project'
import { at, reading } from './reading'

export function useSchedule() {
  const id = useProjectId()
  return useQuery(computed(() => reading.schedule(id.value)))
}
export function useShapes() {
  const id = useProjectId()
  return useQuery({
    queryKey: ['shapes'],
    queryFn: () => ask(client.GET('/api/projects/{project_id}/bars/shapes', at(id.value))),
    staleTime: Infinity,
  })
}
export function useSummary() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.barSums(id.value), 'summary']),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/bars/summary', at(id.value))),
  })
}
export function useIssueChanges() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.barSums(id.value), 'changes']),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/bars/changes', at(id.value))),
  })
}
/** The cuttings; asked again while a job is at one. */
export function useCuttings() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.cuttings(id.value)),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/cuttings', at(id.value))),
    refetchInterval: (query) => (query.state.data?.some((each) => each.state === 'working') ? 500 : false),
  })
}
export function useDetailing() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.detailing(id.value)),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/detailing', at(id.value))),
  })
}
