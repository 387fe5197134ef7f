// What is read of bills: any of a project's, and two or more of them together.
import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'
import { ask, client, type Schemas } from './client'
import { keys } from './keys'
import { useProjectId } from './project'
import { inside, reading } from './reading'

interface Read<T> {
  data: Ref<T | undefined>
  error: Ref<Error | null>
}
function useRead<T>(
  key: (project: number) => readonly unknown[],
  read: (project: number) => Promise<T>,
  enabled: MaybeRefOrGetter<boolean> = true,
): Read<T> {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => key(id.value)),
    queryFn: () => read(id.value),
    enabled: computed(() => Number.isFinite(id.value) && toValue(enabled)),
    retry: false,
  }) as unknown as Read<T>
}

/** A bill: the project's own where none is named. */
export const useBillOf = (bill: MaybeRefOrGetter<number | null>) =>
  useRead<Schemas['BillOutline']>(
    (p) => (toValue(bill) ? keys.billOf(p, toValue(bill)!) : keys.bill(p)),
    (p) =>
      toValue(bill)
        ? ask(
            client.GET('/api/projects/{project_id}/bill', {
              params: { path: { project_id: p }, query: { bill: toValue(bill) } },
            }),
          )
        : reading.bill(p).queryFn(),
  )
export const useBills = () =>
  useRead(keys.billList, (p) =>
    ask(client.GET('/api/projects/{project_id}/bills', { params: { path: { project_id: p } } })),
  )
export const useParts = (item: MaybeRefOrGetter<number>) =>
  useRead(
    (p) => keys.partsOf(p, toValue(item)),
    (p) => ask(client.GET('/api/projects/{project_id}/items/{item}/parts', inside(p, 'item', toValue(item)))),
  )
export const useCompared = (before: MaybeRefOrGetter<number>, after: MaybeRefOrGetter<number>) =>
  useRead(
    (p) => keys.compared(p, toValue(before), toValue(after)),
    (p) =>
      ask(
        client.GET('/api/projects/{project_id}/bills/compared', {
          params: { path: { project_id: p }, query: { before: toValue(before), after: toValue(after) } },
        }),
      ),
    () => Boolean(toValue(before) && toValue(after)),
  )
export const useMatches = (bill: MaybeRefOrGetter<number>) =>
  useRead(
    (p) => keys.matches(p, toValue(bill)),
    (p) =>
      ask(
        client.GET('/api/projects/{project_id}/bills/{bill_id}/matches', inside(p, 'bill_id', toValue(bill))),
      ),
  )
export interface ReportAsked {
  by: string
  bill: number | null
  adjustments: string
  subcontract: boolean
}
export const useReport = (asked: MaybeRefOrGetter<ReportAsked>) =>
  useRead(
    (p) => keys.report(p, { ...toValue(asked) }),
    (p) =>
      ask(
        client.GET('/api/projects/{project_id}/bill/report', {
          params: { path: { project_id: p }, query: { ...toValue(asked) } },
        }),
      ),
    () => toValue(asked).by !== '',
  )
/** The few items that make most of a bill. */
export const useMost = (bill: MaybeRefOrGetter<number | null>) =>
  useRead(
    (p) => keys.report(p, 'most', toValue(bill)),
    (p) =>
      ask(
        client.GET('/api/projects/{project_id}/bill/most', {
          params: { path: { project_id: p }, query: { bill: toValue(bill) } },
        }),
      ),
  )
/** What bringing a bill into another would come to, by where its sections go. */
export const useMergeSeen = (
  asked: MaybeRefOrGetter<{ into: number; from: number; sections: Record<string, number | null> }>,
) =>
  useRead(
    (p) => keys.merging(p, { ...toValue(asked) }),
    (p) => {
      const { into, from, sections } = toValue(asked)
      return ask(
        client.POST('/api/projects/{project_id}/bills/{bill_id}/merge/seen', {
          ...inside(p, 'bill_id', from),
          body: { into, sections, choices: {} },
        }),
      )
    },
    () => Boolean(toValue(asked).into && toValue(asked).from),
  )
