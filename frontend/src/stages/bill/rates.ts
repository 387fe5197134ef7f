// Rates as they are chosen for an item.
import type { Schemas } from '../../api/client'
import { rateShown } from '../../desk/numbers'

export const rateLabel = (r: Schemas['BuildUpBrief']) =>
  r.kind === 'banded'
    ? `${r.name}, by band`
    : r.kind === 'reference'
      ? `${r.name}, read at a size`
      : `${r.name}, ${rateShown(r.rate)}`
