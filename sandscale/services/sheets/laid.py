"""How a sheet lies over the one it follows, as it is kept and told."""

from __future__ import annotations

import math

from ...core.figures.lay import Lay
from ...core.numbers.working import shown
from ...store.models import Revision, Sheet
from .views import LayView

MM = 25.4 / 72  # of paper, of a sheet unit


def lay_of(sheet: Sheet) -> Lay:
    """How a sheet lies over the one it follows."""
    return Lay(complex(*sheet.lay["turn"]), complex(*sheet.lay["shift"]))


def lay_view(sheet: Sheet) -> LayView | None:
    """How a sheet lies over the one it follows; None where it follows none."""
    if sheet.follows_id is None:
        return None
    lay, former = lay_of(sheet), find_former(sheet)
    return LayView(
        former=former.id, letter=former.revision.letter, turn=[lay.turn.real, lay.turn.imag],
        shift=[lay.shift.real, lay.shift.imag], words=_in_words(lay, sheet),
    )  # fmt: skip


def find_former(sheet: Sheet) -> Sheet:
    """The sheet that one follows, with its revision."""
    former: Sheet = Sheet.select(Sheet, Revision).join(Revision).where(Sheet.id == sheet.follows_id).get()
    return former


def _in_words(lay: Lay, sheet: Sheet) -> str:
    if sheet.lay["by"] == "paper":
        return "as the papers lie; nothing on them tells how"
    middle = complex(sheet.width, sheet.height) / 2
    went = abs(lay.turn / abs(lay.turn) * middle + lay.shift - middle) if lay.turn else 0.0
    parts = []
    if abs(lay.angle) > 1e-4:
        parts.append(f"turned {shown(math.degrees(abs(lay.angle)), 0, 2)}°")
    if abs(lay.size - 1) > 1e-4:
        parts.append(f"{shown(lay.size * 100, 0, 1)} % as large")
    if lay.turn == 1 and lay.shift:
        parts.append(f"moved {shown(abs(lay.shift) * MM, 0, 1)} mm on paper")
    elif lay.turn != 1 and went * MM > 0.5:
        parts.append("moved")
    how = ", ".join(parts) or "as it lay"
    by = f"{sheet.lay['share']:.0%} of its lines" if sheet.lay["by"] == "lines" else "two points"
    return f"{how}, by {by}"
