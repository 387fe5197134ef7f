// The bill's items, read a window at a time: of those in view, and of those that are asked for.
import { useQueries, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useProjectId } from '../../api/project'

type Item = Schemas['ItemView']
const WINDOW = 60

/** The items of a bill by their place in its order; those not read yet are missing. */
export function useBillItems(outline: Ref<Schemas['BillOutline'] | undefined>, bill: Ref<number | null>) {
  const queries = useQueryClient()
  const project = useProjectId()
  const seen = ref({ from: 0, to: 0 })
  const number = computed(() => outline.value?.sections.reduce((sum, section) => sum + section.holds, 0) ?? 0)

  const firsts = computed(() => {
    if (!number.value) return []
    const last = Math.min(seen.value.to, number.value - 1)
    const from = Math.floor(Math.max(seen.value.from, 0) / WINDOW)
    return Array.from({ length: Math.floor(last / WINDOW) - from + 1 }, (_, n) => (from + n) * WINDOW)
  })
  const windowAt = (first: number) => ({
    queryKey: keys.itemWindow(project.value, bill.value, first),
    queryFn: () =>
      ask(
        client.GET('/api/projects/{project_id}/bill/items', {
          params: { path: { project_id: project.value }, query: { first, most: WINDOW, bill: bill.value } },
        }),
      ),
  })
  const read = useQueries({ queries: computed(() => firsts.value.map(windowAt)) })
  const items = computed(() => {
    const found = new Map<number, Item>()
    read.value.forEach((one, at) => one.data?.forEach((item, n) => found.set(firsts.value[at] + n, item)))
    return found
  })

  /** The item at a place, read if it must be. */
  async function at(place: number): Promise<Item | undefined> {
    if (place < 0 || place >= number.value) return undefined
    const first = Math.floor(place / WINDOW) * WINDOW
    return (await queries.ensureQueryData(windowAt(first)))[place - first]
  }
  /** Where an item stands, with the windows around it read. */
  async function placeOf(item: number): Promise<number> {
    const known = [...items.value].find(([, each]) => each.id === item)
    if (known) return known[0]
    const path = { project_id: project.value, item }
    const place = await ask(client.GET('/api/projects/{project_id}/items/{item}/place', { params: { path } }))
    if (place.bill !== bill.value) return -1
    await at(place.index)
    return place.index
  }
  /** Which bill an item is in; none for the project's own. */
  const billOf = (item: number) =>
    ask(
      client.GET('/api/projects/{project_id}/items/{item}/place', {
        params: { path: { project_id: project.value, item } },
      }),
    ).then((place) => place.bill)
  /** Items that were read at any time, such as the one in focus after scrolling away. */
  const known = (item: number) =>
    queries
      .getQueriesData<Item[]>({ queryKey: keys.items(project.value) })
      .flatMap(([, window]) => window ?? [])
      .find((each) => each.id === item)

  return { items, number, seen, at, placeOf, billOf, known }
}
