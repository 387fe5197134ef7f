// What drawing on a sheet does: figures made, moved, copied, reshaped and taken out.
import { ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import type { Corner } from '../../desk/sheet/arcs'
import type { Tool } from '../../desk/sheet/tools'

interface On {
  sheet: Ref<Schemas['SheetDetail'] | undefined>
  element: Ref<Schemas['ElementView'] | undefined>
  figure: Ref<number | null>
  /** The dimension line in focus. */
  line: Ref<number | null>
  /** What was drawn is in focus once it is saved, unless one has gone on to something else meanwhile. */
  pick: (figure: number) => void
}

export function useFigures({ sheet, element, figure, line, pick }: On) {
  const { save, projectId } = useSave()
  const repeat = ref<{ figure: number; by: [number, number] } | null>(null)
  const params = () => ({ params: { path: { project_id: projectId.value } } })
  const path = (id: number) => ({ params: { path: { project_id: projectId.value, figure: id } } })
  const shapeOf = (id: number | null) => sheet.value?.shapes.find((each) => each.id === id)

  async function chooseOnceSaved(drawing: Parameters<typeof save>[0]) {
    const here = document.activeElement
    const saved = await save(drawing)
    if (saved?.id && document.activeElement === here) pick(saved.id)
  }
  /** The line in focus takes the figure when it has none yet. */
  function freeLine(): number | null {
    const lines = element.value?.lines ?? []
    const focused = lines.find((l) => l.id === line.value)
    if (focused && focused.figure === null) return focused.id
    return lines.length === 1 && lines[0].figure === null ? lines[0].id : null
  }
  async function make(what: Tool, points: Corner[], closed: boolean) {
    if (!sheet.value || !element.value) return
    const [on, of] = [sheet.value.id, element.value.id]
    const kind = what === 'run' ? (closed ? 'loop' : 'run') : what === 'count' ? 'count' : 'area'
    await chooseOnceSaved(() =>
      what === 'void'
        ? ask(
            client.POST('/api/projects/{project_id}/voids', {
              ...params(),
              body: { sheet: on, element: of, points },
            }),
          )
        : ask(
            client.POST('/api/projects/{project_id}/figures', {
              ...params(),
              body: { sheet: on, element: of, kind, points, line: freeLine() },
            }),
          ),
    )
  }
  async function shift(what: 'move' | 'copy', by: [number, number]) {
    const shape = shapeOf(figure.value)
    if (!shape) return
    if (what === 'copy') repeat.value = { figure: shape.id, by }
    else
      await save((version) =>
        ask(
          client.POST('/api/projects/{project_id}/figures/{figure}/move', {
            ...path(shape.id),
            body: { version: version ?? shape.version, by },
          }),
        ),
      )
  }
  /** Copies of a figure, each a step further: from bay to bay. */
  async function copy(count: number) {
    const now = repeat.value
    if (!now) return
    repeat.value = null
    const by = Array.from({ length: count }, (_, n): [number, number] => [
      now.by[0] * (n + 1),
      now.by[1] * (n + 1),
    ])
    await chooseOnceSaved(() =>
      ask(
        client.POST('/api/projects/{project_id}/figures/{figure}/copies', {
          ...path(now.figure),
          body: { by },
        }),
      ),
    )
  }
  async function reshape(id: number, points: Corner[], voids: Corner[][]) {
    const shape = shapeOf(id)
    if (!shape) return
    await save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/figures/{figure}', {
          ...path(id),
          body: { version: version ?? shape.version, points, voids },
        }),
      ),
    )
  }
  async function remove(id: number) {
    await save(() => ask(client.DELETE('/api/projects/{project_id}/figures/{figure}', path(id))))
    figure.value = null
  }
  return { repeat, make, shift, copy, reshape, remove }
}

/** Put the totals on a sheet, or take them off. */
export function usePlacedTotals(sheet: Ref<Schemas['SheetDetail'] | undefined>) {
  const { save, projectId } = useSave()
  return async (at: [number, number] | null) => {
    const now = sheet.value
    if (!now) return
    await save((version) =>
      ask(
        client.PUT('/api/projects/{project_id}/sheets/{sheet}/totals', {
          params: { path: { project_id: projectId.value, sheet: now.id } },
          body: { version: version ?? now.version, at },
        }),
      ),
    )
  }
}
