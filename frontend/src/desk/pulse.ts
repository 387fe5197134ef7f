// What others do in the project, seen within a second or two: its latest change is asked for again and again.
import { useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { watch, type Ref } from 'vue'
import { ask, client } from '../api/client'
import { useSession } from '../api/session'
import { useTally } from './tally'

const EVERY = 1000

export function usePulse(project: Ref<number>, open: Ref<boolean>): void {
  const queries = useQueryClient()
  const tally = useTally()
  const session = useSession()
  let known = 0
  let asking = false
  watch(project, () => (known = 0))
  useIntervalFn(async () => {
    if (!open.value || asking || tally.writing || document.hidden) return
    asking = true
    const id = project.value
    try {
      const now = await ask(
        client.GET('/api/projects/{project_id}/pulse', { params: { path: { project_id: id } } }),
      )
      tally.reached(true)
      if (id !== project.value || tally.writing) return
      if (known && now.change > Math.max(known, tally.lastChange)) {
        if (now.by !== session.person?.id) tally.heard(`${now.person}: ${now.label}`, Number(now.bill_total))
        await queries.invalidateQueries({ queryKey: ['project', id] })
      }
      known = now.change
    } catch {
      tally.reached(false)
    } finally {
      asking = false
    }
  }, EVERY)
}
