// A length typed while drawing, with an angle where one is wanted: “5.4”, “5400mm”, “17'-8"”, “5.4 @ 30”.
import { decimalSign, unitHere } from '../ways'

const SIZES: Record<string, number> = {
  m: 1,
  mm: 0.001,
  cm: 0.01,
  km: 1000,
  ft: 0.3048,
  in: 0.0254,
  yd: 0.9144,
}

/** What may be typed, for a hint. */
export const example = () =>
  unitHere('m') === 'm' ? `5${decimalSign()}4, 5400mm or 17'-8"` : `17${decimalSign()}5, 17'-6" or 210in`

/** Metres, and degrees from the x axis where an angle was typed; null where it can't be read. */
export function readTyped(text: string): { metres: number; degrees: number | null } | null {
  const [length, angle, more] = text
    .replaceAll(decimalSign(), '.')
    .split('@')
    .map((part) => part.trim())
  if (more !== undefined || !length) return null
  const metres = readLength(length)
  const degrees = angle === undefined ? null : Number(angle.replace('°', ''))
  if (metres === null || !(metres > 0) || (degrees !== null && (angle === '' || !Number.isFinite(degrees))))
    return null
  return { metres, degrees }
}
const NUMBER = String.raw`(\d*\.?\d+|(?:\d+ )?\d+/\d+)`
const FEET = new RegExp(String.raw`^${NUMBER}\s*(?:'|ft)\s*-?\s*${NUMBER}\s*(?:"|in)$`)
const PLAIN = new RegExp(String.raw`^${NUMBER}\s*(mm|cm|km|m|ft|in|yd|'|")?$`)
function readLength(text: string): number | null {
  const feet = FEET.exec(text)
  if (feet) return numberOf(feet[1]) * SIZES.ft + numberOf(feet[2]) * SIZES.in
  const plain = PLAIN.exec(text)
  if (!plain) return null
  const unit = plain[2] === "'" ? 'ft' : plain[2] === '"' ? 'in' : (plain[2] ?? unitHere('m'))
  return numberOf(plain[1]) * SIZES[unit]
}
/** A number, a fraction, or both: “5 1/2”. */
function numberOf(text: string): number {
  return text.split(' ').reduce((sum, part) => {
    const [above, below] = part.split('/')
    return sum + Number(above) / Number(below ?? 1)
  }, 0)
}
