// What is read of what is to be bought, and of orders.
import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { ask, client } from './client'
import { keys } from './keys'
import { useProjectId } from './project'

export function useOrdering() {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.ordering(id.value)),
    queryFn: () =>
      ask(client.GET('/api/projects/{project_id}/orders', { params: { path: { project_id: id.value } } })),
  })
}
export function useOrder(order: MaybeRefOrGetter<number>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.order(id.value, toValue(order))),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/orders/{order_id}', {
          params: { path: { project_id: id.value, order_id: toValue(order) } },
        }),
      ),
  })
}
export function useNeedsBy(by: MaybeRefOrGetter<'section' | 'stage'>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.orders(id.value), 'by', toValue(by)]),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/orders/needs', {
          params: { path: { project_id: id.value }, query: { by: toValue(by) } },
        }),
      ),
  })
}
/** The elements whose materials are ordered, and those for which something is missing; asked for where it is shown. */
export function useOrderedElements(asked: MaybeRefOrGetter<boolean>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => [...keys.orders(id.value), 'elements']),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/orders/elements', {
          params: { path: { project_id: id.value } },
        }),
      ),
    enabled: () => toValue(asked),
  })
}
