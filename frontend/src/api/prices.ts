// What is read of enquiries and suppliers.
import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { ask, client } from './client'
import { keys } from './keys'
import { useProjectId } from './project'

const of = (project: number) => ({ params: { path: { project_id: project } } })

export function useSuppliers() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.suppliers(id.value)),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/suppliers', of(id.value))),
  })
}
export function useEnquiries() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.enquiryList(id.value)),
    queryFn: () => ask(client.GET('/api/projects/{project_id}/enquiries', of(id.value))),
  })
}
export function useEnquiry(enquiry: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.enquiry(id.value, toValue(enquiry))),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/enquiries/{enquiry}', {
          params: { path: { project_id: id.value, enquiry: toValue(enquiry) } },
        }),
      ),
  })
}
