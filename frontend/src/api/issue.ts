// What is read of what goes out: packages, forms of one's own, live tables.
import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { ask, client } from './client'
import { keys } from './keys'
import { useProjectId } from './project'

export function usePackages() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.packages(id.value)),
    queryFn: () =>
      ask(client.GET('/api/projects/{project_id}/packages', { params: { path: { project_id: id.value } } })),
  })
}
export function usePackagesCompared(before: MaybeRefOrGetter<number>, after: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.packages(id.value), toValue(before), toValue(after)]),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/packages/compared', {
          params: {
            path: { project_id: id.value },
            query: { before: toValue(before), after: toValue(after) },
          },
        }),
      ),
    enabled: () => toValue(before) > 0,
  })
}
export function useForms() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.forms(id.value)),
    queryFn: () =>
      ask(client.GET('/api/projects/{project_id}/forms', { params: { path: { project_id: id.value } } })),
  })
}
export function useForm(form: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.form(id.value, toValue(form))),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/forms/{own_form}', {
          params: { path: { project_id: id.value, own_form: toValue(form) } },
        }),
      ),
  })
}
export function useLiveTables() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.live(id.value)),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/live-tables', { params: { path: { project_id: id.value } } }),
      ),
  })
}
