// Setting and proving a sheet's scale: what is picked for it, and what is shown meanwhile.
import { computed, ref, watch, type Ref } from 'vue'
import type { Schemas } from '../../api/client'
import type { Corner } from '../../desk/sheet/arcs'
import type { Tool } from '../../desk/sheet/tools'

export const scaleTools: Tool[] = ['scale', 'proof', 'along', 'up', 'detail']

/** `wanted` tells whether a sheet without a scale asks for one at once; `done` is told when it has one. */
export function useScaling(
  sheet: Ref<Schemas['SheetDetail'] | undefined>,
  tool: Ref<Tool>,
  wanted: () => boolean,
  done: () => void,
) {
  const picks = ref<[number, number][]>([])
  const scaling = computed(() => scaleTools.includes(tool.value) || (sheet.value?.ratio === null && wanted()))
  /** The tool the sheet is worked with: two picks, then what they are is typed. */
  const inHand = computed<Tool>(() => {
    if (!scaling.value) return tool.value
    if (picks.value.length >= 2) return 'pick'
    return scaleTools.includes(tool.value) ? tool.value : 'scale'
  })
  /** What was picked stays to be seen while its length or ratio is typed. */
  const line = computed<[number, number][]>(() => {
    const [first, second] = picks.value
    if (!scaling.value || !second) return []
    const ring: [number, number][] = [first, [second[0], first[1]], second, [first[0], second[1]], first]
    return tool.value === 'detail' ? ring : [first, second]
  })
  // Once the scale is set, the keyboard is back on the sheet.
  watch(scaling, (now) => now || done(), { flush: 'post' })
  watch([tool, () => sheet.value?.id], () => (picks.value = []))
  const pick = (points: Corner[]) => (picks.value = points.map((p) => [p[0], p[1]]))
  return { picks, scaling, inHand, line, pick }
}
