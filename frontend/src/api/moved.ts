// What a change moved, put in place where it is kept: only what isn't told with its values is read again.
import type { InfiniteData, QueryClient, QueryKey } from '@tanstack/vue-query'
import { nextTick } from 'vue'
import { ask, client, reach, type Schemas } from './client'
import { keys } from './keys'

type Moved = Schemas['Moved']
type Kind = Moved['again'][number]
type Pages = InfiniteData<Schemas['ElementPage']>

const byId = <T extends { id: number }>(rows: T[]) => new Map(rows.map((row) => [row.id, row]))
/** Rows with those that moved put in their places. */
const renewed = <T extends { id: number }>(rows: T[], fresh: Map<number, T>) =>
  rows.some((row) => fresh.has(row.id)) ? rows.map((row) => fresh.get(row.id) ?? row) : rows

/** What lists show of an element. */
const briefOf = (e: Schemas['ElementMoved']): Schemas['ElementBrief'] => ({
  id: e.id,
  version: e.version,
  location: e.location,
  mark: e.mark,
  description: e.description,
  made_by: e.made_by,
  allowance: e.allowance,
  family: e.family,
  value: e.value,
  unit: e.unit,
  findings: e.findings,
  waiting: e.waiting,
  near: e.near,
})

/** Tables of which enquiries are made. */
const ASKING = ['enquiry', 'enquiry_line', 'enquiry_supplier', 'supplier', 'answer']

export function useMovedIn(queries: QueryClient) {
  let reading: Promise<unknown>[] = []
  const underWay = (queryKey: QueryKey) =>
    queries.getQueryCache().findAll({ queryKey, fetchStatus: 'fetching' })
  /** Read again; after a first reading that is under way, for it may have begun before the change. */
  function again(queryKey: QueryKey, exact = false): void {
    for (const query of underWay(queryKey)) {
      if (query.state.data !== undefined || (exact && query.queryKey.length > queryKey.length)) continue
      const first = Promise.resolve(query.promise).catch(() => {})
      reading.push(first.then(() => queries.invalidateQueries({ queryKey: query.queryKey, exact: true })))
    }
    reading.push(queries.invalidateQueries({ queryKey, exact }))
  }
  function change<T>(key: QueryKey, put: (was: T) => T): void {
    queries.setQueriesData<T>({ queryKey: key }, (was) => (was === undefined ? was : put(was)))
    // A reading that began before would put back what was.
    underWay(key).forEach((query) => again(query.queryKey))
  }

  /** Put in place what moved in a project; done when what isn't told is read again, and all of it stands on screen. */
  return async function apply(id: number, moved: Moved): Promise<void> {
    // Of two answers the later tells what the earlier does; coming in after it, the earlier would put back what was.
    if (!reach(moved.change)) return
    reading = []
    if (moved.again.includes('all')) again(keys.project(id))
    else {
      moved.again.forEach((kind) => readAgain(id, kind))
      const tables = new Set(moved.rows.map((row) => row.table))
      rowsMoved(id, moved, tables)
      elementsMoved(id, moved)
      sheetsMoved(id, moved)
      pricesMoved(id, moved, tables)
      billMoved(id, moved)
      // Other bills, and what is told of bills together, aren't told with their values.
      again(keys.openBills(id))
      again(keys.orders(id))
      again(keys.issued(id))
      again(keys.trials(id))
      again(keys.revisions(id))
      if (tables.has('bill')) again(keys.billList(id))
      if (['rate_part', 'item', 'build_up'].some((table) => tables.has(table)) || moved.build_ups.length)
        again(keys.parts(id))
      if (!moved.again.includes('bars')) barsMoved(id, moved)
      if (moved.cut) again(keys.cuttings(id))
      groundMoved(id, moved.ground)
      if (tables.has('own_detailing')) again(keys.detailing(id))
    }
    const read = reading
    // The working column follows by itself; nobody waits for it.
    void queries.invalidateQueries({ queryKey: keys.walks(id) })
    void queries.invalidateQueries({ queryKey: keys.histories(id) })
    await Promise.all(read)
    // What is kept reaches the screen a turn later.
    await new Promise((done) => setTimeout(done))
    await nextTick()
  }

  function readAgain(id: number, kind: Kind): void {
    const of: Record<Kind, QueryKey[]> = {
      all: [keys.project(id)],
      elements: [keys.elements(id), keys.openElements(id), keys.allowances(id)],
      figures: [keys.sheets(id)],
      resources: [keys.resources(id)],
      'build-ups': [keys.buildUps(id), keys.openBuildUps(id)],
      items: [keys.items(id), keys.links(id)],
      bars: [keys.bars(id)],
    }
    of[kind].forEach((key) => again(key))
  }

  /** What of the ground moved is read again by whoever shows it. */
  function groundMoved(id: number, moved: string[]): void {
    if (!moved.length) return
    again(keys.ground(id))
    for (const each of moved) {
      const [kind, row] = each.split(':')
      const of = {
        survey: keys.survey,
        surface: keys.surface,
        earthwork: keys.earthwork,
        trench: keys.network,
        kind: keys.trenchKind,
        route: keys.route,
        typical: keys.typical,
      }[kind]
      // Map and sections of an earthwork or a route are kept under what it was made from: they follow it by themselves.
      if (of) again(of(id, Number(row)), kind === 'earthwork' || kind === 'route')
    }
  }

  function rowsMoved(id: number, moved: Moved, tables: Set<string>): void {
    if (tables.has('location') || moved.order) again(keys.locations(id))
    if (moved.order) again(keys.elements(id))
    if (tables.has('drawing') || tables.has('revision') || tables.has('sheet')) again(keys.drawings(id))
    if (tables.has('item_link')) again(keys.links(id))
    for (const row of moved.rows) {
      if (row.table === 'element' && row.gone) {
        queries.removeQueries({ queryKey: keys.element(id, row.id) })
        again(keys.allowances(id))
      }
      if (row.table === 'survey' && row.gone) queries.removeQueries({ queryKey: keys.survey(id, row.id) })
      if (row.table === 'ground_surface' && row.gone)
        queries.removeQueries({ queryKey: keys.surface(id, row.id) })
      if (row.table === 'element' && row.gone) queries.removeQueries({ queryKey: keys.earthwork(id, row.id) })
      if (row.table === 'element' && row.gone) queries.removeQueries({ queryKey: keys.network(id, row.id) })
      if (row.table === 'element' && row.gone) queries.removeQueries({ queryKey: keys.route(id, row.id) })
      if (row.table === 'typical_section' && row.gone)
        queries.removeQueries({ queryKey: keys.typical(id, row.id) })
      if (row.table === 'trench_kind' && row.gone)
        queries.removeQueries({ queryKey: keys.trenchKind(id, row.id) })
      if (row.table === 'build_up' && row.gone) queries.removeQueries({ queryKey: keys.buildUp(id, row.id) })
    }
  }

  function elementsMoved(id: number, moved: Moved): void {
    if (!moved.elements.length) return
    again(keys.allowances(id))
    const briefs = byId(moved.elements.map(briefOf))
    change<Pages>(keys.elements(id), (was) => ({
      ...was,
      pages: was.pages.map((page) => ({ ...page, elements: renewed(page.elements, briefs) })),
    }))
    for (const element of moved.elements) {
      const key = keys.element(id, element.id)
      if (element.whole) again(key)
      else change<Schemas['ElementView']>(key, (was) => withLines(was, element))
    }
    again(keys.links(id))
  }

  function sheetsMoved(id: number, moved: Moved): void {
    for (const sheet of moved.totals) void queries.invalidateQueries({ queryKey: keys.totals(id, sheet) })
    for (const sheet of moved.sheets) again(keys.sheet(id, sheet))
    const gone = new Set(moved.figures_gone.map((figure) => figure.id))
    const touched = new Set([...moved.figures, ...moved.figures_gone].map((figure) => figure.sheet))
    for (const sheet of touched) {
      change<Schemas['SheetDetail']>(keys.sheet(id, sheet), (was) => {
        const fresh = byId(moved.figures.filter((figure) => figure.sheet === sheet))
        const kept = renewed(was.shapes, fresh).filter((shape) => !gone.has(shape.id))
        const made = [...fresh.values()].filter((shape) => !was.shapes.some((each) => each.id === shape.id))
        return { ...was, shapes: [...kept, ...made] }
      })
    }
    if (touched.size) again(keys.drawings(id))
  }

  /** Bars are told by their elements; whoever shows them reads these. */
  function barsMoved(id: number, moved: Moved): void {
    if (!moved.bars.length) return
    const shown = queries.getQueryCache().findAll({ queryKey: keys.bars(id), type: 'active' })
    if (!shown.length) return again(keys.bars(id))
    reading.push(barsOf(id, moved.bars))
  }
  async function barsOf(id: number, elements: number[]): Promise<void> {
    const params = { path: { project_id: id }, query: { elements: elements.join(',') } }
    const now = await ask(client.GET('/api/projects/{project_id}/bars/of', { params }))
    const was = queries.getQueryData<Schemas['ScheduleView']>(keys.schedule(id))
    const fresh = byId(now.members)
    const before = was?.members.filter((each) => elements.includes(each.id)) ?? []
    const alike =
      was &&
      before.length === now.members.length &&
      before.every((each) => each.holds === fresh.get(each.id)?.holds)
    if (!alike) return void (await queries.invalidateQueries({ queryKey: keys.bars(id) }))
    queries.setQueryData<Schemas['ScheduleView']>(keys.schedule(id), {
      ...was,
      members: renewed(was.members, fresh),
      sizes: now.sizes,
    })
    const lines = byId(now.bars)
    queries.setQueriesData<Schemas['BarView'][]>(
      { queryKey: keys.barLines(id) },
      (rows) => rows && renewed(rows, lines),
    )
    // One line may have come in another's place.
    const gone = (rows?: Schemas['BarView'][]) =>
      rows?.some((row) => elements.includes(row.element) && !lines.has(row.id))
    const listed = queries.getQueriesData<Schemas['BarView'][]>({ queryKey: keys.barLines(id) })
    if (now.many || listed.some(([, rows]) => gone(rows)))
      await queries.invalidateQueries({ queryKey: keys.barLines(id) })
    await queries.invalidateQueries({ queryKey: keys.barSums(id) })
  }

  function pricesMoved(id: number, moved: Moved, tables: Set<string>): void {
    // A list that a row came into, or whose order a name decides, is read again.
    if (tables.has('resource')) again(keys.resources(id))
    else if (moved.resources.length) {
      const fresh = byId(moved.resources)
      change<Schemas['ResourceView'][]>(keys.resources(id), (was) => renewed(was, fresh))
    }
    if (tables.has('supplier')) again(keys.suppliers(id))
    // Of quotes, those that came of no answer are none of an enquiry's.
    const unasked = new Set(
      moved.resources.flatMap((row) =>
        row.quotes.filter((each) => each.answer === null).map((each) => each.id),
      ),
    )
    const asked = moved.rows.some((row) => row.table === 'quote' && (row.gone || !unasked.has(row.id)))
    if (asked || ASKING.some((table) => tables.has(table))) again(keys.enquiries(id))
    if (tables.has('reference_size') || tables.has('rate_band')) again(keys.openBuildUps(id))
    if (tables.has('build_up')) again(keys.buildUps(id))
    else if (moved.build_ups.length) {
      const fresh = byId(moved.build_ups)
      change<Schemas['BuildUpBrief'][]>(keys.buildUps(id), (was) => renewed(was, fresh))
    }
    for (const rate of moved.build_ups) again(keys.buildUp(id, rate.id))
  }

  function billMoved(id: number, moved: Moved): void {
    if (moved.outline) {
      again(keys.bill(id))
      again(keys.items(id))
      // Items stand under other numbers, which elements show beside what is drawn on.
      again(keys.openElements(id))
      return
    }
    if (moved.items.length) {
      const fresh = byId(moved.items)
      change<Schemas['ItemView'][]>(keys.items(id), (was) => renewed(was, fresh))
    }
    if (!moved.sections.length && !moved.foot) return
    const sections = byId(moved.sections)
    change<Schemas['BillOutline']>(keys.bill(id), (was) => ({
      ...was,
      ...moved.foot,
      sections: renewed(was.sections, sections),
    }))
  }
}

/** An open element with the lines that were written, in their order, and what is said of each line now. */
function withLines(was: Schemas['ElementView'], moved: Schemas['ElementMoved']): Schemas['ElementView'] {
  const { lines, gone, line_says, inputs, ...head } = moved
  const fresh = byId(lines)
  const left = was.lines.filter((line) => !gone.includes(line.id) && !fresh.has(line.id))
  const all = [...left, ...lines].sort((a, b) => a.position - b.position || a.id - b.id)
  const asked = inputs ?? was.inputs
  return {
    ...was,
    ...head,
    inputs: asked,
    lines: all.map((line) => ({ ...line, findings: line_says[line.id] ?? [] })),
  }
}
