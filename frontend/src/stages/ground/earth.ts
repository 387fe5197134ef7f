// How an earthwork is written: its own fields, its formations, classes and stages; and what an outline is being drawn for.
import { ref, type Ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useWork } from './work'

export type Work = Schemas['EarthworkView']
export type Corners = (string | number | null)[][]
export type PartKind = 'formation' | 'class' | 'stage'
type FormationFields = Partial<Omit<Schemas['NewFormation'], 'outline'>> & { outline?: Corners }
type ClassFields = Partial<Omit<Schemas['NewEarthClass'], 'outline'>> & { outline?: Corners }
type StageFields = Partial<Omit<Schemas['NewEarthStage'], 'outline'>> & { outline?: Corners }

export function useEarth(work: Ref<Work | undefined>) {
  const { of, rename, remove, bill, save, projectId } = useWork(work)
  /** What an outline is drawn for: a part there is, or (0) one that is made by it. */
  const drawing = ref<{ kind: PartKind; id: number } | null>(null)
  const one = <K extends string>(name: K, id: number) => ({
    params: {
      path: { project_id: projectId.value, [name]: id } as { project_id: number } & Record<K, number>,
    },
  })

  const change = (fields: Partial<Schemas['EarthworkChange']>) =>
    save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/earthworks/{element}', {
          ...of.value,
          body: { version: version ?? work.value!.work_version, ...fields },
        }),
      ),
    )
  const addFormation = (body: FormationFields) =>
    save(() =>
      ask(client.POST('/api/projects/{project_id}/earthworks/{element}/formations', { ...of.value, body })),
    )
  const changeFormation = (row: { id: number; version: number }, fields: FormationFields) =>
    save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/formations/{formation}', {
          ...one('formation', row.id),
          body: { version: version ?? row.version, ...fields },
        }),
      ),
    )
  const dropFormation = (id: number) =>
    save(() => ask(client.DELETE('/api/projects/{project_id}/formations/{formation}', one('formation', id))))

  const addClass = (body: ClassFields) =>
    save(() =>
      ask(client.POST('/api/projects/{project_id}/earthworks/{element}/classes', { ...of.value, body })),
    )
  const changeClass = (row: { id: number; version: number }, fields: ClassFields) =>
    save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/earth-classes/{earth_class}', {
          ...one('earth_class', row.id),
          body: { version: version ?? row.version, ...fields },
        }),
      ),
    )
  const dropClass = (id: number) =>
    save(() =>
      ask(client.DELETE('/api/projects/{project_id}/earth-classes/{earth_class}', one('earth_class', id))),
    )

  const addStage = (body: StageFields) =>
    save(() =>
      ask(client.POST('/api/projects/{project_id}/earthworks/{element}/stages', { ...of.value, body })),
    )
  const changeStage = (row: { id: number; version: number }, fields: StageFields) =>
    save((version) =>
      ask(
        client.PATCH('/api/projects/{project_id}/earth-stages/{earth_stage}', {
          ...one('earth_stage', row.id),
          body: { version: version ?? row.version, ...fields },
        }),
      ),
    )
  const dropStage = (id: number) =>
    save(() =>
      ask(client.DELETE('/api/projects/{project_id}/earth-stages/{earth_stage}', one('earth_stage', id))),
    )

  const isDrawing = (kind: PartKind, id: number) => drawing.value?.kind === kind && drawing.value.id === id
  /** Begin to draw an outline, or leave it be. */
  function draw(kind: PartKind, id: number) {
    drawing.value = isDrawing(kind, id) ? null : { kind, id }
  }
  /** An outline that was drawn or typed goes to what it is for. */
  function outline(kind: PartKind, id: number, corners: Corners) {
    const now = work.value
    if (!now) return
    if (kind === 'formation') {
      const row = now.formations.find((each) => each.id === id)
      return row ? changeFormation(row, { outline: corners }) : addFormation({ outline: corners })
    }
    if (kind === 'class') {
      const row = now.classes.find((each) => each.id === id)
      return row && changeClass(row, { outline: corners })
    }
    const row = now.stages.find((each) => each.id === id)
    const name = `Stage ${now.stages.length + 1}`
    return row ? changeStage(row, { outline: corners }) : addStage({ name, outline: corners })
  }
  return {
    change, rename, remove, bill, addFormation, changeFormation, dropFormation, addClass, changeClass, dropClass,
    changeStage, dropStage, outline,
    drawing, draw, isDrawing, save, projectId,
  } // prettier-ignore
}
export type Earth = ReturnType<typeof useEarth>
