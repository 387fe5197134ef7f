// Typical sections as they are typed.
import type { Schemas } from '../../api/client'

export interface TypicalStrip {
  name: string
  width: string
  fall: string
  step: string
  linear: boolean
}
export interface TypicalLayer {
  name: string
  thickness: string
  under: string[]
  spread: string
}
export interface TypicalDocument {
  name: string
  about: string
  alike: boolean
  right: TypicalStrip[]
  left: TypicalStrip[]
  layers: TypicalLayer[]
  cut: string
  fill: string
  ditch_depth: string
  ditch_bottom: string
  ditch_inner: string
  ditch_outer: string
  topsoil: string
}
/** What a new typical section begins with. */
export const FIRST_TYPICAL = {
  name: 'Road',
  right: [
    { name: 'Carriageway', width: '3 m', fall: '2.5 %' },
    { name: 'Verge', width: '1 m', fall: '4 %' },
  ],
  layers: [
    { name: 'Surfacing', thickness: '100 mm', under: ['Carriageway'] },
    { name: 'Base', thickness: '200 mm', under: ['Carriageway'], spread: '150 mm' },
  ],
  topsoil: '150 mm',
}
export const typicalOf = (view: Schemas['TypicalView']) => view.document as unknown as TypicalDocument
