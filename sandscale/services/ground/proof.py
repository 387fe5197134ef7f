"""What must hold of the ground from a project file."""

from __future__ import annotations

from typing import Any

from ...core.ground.areas import RULES as AREA_RULES
from ...core.ground.decided import CALLED, DOES
from ...core.ground.earthwork import METHODS
from ...core.ground.survey import unit_factor
from ...core.refusals import Refusal
from ...formats.packed import MEDIA_TYPE
from ...store.models import (
    Earthwork,
    Element,
    GroundSurface,
    StoredFile,
    SurfaceSurvey,
    Survey,
)
from ..keeping.proving import refuse_empty, refuse_other
from .actions.earthworks import TAKEN
from .actions.surfaces import LINE_KINDS, corners_read
from .actions.surveys import level_fields
from .entered import batter_of, grade_of, read_all
from .kept import taken_of
from .routes.proof import RULES_OF_ROUTES, prove_routes
from .trenches.proof import RULES as TRENCH_RULES
from .trenches.proof import prove_networks

ORIGINS = ("file", "typed", "sheet", "feed")


def _survey(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    refuse_other(row, "origin", ORIGINS)
    for name in ("unit", "level_unit"):
        unit_factor(row[name])
    pairs = isinstance(row["said"], list) and all(
        isinstance(each, list) and len(each) == 2 and all(isinstance(t, str) for t in each)
        for each in row["said"]
    )
    known = row["known"]
    places = isinstance(known, list) and all(
        isinstance(each, list) and len(each) == 4 and all(_number(n) for n in each) for each in known
    )
    if not pairs or not places or len(known) not in (0, 2):
        raise Refusal("It is no survey.")
    if (row["origin"] in ("file", "feed")) != (row["levels"] is not None):
        raise Refusal("Its levels aren't where they should be.")
    if known and (known[0][:2] == known[1][:2] or known[0][2:] == known[1][2:]):
        raise Refusal("Its two known points are one.")


def _number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _level(row: dict[str, Any]) -> None:
    given = {name: row[name] for name in ("east", "north", "level", "code")}
    if level_fields(given) != given or (row["x"] is None) != (row["y"] is None):
        raise Refusal("It is no level that could be typed.")


def _decision(row: dict[str, Any]) -> None:
    refuse_other(row, "does", DOES)
    if row["kind"]:
        refuse_other(row, "kind", CALLED)
    put = level_fields({"level": row["level"]})["level"]
    if put != row["level"] or (row["does"] == "put right") != bool(put):
        raise Refusal("It is no decision about a level.")


def _line(row: dict[str, Any]) -> None:
    refuse_other(row, "kind", (*LINE_KINDS, "contour"))
    _outline(row, "corners")
    if (row["surface"] is None) == (row["survey"] is None) or len(row["corners"]) < 2:
        raise Refusal("It is a line of nothing.")
    if row["surface"] is not None and corners_read(row["corners"]) != row["corners"]:
        raise Refusal("It is no line that could be drawn.")
    if row["survey"] is not None and not level_fields({"level": row["level"]})["level"]:
        raise Refusal("It is a line of no level.")


def _outline(row: dict[str, Any], name: str) -> None:
    corners = row[name]
    sound = isinstance(corners, list) and all(
        isinstance(corner, list)
        and 2 <= len(corner) <= 3
        and all(_number(n) for n in corner[:2])
        and (len(corner) == 2 or corner[2] is None or _number(corner[2]))
        for corner in corners
    )
    if not sound:
        raise Refusal("Its corners are none.")


def _earthwork(row: dict[str, Any]) -> None:
    refuse_other(row, "method", METHODS)
    refuse_other(row, "rule", AREA_RULES)
    read_all(Earthwork(**{name: value for name, value in row.items() if name not in ("element", "ground")}))


def _formation(row: dict[str, Any]) -> None:
    _outline(row, "outline")
    for name in ("cut_batter", "fill_batter"):
        batter_of(row[name], name)
    for name in ("grade_east", "grade_north"):
        grade_of(row[name], name)
    at = row["at"]
    if not isinstance(at, list) or len(at) not in (0, 2) or not all(_number(n) for n in at):
        raise Refusal("It lies nowhere.")
    for name in ("level", *(f"{s}_bench_{w}" for s in ("cut", "fill") for w in ("height", "width"))):
        if level_fields({"level": row[name]})["level"] != row[name]:
            raise Refusal(f"Its {name} is none.")


def _class(row: dict[str, Any]) -> None:
    refuse_empty(row, "name", "key")
    refuse_other(row, "taken", TAKEN)
    _outline(row, "outline")
    if level_fields({"level": row["depth"]})["level"] != row["depth"] or not row["key"][1:].isdecimal():
        raise Refusal("It is no class of what is dug.")


def _stage(row: dict[str, Any]) -> None:
    refuse_empty(row, "name")
    _outline(row, "outline")


RULES = {
    "survey": _survey,
    "level": _level,
    "level_decision": _decision,
    "ground_surface": lambda row: refuse_empty(row, "name"),
    "ground_line": _line,
    "earthwork": _earthwork,
    "formation": _formation,
    "earth_class": _class,
    "earth_stage": _stage,
    **TRENCH_RULES,
    **RULES_OF_ROUTES,
}


def prove(project_id: int) -> None:
    """Levels can be read again, earthworks are of elements that are such, surfaces go through surveys.

    Raises:
        Refusal: something doesn't hold.
    """
    for survey in Survey.those(Survey.project, [project_id]):
        if survey.levels_id is not None:
            file = StoredFile.get_by_id(survey.levels_id)
            if file.media_type != MEDIA_TYPE:
                raise Refusal(f"The levels of “{survey.name}” are none.")
            taken_of(bytes(file.content))
    works = Earthwork.select(Earthwork.element).where(Earthwork.project == project_id)
    earth = (Element.project == project_id) & (Element.measurer == "earthwork")
    if Element.select().where(earth & ~(Element.id << works)).exists():
        raise Refusal("An earthwork lacks what it is reckoned from.")
    other = (Earthwork.project == project_id) & (Element.measurer != "earthwork")
    if Earthwork.select(Earthwork.id).join(Element).where(other).exists():
        raise Refusal("An earthwork is of an element that is something else.")
    prove_networks(project_id)
    prove_routes(project_id)
    through = SurfaceSurvey.select(SurfaceSurvey.surface).where(SurfaceSurvey.project == project_id)
    mine = (GroundSurface.project == project_id) & ~(GroundSurface.id << through)
    if GroundSurface.select().where(mine).exists():
        raise Refusal("A surface goes through no survey.")
