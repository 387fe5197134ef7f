// Numbers as they are set in the ledger: with the project's signs, a real minus, decimals that line up.
import { shallowRef } from 'vue'
import { decimalSign, lengthHere, thousandsSign, unitHere } from './ways'

const formats = new Map<string, Intl.NumberFormat>()

function format(least: number, most: number): Intl.NumberFormat {
  const key = `${least}:${most}`
  if (!formats.has(key))
    formats.set(
      key,
      new Intl.NumberFormat('en', { minimumFractionDigits: least, maximumFractionDigits: most }),
    )
  return formats.get(key)!
}

export function shown(value: number | string | null | undefined, least = 2, most = least): string {
  if (value === null || value === undefined || value === '') return ''
  const number = Number(value)
  if (!Number.isFinite(number)) return ''
  // Noise beyond 13 digits is taken off first, and the decimals as written are rounded, as the bill's are:
  // a half is a half on both sides.
  const exact = number.toPrecision(13) as unknown as number
  const text = format(least, Math.max(least, most)).format(exact)
  return text
    .replace('-', '−')
    .split('.')
    .map((part) => part.replaceAll(',', thousandsSign()))
    .join(decimalSign())
}

/** A number in a working: as many decimals as tell something at its size. */
export function precise(value: number | null): string {
  if (value === null) return 'no number'
  const size = Math.abs(value)
  return shown(value, 2, size >= 100 ? 2 : size >= 1 ? 3 : 4)
}

/** A text that is one number, as a number; null where it is a sum or has a unit. */
export function typedNumber(text: string): number | null {
  const plain = text.replace(/[ \u00a0]/g, '').replace(decimalSign(), '.')
  return /^\d+(\.\d*)?$/.test(plain) ? Number(plain) : null
}
/** A number as one types it: no thousands set apart, as many decimals as it has. */
export const typeable = (value: number | string) => String(Number(value)).replace('.', decimalSign())
/** A length on a sheet, in the project's unit. */
export const lengthShown = (metres: number) => `${shown(lengthHere(metres))} ${unitHere('m')}`

export const money = (value: number | string | null | undefined): string => shown(value, 2)
/** A rate, with the places its project rounds it to. */
export const rateShown = (value: number | string | null | undefined): string => shown(value, 2, 4)

const places = shallowRef<Record<string, number>>({})
/** From here on quantities are shown as the project's rules round them into its bill. */
export function roundBy(rules: Record<string, number>): void {
  places.value = rules
}

/** A quantity at its unit's decimals, as the project rounds it into the bill; numbers of things as they
 * come. */
export function quantity(value: number | string, unit: string): string {
  const least = places.value[unit] ?? 2
  return shown(value, least, unit === 'nr' ? Math.max(least, 2) : least)
}

export function signed(value: number): string {
  return `${value > 0 ? '+' : ''}${money(value)}`
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
/** A day as 02 Nov 2026, or with two figures of its year. */
export function day(iso: string | null, brief = false): string {
  if (!iso) return ''
  const [year, month, date] = iso.split('-')
  return `${date} ${MONTHS[Number(month) - 1]} ${brief ? year.slice(2) : year}`
}
