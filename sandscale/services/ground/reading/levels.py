"""Surveys as they are read: what looks wrong, level by level and on the plan."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ....core.ground.decided import CALLED, TO_DECIDE, Looked, Taken, looked_through
from ....core.numbers.entry import as_typed
from ....formats.levels_in import How, Seen
from ....store.models import GroundLine, Level, LevelDecision, StoredFile, SurfaceSurvey, Survey, SurveyLooked
from ...keeping.acting import Actor, find
from ..surveys import last_looked
from ..views import (
    DoubtView,
    FilePartView,
    LevelPage,
    LevelView,
    LineShape,
    PickedContour,
    PointsView,
    SeenView,
    SurveyView,
)
from .overview import survey_briefs

MOST_ON_PLAN = 20_000
MOST_LEVELS = 400  # in a window


def survey_view(actor: Actor, survey_id: int) -> SurveyView:
    """A survey with what looks wrong with it."""
    row = find(Survey, actor, survey_id)
    seen = SurveyLooked.get_or_none(SurveyLooked.survey == row.id)
    looked = last_looked(row) if seen is not None and seen.found else None
    whole = {d.kind: d.does for d in LevelDecision.those(LevelDecision.survey, [row.id]) if not _single(d)}
    file = StoredFile.select(StoredFile.name).where(StoredFile.id == row.source_id).scalar()
    return SurveyView(
        **survey_briefs([row])[0].model_dump(),
        unit=row.unit, level_unit=row.level_unit, swapped=row.swapped, file=file or "",
        sheet=row.sheet_id, known=row.known, said=[says for says, _ in row.said],
        doubts=[
            DoubtView(
                kind=kind, name=CALLED.get(kind, "Can't be read"), says=says, number=number,
                undecided=undecided, general=number == 0, decided=whole.get(kind, ""),
            )
            for kind, says, number, undecided in (seen.doubts if seen is not None else [])
        ],
        told=list(looked[0].told) if looked is not None else [],
        bounds=seen.bounds if seen is not None else [],
        surfaces=sorted(SurfaceSurvey.column(SurfaceSurvey.surface, SurfaceSurvey.survey, [row.id])),
        picked=_picked(row), contours=_contours(row),
    )  # fmt: skip


def _picked(row: Survey) -> list[list[float]]:
    levels = Level.those(Level.survey, [row.id], Level.position, Level.id) if row.origin == "sheet" else []
    return [[each.x, each.y] for each in levels if each.x is not None]


def _contours(row: Survey) -> list[PickedContour]:
    lines = GroundLine.those(GroundLine.survey, [row.id], GroundLine.id)
    return [
        PickedContour(id=line.id, level=as_typed(line.level, "m"), corners=line.corners) for line in lines
    ]


def _single(decision: LevelDecision) -> bool:
    return decision.at is not None or decision.typed_id is not None


def level_page(actor: Actor, survey_id: int, first: int, most: int, only: str = "") -> LevelPage:
    """A window of a survey's levels: of all, or of those in doubt (``doubt``) or in doubt in one way."""
    row = find(Survey, actor, survey_id)
    seen = last_looked(row) if SurveyLooked.select().where(SurveyLooked.survey == row.id).exists() else None
    typed = Level.those(Level.survey, [row.id], Level.position, Level.id) if row.levels_id is None else []
    if seen is None or (typed and len(typed) != len(seen[0].survey.points)):
        return _still_typed(typed, first, most)
    looked = seen[0]
    of = _doubts_of(looked)
    places = _wanted(looked, of, only)
    window = places[first : first + min(most, MOST_LEVELS)]
    decided = {d.at: d.does for d in LevelDecision.those(LevelDecision.survey, [row.id]) if d.at is not None}
    by_typed = {
        d.typed_id: d.does
        for d in LevelDecision.those(LevelDecision.survey, [row.id])
        if d.typed_id is not None
    }
    whole = {d.kind: d.does for d in LevelDecision.those(LevelDecision.survey, [row.id]) if not _single(d)}
    views = []
    for at in window.tolist():
        own = typed[at] if typed else None
        does = by_typed.get(own.id, "") if own is not None else decided.get(at, "")
        kinds = of.get(at, [])
        does = does or next((whole[kind] for kind in kinds if kind in whole), "")
        views.append(_level_view(looked, at, kinds, does, own))
    return LevelPage(levels=views, first=first, total=len(places))


def _wanted(looked: Looked, of: dict[int, list[str]], only: str) -> Any:
    if not only:
        return np.arange(len(looked.survey.points))
    if only == "doubt":
        return np.array(sorted(of), np.int64)
    return np.array(sorted(at for at, kinds in of.items() if only in kinds), np.int64)


def _doubts_of(looked: Looked) -> dict[int, list[str]]:
    found: dict[int, list[str]] = {}
    for doubt in looked.doubts:
        for at in doubt.which.tolist():
            found.setdefault(at, []).append(doubt.kind)
    return found


def _level_view(looked: Looked, at: int, doubts: list[str], does: str, own: Level | None) -> LevelView:
    survey = looked.survey
    east, north, level = (float(v) if math.isfinite(v) else None for v in survey.points[at])
    return LevelView(
        at=at, row=int(survey.rows[at]) if len(survey.rows) else at + 1, east=east, north=north, level=level,
        code=survey.codes[at] if survey.codes else "", used=bool(looked.usable[at]), doubts=doubts,
        decided=does, id=own.id if own is not None else None,
        version=own.version if own is not None else 0, entries=_entries(own) if own is not None else [],
    )  # fmt: skip


def _entries(own: Level) -> list[str]:
    return [as_typed(entry, "m") for entry in (own.east, own.north, own.level)]


def _still_typed(typed: list[Level], first: int, most: int) -> LevelPage:
    """Typed levels that weren't looked through yet."""
    views = [
        LevelView(
            at=at, row=at + 1, east=None, north=None, level=None, code=row.code, used=True, doubts=[],
            decided="", id=row.id, version=row.version, entries=_entries(row),
        )
        for at, row in enumerate(typed)
    ]  # fmt: skip
    return LevelPage(levels=views[first : first + most], first=first, total=len(views))


def points_view(actor: Actor, survey_id: int) -> PointsView:
    """A survey's levels and lines as the plan shows them; of very many only some, but all in doubt."""
    row = find(Survey, actor, survey_id)
    seen = last_looked(row) if SurveyLooked.select().where(SurveyLooked.survey == row.id).exists() else None
    if seen is None:
        return PointsView(points=[], doubtful=[], kinds=[], lines=[], whole=True)
    looked = seen[0]
    points, of = looked.survey.points, _doubts_of(looked)
    placed = np.isfinite(points[:, :2]).all(axis=1)
    plain = np.flatnonzero(placed & np.isfinite(points[:, 2]) & looked.usable)
    plain = plain[~np.isin(plain, list(of))] if of else plain
    step = len(plain) // MOST_ON_PLAN + 1
    doubtful = [at for at in sorted(of) if placed[at]][:MOST_ON_PLAN]
    return PointsView(
        points=[[*points[at].tolist(), at] for at in plain[::step].tolist()],
        doubtful=[
            [*points[at, :2].tolist(), float(np.nan_to_num(points[at, 2], nan=-99999.0)), at]
            for at in doubtful
        ],
        kinds=[of[at][0] for at in doubtful],
        lines=[line_shape(line.kind, line.corners) for line in looked.survey.lines],
        whole=step == 1,
    )  # fmt: skip


def line_shape(kind: str, corners: Any) -> LineShape:
    """A line as the plan shows it."""
    return LineShape(
        kind=kind, corners=[[float(v) if math.isfinite(v) else None for v in corner] for corner in corners]
    )


def _levels_in(taken: Taken | None) -> int:
    """How many levels were taken: points, and corners of lines that have one."""
    if taken is None:
        return 0
    corners = sum(int(np.isfinite(line.corners[:, 2]).sum()) for line in taken.survey.lines)
    return len(taken.survey.points) + corners


def seen_view(seen: Seen, how: How) -> SeenView:
    """What a file holds, as it is shown before anything is kept."""
    ground, formation = seen.taken.get("ground"), seen.taken.get("formation")
    shown = ground or formation
    doubts, bounds = list[str](), list[float]()
    if shown is not None and len(shown.survey.points):
        looked = looked_through(shown.survey)
        # What is still to be decided of single levels is told once they are taken in; what is wrong with
        # all of them can be put right here.
        doubts = [d.says for d in looked.doubts if d.kind in TO_DECIDE]
        known = shown.survey.points[np.isfinite(shown.survey.points[:, :2]).all(axis=1)]
        bounds = [*known[:, :2].min(axis=0).tolist(), *known[:, :2].max(axis=0).tolist()]
    return SeenView(
        kind=seen.kind, heads=list(seen.heads), sample=[list(row) for row in seen.sample],
        columns=list(seen.columns), header=bool(seen.heads), decimal=seen.decimal, sheets=list(seen.sheets),
        sheet=seen.sheet, parts=[FilePartView(name=p.name, holds=p.holds, role=p.role) for p in seen.parts],
        ground=_levels_in(ground), formation=_levels_in(formation),
        lines=len(shown.survey.lines) if shown is not None else 0, bounds=bounds, doubts=doubts,
        findings=[f.says for f in seen.findings[:30]], says=seen.says,
    )  # fmt: skip
