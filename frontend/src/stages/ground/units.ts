// Areas and volumes of the ground come in m² and m³; here in the project's units.
import { quantity } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

export const squareHere = (square: number) => square * lengthHere(1) ** 2
export const cubicHere = (cubic: number) => (unitHere('m³') === 'm³' ? cubic : cubic / 0.9144 ** 3)
export const volumeShown = (cubic: number | null | undefined) =>
  cubic === null || cubic === undefined ? '' : quantity(cubicHere(cubic), unitHere('m³'))
export const areaShown = (square: number | null | undefined) =>
  square === null || square === undefined ? '' : quantity(squareHere(square), unitHere('m²'))
