// Bars in the project's units: legs in mm, or in; masses in kg, or lb, and in t, or tons.
import { shown } from '../../desk/numbers'
import { unitHere } from '../../desk/ways'

const us = () => unitHere('kg') === 'lb'
export function massHere(kg: number, places = 1): { text: string; unit: string } {
  return { text: shown(us() ? kg / 0.45359237 : kg, places), unit: unitHere('kg') }
}
/** In tonnes, or short tons. */
export function tonnesHere(kg: number): { text: string; unit: string } {
  return { text: shown(us() ? kg / 907.18474 : kg / 1000, 3), unit: us() ? 'ton' : 't' }
}

/** A leg in the unit legs are typed in, to the mm, or in inches. */
export const legShown = (mm: number) => (unitHere('mm') === 'in' ? shown(mm / 25.4, 0, 2) : shown(mm, 0))
