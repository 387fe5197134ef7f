// Numbers as they are set in the ledger: grouped by spaces, a real minus sign, decimals that line up.
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
  const text = format(least, Math.max(least, most)).format(number)
  return text.replaceAll(',', '\u00a0').replace('-', '−')
}

/** A number in a working: as many decimals as tell something at its size. */
export function precise(value: number): string {
  const size = Math.abs(value)
  return shown(value, 2, size >= 100 ? 2 : size >= 1 ? 3 : 4)
}

export const money = (value: number | string | null | undefined): string => shown(value, 2)

/** A quantity at its unit's decimals: whole kilograms and numbers, two decimals for the rest. */
export function quantity(value: number | string, unit: string): string {
  return shown(value, unit === 'kg' || unit === 'nr' ? 0 : 2, unit === 'nr' ? 2 : unit === 'kg' ? 0 : 2)
}

export function signed(value: number): string {
  return `${value > 0 ? '+' : ''}${money(value)}`
}

export function day(iso: string | null, brief = false): string {
  if (!iso) return ''
  return new Date(`${iso}T00:00:00`).toLocaleDateString('en-GB', {
    day: '2-digit',
    month: 'short',
    year: brief ? '2-digit' : 'numeric',
  })
}
