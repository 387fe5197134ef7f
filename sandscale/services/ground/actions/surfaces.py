"""What can be done with surfaces: which surveys they go through, and lines drawn for them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from peewee import fn

from ....core.ground.surface import ring_region
from ....core.refusals import BadEntry
from ....store.models import GroundLine, GroundSurface, SurfaceSurvey, Survey
from ...keeping.acting import Actor, check_version, find
from ...keeping.recording import action, in_words, recording
from ...keeping.views import Saved
from .surveys import MOST_CORNERS, drop_surface, named, typed_length

LINE_KINDS = ("breakline", "boundary", "hole")
FARTHEST = 1e8  # m


@action
def add_surface(actor: Actor, name: str, surveys: Sequence[int]) -> Saved:
    """A new surface through surveys.

    Raises:
        BadEntry: it has no name, or goes through none.
    """
    title = named(name, "surface")
    if not surveys:
        raise BadEntry("Which surveys does the surface go through?", field="surveys")
    last = GroundSurface.select(fn.MAX(GroundSurface.position)).where(
        GroundSurface.project == actor.project_id
    )
    with recording(actor, f"Surface {title}") as log:
        row = log.insert(GroundSurface, name=title, position=(last.scalar() or 0) + 1)
        for survey in dict.fromkeys(surveys):
            log.insert(SurfaceSurvey, surface=row.id, survey=find(Survey, actor, survey).id)
    return log.saved(row)


@action
def change_surface(actor: Actor, surface_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Rename a surface, or say which surveys it goes through.

    Raises:
        BadEntry: it has no name, or goes through none.
        Stale: someone else changed it meanwhile.
    """
    row = find(GroundSurface, actor, surface_id)
    surveys = fields.pop("surveys", None)
    if "name" in fields:
        fields["name"] = named(fields["name"], "surface")
    if surveys is not None and not surveys:
        raise BadEntry("A surface goes through one survey at least.", field="surveys")
    check_version(row, version, fields)
    with recording(actor, f"Surface {row.name}: {in_words(fields) or 'surveys'}") as log:
        log.update(row, **fields)
        if surveys is not None:
            there = {each.survey_id: each for each in row.surveys}
            for survey in dict.fromkeys(surveys):
                if survey not in there:
                    log.insert(SurfaceSurvey, surface=row.id, survey=find(Survey, actor, survey).id)
            for survey, each in there.items():
                if survey not in surveys:
                    log.delete(each)
    return log.saved(row)


@action
def delete_surface(actor: Actor, surface_id: int) -> Saved:
    """Take a surface out, with the lines drawn for it.

    Raises:
        InUse: an earthwork rests on it.
    """
    row = find(GroundSurface, actor, surface_id)
    with recording(actor, f"Surface {row.name} deleted") as log:
        drop_surface(log, row)
    return log.saved()


@action
def add_line(actor: Actor, surface_id: int, kind: str, corners: Sequence[Sequence[Any]]) -> Saved:
    """Draw a breakline, a boundary or a hole for a surface; a boundary takes the place of the one drawn
    before.

    Raises:
        BadEntry: a breakline has a corner without a level.
        BadShape: a ring crosses itself.
    """
    row = find(GroundSurface, actor, surface_id)
    if kind not in LINE_KINDS:
        raise BadEntry(f"“{kind}” is no line of a surface.", field="kind")
    places = corners_read(corners)
    if kind == "breakline":
        if len(places) < 2 or any(level is None for *_, level in places):
            raise BadEntry(
                "A breakline needs two corners at least, each with a level.", field="corners",
                remedy="Draw it over the surface, which gives it levels, or type them.",
            )  # fmt: skip
    else:
        ring_region([corner[:2] for corner in places], kind)
    with recording(actor, f"Surface {row.name}: {kind}") as log:
        if kind == "boundary":
            for each in row.lines:
                if each.kind == "boundary":
                    log.delete(each)
        made = log.insert(GroundLine, surface=row.id, kind=kind, corners=places)
    return log.saved(made)


@action
def change_line(actor: Actor, line_id: int, version: int, corners: Sequence[Sequence[Any]]) -> Saved:
    """Move corners of a line drawn for a surface, or change their levels.

    Raises:
        BadEntry, BadShape: see :func:`add_line`.
        Stale: someone else changed it meanwhile.
    """
    row = find(GroundLine, actor, line_id)
    places = corners_read(corners)
    if row.kind != "breakline":
        ring_region([corner[:2] for corner in places], row.kind)
    check_version(row, version, {"corners": places})
    with recording(actor, f"{row.kind.capitalize()} changed") as log:
        log.update(row, corners=places)
    return log.saved(row)


@action
def delete_line(actor: Actor, line_id: int) -> Saved:
    """Take a line out that was drawn for a surface or followed on a sheet."""
    row = find(GroundLine, actor, line_id)
    with recording(actor, f"{row.kind.capitalize()} deleted") as log:
        log.delete(row)
    return log.saved()


def corners_read(corners: Sequence[Sequence[Any]]) -> list[list[float | None]]:
    """Corners (east, north, level or nothing) as they were drawn (numbers, in m) or typed (in the project's
    unit).

    Raises:
        BadEntry: one can't be read, or lies beyond all maps.
    """
    if len(corners) > MOST_CORNERS:
        raise BadEntry(f"A line has {MOST_CORNERS:,} corners at most.", field="corners")
    return [
        [_place(east, at, "east"), _place(north, at, "north"), _level(level, at)]
        for at, (east, north, level) in enumerate((*corner, None)[:3] for corner in corners)
    ]


def _place(value: Any, at: int, field: str) -> float:
    found = value if isinstance(value, int | float) else typed_length(str(value), f"{at}.{field}")
    if not abs(found) < FARTHEST:
        raise BadEntry(f"Corner {at + 1}: {field} can't be.", field=f"{at}.{field}")
    return float(found)


def _level(value: Any, at: int) -> float | None:
    if value is None or (isinstance(value, str) and not value.strip()):
        return None
    found = value if isinstance(value, int | float) else typed_length(value, f"{at}.level")
    if not abs(found) < 1e4:
        raise BadEntry(f"Corner {at + 1}: its level can't be.", field=f"{at}.level")
    return float(found)
