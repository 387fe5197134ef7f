// Masses of bars in the project's units: kg, or lb; from a tonne on in t, or tons.
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
