"""Surveys as the core takes them: what was taken in, in m, with what was decided about it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np

from ...core.figures.scale import Point
from ...core.ground.decided import Decision, Looked, Taken, looked_through
from ...core.ground.pieces import Floats
from ...core.ground.survey import Survey as Levels
from ...core.ground.survey import SurveyLine, unit_factor
from ...core.numbers.entry import read_entry
from ...core.refusals import Refusal
from ...store.database import database
from ...store.models import GroundLine, Level, LevelDecision, StoredFile, Survey, SurveyLooked
from .kept import looked_of, taken_of

# Of all that a survey is worked out from, whatever it is called.
_PRINT = """
SELECT s.unit, s.level_unit, s.swapped, s.known::text, s.sheet_id,
    (SELECT f.sha256 FROM stored_file f WHERE f.id = s.levels_id),
    (SELECT md5(string_agg(concat_ws('|', l.id, l.position, l.east, l.north, l.level, l.code, l.x, l.y), ';'
        ORDER BY l.position, l.id)) FROM level l WHERE l.survey_id = s.id),
    (SELECT md5(string_agg(concat_ws('|', d.kind, d.at, d.typed_id, d.does, d.level), ';' ORDER BY d.id))
        FROM level_decision d WHERE d.survey_id = s.id),
    (SELECT md5(string_agg(concat_ws('|', g.kind, g.corners::text, g.level), ';' ORDER BY g.id))
        FROM ground_line g WHERE g.survey_id = s.id)
FROM survey s WHERE s.id = %s"""


def survey_print(survey_id: int) -> str:
    """Of what a survey is worked out from: the same while that is the same."""
    row = database.execute_sql(_PRINT, (survey_id,)).fetchone()
    return hashlib.sha256(repr(row).encode()).hexdigest()


def taken(survey: Survey) -> Taken:
    """A survey's levels, lines and triangles as they came, in m.

    Raises:
        Refusal: an entry can't be read.
    """
    if survey.levels_id is None:
        return _typed(survey)
    found = taken_of(bytes(StoredFile.get_by_id(survey.levels_id).content))
    plan, level = unit_factor(survey.unit), unit_factor(survey.level_unit)
    levels = found.survey if plan == level == 1 else found.survey.scaled(plan, level)
    if survey.swapped:
        levels = replace(
            levels,
            points=levels.points[:, [1, 0, 2]],
            lines=tuple(replace(line, corners=line.corners[:, [1, 0, 2]]) for line in levels.lines),
        )
    return Taken(levels, found.triangles[:, ::-1] if survey.swapped else found.triangles)


def _typed(survey: Survey) -> Taken:
    rows = Level.those(Level.survey, [survey.id], Level.position, Level.id)
    on_plan = placed(survey)
    points = np.full((len(rows), 3), np.nan)
    for at, row in enumerate(rows):
        if row.x is not None and row.y is not None:
            points[at, :2] = on_plan(np.array([[row.x, row.y]]))[0]
        else:
            points[at, :2] = [_metres(row.east, "east"), _metres(row.north, "north")]
        points[at, 2] = _metres(row.level, "level")
    lines = []
    for line in GroundLine.those(GroundLine.survey, [survey.id], GroundLine.id):
        corners = on_plan(np.array([corner[:2] for corner in line.corners], dtype=float))
        level = _metres(line.level, "level")
        lines.append(SurveyLine(line.kind, np.column_stack([corners, np.full(len(corners), level)])))
    codes = tuple(row.code for row in rows)
    numbers = np.arange(1, len(rows) + 1)
    return Taken(Levels(points, codes, numbers, tuple(lines)), np.zeros((0, 3), np.int64))


def _metres(entry: str, field: str) -> float:
    return read_entry(entry, "m", field=field) if entry.strip() else float("nan")


def placed(survey: Survey) -> Any:
    """What leads from a sheet's units (k × 2) to places on the ground, by two known points: turned, moved and
    sized, as the two say.

    Raises:
        Refusal: asked of a survey whose two points aren't known.
    """

    def to_ground(places: Floats) -> Floats:
        if len(survey.known) < 2:
            raise Refusal(
                f"“{survey.name}” is picked off a sheet of which no two points are known.",
                field="known", remedy="Say where two points of the sheet lie.",
            )  # fmt: skip
        first, second = survey.known[:2]
        (x1, y1), (e1, n1) = first[:2], first[2:]
        (x2, y2), (e2, n2) = second[:2], second[2:]
        turn = complex(e2 - e1, n2 - n1) / complex(x2 - x1, y2 - y1)
        found = complex(e1, n1) + turn * ((places[:, 0] - x1) + 1j * (places[:, 1] - y1))
        return np.column_stack([found.real, found.imag])

    return to_ground


def size_of(known: Iterable[Point | list[float]]) -> float:
    """How many metres a sheet unit is, by two known points."""
    (x1, y1, e1, n1), (x2, y2, e2, n2) = known  # type: ignore[misc]
    return float(np.hypot(e2 - e1, n2 - n1) / np.hypot(x2 - x1, y2 - y1))


def decisions(survey: Survey) -> list[Decision]:
    """What was decided about a survey's levels."""
    typed = {}
    if survey.levels_id is None:
        rows = Level.those(Level.survey, [survey.id], Level.position, Level.id)
        typed = {row.id: at for at, row in enumerate(rows)}
    found = []
    for row in LevelDecision.those(LevelDecision.survey, [survey.id], LevelDecision.id):
        at = typed.get(row.typed_id) if row.typed_id is not None else row.at
        if row.typed_id is None or at is not None:
            found.append(Decision(row.kind, at, row.does, _metres(row.level, "level")))
    return found


def look(survey: Survey) -> tuple[Looked, Any]:
    """A survey looked through as it is now, with its triangles; takes a while.

    Raises:
        Refusal: an entry can't be read.
    """
    found = taken(survey)
    return looked_through(found.survey, decisions(survey)), found.triangles


def looked(survey: Survey) -> tuple[Looked, Any]:
    """The same, as it was kept where that still holds."""
    now = survey_print(survey.id)
    row = SurveyLooked.get_or_none((SurveyLooked.survey == survey.id) & (SurveyLooked.fingerprint == now))
    return _kept(row.id, now) if row is not None else look(survey)


@lru_cache(maxsize=4)
def _kept(row_id: int, _fingerprint: str) -> tuple[Looked, Any]:
    return looked_of(bytes(SurveyLooked.get_by_id(row_id).found))


def last_looked(survey: Survey) -> tuple[Looked, Any] | None:
    """A survey as it was last looked through; None while it never was."""
    row = SurveyLooked.get_or_none(SurveyLooked.survey == survey.id)
    return _kept(row.id, row.fingerprint) if row is not None else None
