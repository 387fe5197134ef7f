// What others do in the project, seen within a second or two: its latest change is asked for again and again, with
// what moved since the one known.
import { useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, watch, type Ref } from 'vue'
import { ask, client, knownChange, startAt } from '../api/client'
import { useMovedIn } from '../api/moved'
import { useSession } from '../api/session'
import { useTally } from './tally'

const EVERY = 1000
const WHILE_AWAITING = 150

/**
 * Keep a project as it is now.
 *
 * @param first the change it was read at, before anything else of it was.
 */
export function usePulse(project: Ref<number>, open: Ref<boolean>, first: () => number): void {
  const apply = useMovedIn(useQueryClient())
  const tally = useTally()
  const session = useSession()
  let asking = false
  watch(
    [project, first],
    ([now, change], [was]) => {
      if (now !== was) startAt(0)
      if (!knownChange()) startAt(change)
    },
    { immediate: true },
  )
  useIntervalFn(
    async () => {
      if (!open.value || asking || tally.writing || document.hidden) return
      asking = true
      const id = project.value
      try {
        const params = { path: { project_id: id }, query: { since: knownChange() } }
        const now = await ask(client.GET('/api/projects/{project_id}/pulse', { params }))
        tally.reached(true)
        if (id !== project.value || tally.writing || !now.moved) return
        const theirs = now.by !== session.person?.id
        const label = now.person ? `${now.person}: ${now.label}` : now.label
        await apply(id, now.moved)
        tally.heard(now.change, theirs ? label : null, Number(now.bill_total))
      } catch {
        tally.reached(false)
      } finally {
        asking = false
      }
    },
    computed(() => (tally.awaiting ? WHILE_AWAITING : EVERY)),
  )
}
