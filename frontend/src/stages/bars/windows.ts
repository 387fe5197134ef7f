// The schedule's lines, read a window at a time: of those in view, and of those that are asked for.
import { useQueries, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useProjectId } from '../../api/project'

type Bar = Schemas['BarView']
const WINDOW = 60

/** The lines by their place in the schedule's order; those not read yet are missing. */
export function useBarWindows(schedule: Ref<Schemas['ScheduleView'] | undefined>) {
  const queries = useQueryClient()
  const project = useProjectId()
  const seen = ref({ from: 0, to: 0 })
  const number = computed(() => schedule.value?.members.reduce((sum, each) => sum + each.holds, 0) ?? 0)
  /** A place that is gone to: read until it stands in view. */
  const asked = ref<number | null>(null)
  const firsts = computed(() => {
    if (!number.value) return []
    const last = Math.min(seen.value.to, number.value - 1)
    const from = Math.floor(Math.max(Math.min(seen.value.from, number.value - 1), 0) / WINDOW)
    const inView = Array.from({ length: Math.floor(last / WINDOW) - from + 1 }, (_, n) => (from + n) * WINDOW)
    const also = asked.value === null ? null : Math.floor(asked.value / WINDOW) * WINDOW
    return also === null || inView.includes(also) ? inView : [...inView, also]
  })
  const windowAt = (first: number) => ({
    queryKey: keys.barWindow(project.value, first),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/bars/lines', {
          params: { path: { project_id: project.value }, query: { first, most: WINDOW } },
        }),
      ),
  })
  const read = useQueries({ queries: computed(() => firsts.value.map(windowAt)) })
  const bars = computed(() => {
    const found = new Map<number, Bar>()
    read.value.forEach((one, at) => one.data?.forEach((bar, n) => found.set(firsts.value[at] + n, bar)))
    return found
  })
  /** Where a line stands, with the window around it read. */
  async function placeOf(bar: number): Promise<number> {
    const known = [...bars.value].find(([, each]) => each.id === bar)
    if (known) return known[0]
    const path = { project_id: project.value, bar }
    const index = await ask(
      client.GET('/api/projects/{project_id}/bars/lines/{bar}/place', { params: { path } }),
    )
    if (index >= 0) await queries.ensureQueryData(windowAt(Math.floor(index / WINDOW) * WINDOW))
    return index
  }
  /** Lines that were read at any time, such as the one in focus after scrolling away. */
  const known = (bar: number) =>
    queries
      .getQueriesData<Bar[]>({ queryKey: keys.barLines(project.value) })
      .flatMap(([, window]) => window ?? [])
      .find((each) => each.id === bar)
  return { bars, number, seen, asked, placeOf, known }
}
