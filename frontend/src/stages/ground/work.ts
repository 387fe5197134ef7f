// What an earthwork and a network of trenches are written alike: renamed, deleted, put into the bill.
import { computed, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'

export function useWork(work: Ref<{ id: number; version: number } | undefined>) {
  const { save, trySave, projectId } = useSave()
  const of = computed(() => ({
    params: { path: { project_id: projectId.value, element: work.value?.id ?? 0 } },
  }))
  const rename = (fields: { mark?: string; description?: string }) =>
    save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/elements/{element}', {
          ...of.value,
          body: { version: version ?? work.value!.version, ...fields },
        }),
      ),
    )
  const remove = () =>
    save(() => ask(client.DELETE('/api/projects/{project_id}/elements/{element}', of.value)))
  const bill = (split: Schemas['Split']['split']) =>
    save(() =>
      ask(
        client.POST('/api/projects/{project_id}/earthworks/{element}/into-bill', {
          ...of.value,
          body: { split },
        }),
      ),
    )
  return { of, rename, remove, bill, save, trySave, projectId }
}
