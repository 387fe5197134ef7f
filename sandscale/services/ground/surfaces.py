"""Surfaces as the core takes them: made when asked for, or as they were kept."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ...core.findings import Finding
from ...core.ground import decided
from ...core.ground.surface import Surface
from ...core.ground.survey import SurveyLine
from ...core.refusals import BadEntry
from ...store.models import GroundLine, GroundSurface, SurfaceMade, SurfaceSurvey, Survey
from .kept import surface_of
from .surveys import looked, survey_print


def surface_print(surface_id: int) -> str:
    """Of what a surface is made from: the same while that is the same."""
    chosen = SurfaceSurvey.those(SurfaceSurvey.surface, [surface_id], SurfaceSurvey.id)
    lines = GroundLine.those(GroundLine.surface, [surface_id], GroundLine.id)
    told = ([survey_print(each.survey_id) for each in chosen], [(row.kind, row.corners) for row in lines])
    return hashlib.sha256(repr(told).encode()).hexdigest()


def drawn_lines(surface_id: int) -> list[SurveyLine]:
    """The breaklines, boundary and holes drawn for a surface."""
    return [
        SurveyLine(
            row.kind, np.array([[*c[:2], np.nan if c[2] is None else c[2]] for c in row.corners], dtype=float)
        )
        for row in GroundLine.those(GroundLine.surface, [surface_id], GroundLine.id)
    ]


def make(surface_id: int) -> Surface:
    """A surface made as it is now; takes a while.

    Raises:
        BadShape: there are too few levels, or a ring can't be.
        Refusal: a survey can't be read.
    """
    chosen = SurfaceSurvey.those(SurfaceSurvey.surface, [surface_id], SurfaceSurvey.id)
    surveys = {row.id: row for row in Survey.those(Survey.id, [each.survey_id for each in chosen])}
    parts = [looked(surveys[each.survey_id]) for each in chosen]
    made = decided.surface_of(parts, drawn_lines(surface_id))
    findings = list(made.findings)
    for each, (seen, _) in zip(chosen, parts, strict=True):
        if seen.undecided:
            says = (
                f"“{surveys[each.survey_id].name}” has {seen.undecided} doubtful "
                f"level{'s' if seen.undecided != 1 else ''} nobody has decided about."
            )
            findings.append(Finding(says, field="levels", wrong=True, code="undecided"))
    return replace(made, findings=tuple(findings))


def surface_now(surface_id: int) -> Surface:
    """A surface as it is now: as it was kept where that still holds, else made.

    Raises:
        BadEntry: it can't be made.
    """
    now = surface_print(surface_id)
    row = SurfaceMade.get_or_none((SurfaceMade.surface == surface_id) & (SurfaceMade.fingerprint == now))
    if row is None:
        return make(surface_id)
    return _read(row)


def last_made(surface_id: int) -> Surface:
    """A surface as it was last made, which is quick.

    Raises:
        BadEntry: it was never made, or couldn't be.
    """
    row = SurfaceMade.get_or_none(SurfaceMade.surface == surface_id)
    if row is None:
        name = GroundSurface.get_by_id(surface_id).name
        raise BadEntry(f"Surface “{name}” is being made.", field="surface", remedy="Wait a moment.")
    return _read(row)


def _read(row: SurfaceMade) -> Surface:
    if row.says:
        name = GroundSurface.get_by_id(row.surface_id).name
        raise BadEntry(f"Surface “{name}” can't be made: {row.says}", field="surface")
    return _kept(row.id, row.fingerprint)


@lru_cache(maxsize=4)
def _kept(row_id: int, _fingerprint: str) -> Surface:
    row = SurfaceMade.get_by_id(row_id)
    made = surface_of(bytes(row.packed))
    found = [Finding(says, -1, field, wrong, code) for says, field, wrong, code in row.findings]
    return replace(made, findings=tuple(found))
