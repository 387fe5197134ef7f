// How the open project measures and writes numbers: its units, its decimal sign and what sets thousands apart.
import { shallowRef } from 'vue'
import type { Schemas } from '../api/client'

export type Ways = Pick<Schemas['ProjectView'], 'unit_system' | 'numbers'>
const AS_KEPT: Ways = { unit_system: 'metric', numbers: '' }
const ways = shallowRef(AS_KEPT)

/** From here on in these ways; in none of their own without any. */
export function writeAs(own?: Ways): void {
  ways.value = own ?? AS_KEPT
}
export const decimalSign = () => ways.value.numbers.at(-2) ?? '.'
export function thousandsSign(): string {
  const sign = ways.value.numbers[1] ?? ' '
  return sign === ' ' ? '\u00a0' : /\d/.test(sign) ? '' : sign
}

const US: Record<string, string> = { m: 'ft', mm: 'in', 'm²': 'ft²', 'm³': 'yd³', kg: 'lb', t: 'ton' }
/** The unit that the project has instead of a metric one. */
export const unitHere = (metric: string) => (ways.value.unit_system === 'us' && US[metric]) || metric
/** Lengths on a sheet come in metres. */
export const lengthHere = (metres: number) => (ways.value.unit_system === 'us' ? metres / 0.3048 : metres)

export const systems: { value: Ways['unit_system']; label: string }[] = [
  { value: 'metric', label: 'metric: m, m², m³, kg, t' },
  { value: 'us', label: 'US customary: ft, ft², yd³, lb, ton' },
]
export const writings: { value: Ways['numbers']; label: string }[] = [
  { value: '', label: '1 234.5, asked where unsure' },
  ...(['1 234.5', '1,234.5', '1234.5', '1 234,5', '1.234,5', '1234,5'] as const).map((written) => ({
    value: written,
    label: written,
  })),
]
/** Whether a unit is of the system that the project doesn't measure in. */
export const isForeign = (unit: string, system: Ways['unit_system']) =>
  (system === 'us' ? Object.keys(US) : Object.values(US)).includes(unit)
