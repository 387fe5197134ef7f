"""The part of the graph that is the ground: surveys looked through, and surfaces. Both are worked out by
jobs; earthworks are elements, and worked out as such (see ``measured``)."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import Any

import numpy as np

from ...core.findings import Finding
from ...core.ground.surface import Surface
from ...store.models import (
    GroundLine,
    GroundSurface,
    Level,
    LevelDecision,
    Project,
    SurfaceMade,
    SurfaceSurvey,
    Survey,
    SurveyLooked,
)
from ..keeping.graph import After, Ids, Node, Slow, Written
from .kept import looked_packed, surface_packed
from .surfaces import make, surface_print
from .surveys import look, survey_print

LEVELS, SURFACES = "levels", "surfaces"


def _as_it_was(_project: Project, ids: Collection[int]) -> Ids:
    """What is kept holds again, as after an undo: no work, but whatever rests on it is to hear of it."""
    return set(ids)


def _stale_surveys(ids: Ids) -> Ids:
    kept = dict(
        SurveyLooked.select(SurveyLooked.survey, SurveyLooked.fingerprint)
        .where(SurveyLooked.survey << list(ids))
        .tuples()
    )
    there = {row.id for row in Survey.those(Survey.id, ids)}
    return {each for each in there if kept.get(each) != survey_print(each)}


def _look(survey_id: int, progress: Callable[[float], None]) -> dict[str, Any]:
    seen, triangles = look(Survey.get_by_id(survey_id))
    progress(0.8)
    corners = [line.corners for line in seen.survey.lines]
    known = np.concatenate([seen.survey.points[seen.usable], *corners])
    bounds = [*known[:, :2].min(axis=0), *known[:, :2].max(axis=0)] if len(known) else []
    return {
        "number": len(seen.survey.points), "used": int(seen.usable.sum()), "undecided": seen.undecided,
        "doubts": [[d.kind, d.says, len(d.which), len(d.undecided)] for d in seen.doubts],
        "bounds": [float(each) for each in bounds], "found": looked_packed(seen, triangles),
    }  # fmt: skip


def _keep_looked(survey_id: int, found: dict[str, Any]) -> None:
    survey = Survey.get_by_id(survey_id)
    SurveyLooked.delete().where(SurveyLooked.survey == survey_id).execute()
    SurveyLooked.create(
        project=survey.project_id, survey=survey_id, fingerprint=survey_print(survey_id), **found
    )


def _no_levels(survey_id: int, says: str) -> None:
    empty = {"number": 0, "used": 0, "undecided": 1, "bounds": [], "found": b""}
    _keep_looked(survey_id, {**empty, "doubts": [["unread", says, 0, 1]]})


def _stale_surfaces(ids: Ids) -> Ids:
    kept = dict(
        SurfaceMade.select(SurfaceMade.surface, SurfaceMade.fingerprint)
        .where(SurfaceMade.surface << list(ids))
        .tuples()
    )
    there = {row.id for row in GroundSurface.those(GroundSurface.id, ids)}
    return {each for each in there if kept.get(each) != surface_print(each)}


def _make(surface_id: int, progress: Callable[[float], None]) -> dict[str, Any]:
    made = make(surface_id)
    progress(0.7)
    return {
        "number": len(np.unique(made.triangles)), "triangles": len(made.triangles),
        "lowest": made.lowest, "highest": made.highest,
        "plan_area": made.plan_area, "true_area": made.true_area,
        "bounds": _bounds(made), "findings": [_plain(f) for f in made.findings],
        "says": "", "packed": surface_packed(made),
    }  # fmt: skip


def _bounds(made: Surface) -> list[float]:
    used = made.points[np.unique(made.triangles), :2]
    return [float(each) for each in (*used.min(axis=0), *used.max(axis=0))]


def _plain(finding: Finding) -> list[Any]:
    return [finding.says, finding.field, finding.wrong, finding.code]


def _keep_made(surface_id: int, found: dict[str, Any]) -> None:
    surface = GroundSurface.get_by_id(surface_id)
    SurfaceMade.delete().where(SurfaceMade.surface == surface_id).execute()
    SurfaceMade.create(
        project=surface.project_id, surface=surface_id, fingerprint=surface_print(surface_id), **found
    )


def _no_surface(surface_id: int, says: str) -> None:
    empty = {"number": 0, "triangles": 0, "lowest": None, "highest": None, "plan_area": None}
    rest = {"true_area": None, "bounds": [], "findings": [], "packed": b""}
    _keep_made(surface_id, {**empty, **rest, "says": says})


def _survey_name(survey_id: int) -> str:
    return f"Survey {Survey.get_by_id(survey_id).name}"


def _surface_name(surface_id: int) -> str:
    return f"Surface {GroundSurface.get_by_id(surface_id).name}"


NODES = (
    Node(
        name=LEVELS,
        table=Survey,
        gives=(SurveyLooked.doubts,),
        edges=(
            Written(
                Survey,
                (Survey.levels, Survey.unit, Survey.level_unit, Survey.swapped, Survey.known, Survey.sheet),
            ),
            Written(Level, through=(Level.survey,)),
            Written(LevelDecision, through=(LevelDecision.survey,)),
            Written(GroundLine, through=(GroundLine.survey,)),
        ),
        work=_as_it_was,
        slow=Slow(_stale_surveys, survey_print, _look, _keep_looked, _no_levels, _survey_name),
    ),
    Node(
        name=SURFACES,
        table=GroundSurface,
        gives=(SurfaceMade.packed,),
        edges=(
            Written(GroundSurface, (GroundSurface.position,)),
            Written(SurfaceSurvey, through=(SurfaceSurvey.surface,)),
            Written(GroundLine, through=(GroundLine.surface,)),
            After(LEVELS, through=(SurfaceSurvey.survey, SurfaceSurvey.surface)),
        ),
        work=_as_it_was,
        slow=Slow(_stale_surfaces, surface_print, _make, _keep_made, _no_surface, _surface_name),
    ),
)
