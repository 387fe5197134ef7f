// The ground that lies beneath a plan: relief and contours; and how far a plan reaches around what is on it.
import { computed, type MaybeRefOrGetter } from 'vue'
import { useContours, useSurface } from '../../api/ground'
import { useProjectId } from '../../api/project'

/** Of a surface, by its id where there is one; contours as far apart as chosen, or as fits where 0. */
export function useBeneath(ground: () => number | null, interval: MaybeRefOrGetter<number> = 0) {
  const project = useProjectId()
  const { data: surface } = useSurface(ground)
  /** What the surface was made from; nothing while it can't be. */
  const made = computed(() => (surface.value?.says ? '' : (surface.value?.made ?? '')))
  const { data: contours, error: contoursRefused } = useContours(ground, made, interval)
  const relief = computed(() => {
    const bounds = surface.value?.bounds ?? []
    const id = ground()
    if (!made.value || bounds.length !== 4 || !id) return null
    return { url: `/api/projects/${project.value}/surfaces/${id}/relief.png?made=${made.value}`, bounds }
  })
  /** Bounds of a plan of something on it, a share of their size left around; else the ground's. */
  function around(bounds: number[] | undefined, share: number, least = 0): number[] {
    if (bounds?.length !== 4) return surface.value?.bounds ?? []
    const [west, south, east, north] = bounds
    const grow = Math.max((east - west) * share, (north - south) * share, least)
    return [west - grow, south - grow, east + grow, north + grow].map((v) => Math.round(v))
  }
  return { surface, made, contours, contoursRefused, relief, around }
}
