// A length typed while drawing, with an angle where one is wanted: “5.4”, “5400mm”, “17'-8"”, “5.4 @ 30”.
const SIZES: Record<string, number> = {
  m: 1,
  mm: 0.001,
  cm: 0.01,
  km: 1000,
  ft: 0.3048,
  in: 0.0254,
  yd: 0.9144,
}

/** Metres, and degrees from the x axis where an angle was typed; null where it can't be read. */
export function readTyped(text: string): { metres: number; degrees: number | null } | null {
  const [length, angle, more] = text.split('@').map((part) => part.trim())
  if (more !== undefined || !length) return null
  const metres = readLength(length)
  const degrees = angle === undefined ? null : Number(angle.replace('°', ''))
  if (metres === null || !(metres > 0) || (degrees !== null && (angle === '' || !Number.isFinite(degrees))))
    return null
  return { metres, degrees }
}
function readLength(text: string): number | null {
  const feet = /^(\d+(?:\.\d+)?)\s*(?:'|ft)\s*-?\s*(\d+(?:\.\d+)?)\s*(?:"|in)$/.exec(text)
  if (feet) return Number(feet[1]) * SIZES.ft + Number(feet[2]) * SIZES.in
  const plain = /^(\d*\.?\d+)\s*(mm|cm|km|m|ft|in|yd|'|")?$/.exec(text)
  if (!plain) return null
  const unit = plain[2] === "'" ? 'ft' : plain[2] === '"' ? 'in' : (plain[2] ?? 'm')
  return Number(plain[1]) * SIZES[unit]
}
