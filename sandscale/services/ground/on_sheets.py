"""Where what is drawn on a sheet lies on the ground."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...core.ground.pieces import Floats
from ...core.refusals import BadEntry, Refusal
from ...store.models import Sheet, Survey
from .surveys import placed


def known_of(sheet_id: int) -> list[Survey]:
    """The surveys picked off a sheet, two points of which are known."""
    rows = Survey.select().where(Survey.sheet == sheet_id).order_by(Survey.position, Survey.id)
    return [row for row in rows if len(row.known) == 2]


def on_ground(sheet: Sheet, corners: Sequence[Sequence[float]]) -> Floats:
    """Places of a sheet, in its units, as k × 2 on the ground, in m.

    Raises:
        BadEntry: no two points of the sheet are known.
    """
    surveys = known_of(sheet.id)
    if not surveys:
        raise BadEntry(
            f"It isn't known where {sheet.revision.drawing.number}, page {sheet.page} lies on the ground.",
            field="figure", remedy="Say where two points of it lie: Levels, add, picked off a sheet.",
        )  # fmt: skip
    try:
        found: Floats = placed(surveys[0])(np.array([corner[:2] for corner in corners], dtype=float))
    except Refusal as refusal:
        raise BadEntry(refusal.sentence, field="figure", remedy=refusal.remedy) from None
    return found
