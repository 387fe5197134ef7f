// What is read of values that are tried, and of trials.
import { useQueries, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { ask, client, type Schemas } from './client'
import { keys } from './keys'
import { useProjectId } from './project'

export type Value = Schemas['TriedValue']

export function useTriable(ref: MaybeRefOrGetter<string>) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.tries(id.value, toValue(ref))),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/tries', {
          params: { path: { project_id: id.value }, query: { ref: toValue(ref) } },
        }),
      ),
    enabled: () => !!toValue(ref),
  })
}
export function useTrials(asked: MaybeRefOrGetter<boolean> = true) {
  const id = useProjectId()
  return useQuery({
    queryKey: computed(() => keys.trials(id.value)),
    queryFn: () =>
      ask(client.GET('/api/projects/{project_id}/trials', { params: { path: { project_id: id.value } } })),
    enabled: () => toValue(asked),
  })
}
/** What each of several trials would do; or each value of one by itself. */
export function useEffects(asked: MaybeRefOrGetter<{ trial: number; value?: number; mark: string }[]>) {
  const id = useProjectId()
  return useQueries({
    queries: computed(() =>
      toValue(asked).map(({ trial, value, mark }) => ({
        queryKey: [...keys.trials(id.value), 'effect', trial, value ?? 0, mark],
        queryFn: () =>
          ask(
            client.GET('/api/projects/{project_id}/trials/{trial}/effect', {
              params: { path: { project_id: id.value, trial }, query: value ? { value } : {} },
            }),
          ),
      })),
    ),
  })
}
