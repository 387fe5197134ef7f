"""What must hold of routes from a project file."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from ....core.ground.areas import RULES
from ....core.ground.measures import MOST
from ....core.refusals import Refusal
from ....store.models import Element, NamedQuantity, Route, TypicalSection
from ...keeping.proving import refuse_empty, refuse_other, refuse_twins
from .actions import ROUTE_FIELDS, ROWS, route_fields, row_fields
from .typicals import typical_kept


def _typical(row: dict[str, Any]) -> None:
    if not isinstance(row["document"], dict) or typical_kept(row["document"]) != row["document"]:
        raise Refusal("It is no typical section that could be typed.")
    if row["document"]["name"] != row["name"]:
        raise Refusal("Its name is not that of its document.")


def _route(row: dict[str, Any]) -> None:
    refuse_other(row, "rule", RULES)
    given = {name: row[name] for name in ROUTE_FIELDS}
    if route_fields(given) != given:
        raise Refusal("It is no route that could be typed.")
    line = row["line"]
    parts = isinstance(line, list) and all(isinstance(e, list) and len(e) == 6 for e in line)
    if not parts or not all(_number(value) for each in line for value in each):
        raise Refusal("Its centreline is no row of elements.")
    if any(each[3] <= 0 for each in line):
        raise Refusal("An element of its centreline has no length.")


def _number(value: Any) -> bool:
    return type(value) in (int, float) and abs(value) <= MOST


def _section(row: dict[str, Any]) -> None:
    lines = row["lines"]
    sound = (
        _number(row["chainage"])
        and isinstance(lines, dict)
        and all(
            isinstance(line, list)
            and len(line) > 1
            and all(isinstance(p, list) and len(p) == 2 and all(_number(v) for v in p) for p in line)
            and all(a[0] <= b[0] for a, b in pairwise(line))
            for line in lines.values()
        )
    )
    if not sound:
        raise Refusal("It is no section of lines from left to right.")


def _of(part: str) -> Any:
    def prove(row: dict[str, Any]) -> None:
        if part == "named":
            refuse_empty(row, "name")
        given = {name: row[name] for name in ROWS[part].fields}
        if row_fields(part, given) != given:
            raise Refusal(f"It is no {ROWS[part].called} that could be typed.")

    return prove


RULES_OF_ROUTES = {
    "typical_section": _typical, "route": _route, "imported_section": _section,
    **{rows.table._meta.table_name: _of(part) for part, rows in ROWS.items()},
}  # fmt: skip


def prove_routes(project_id: int) -> None:
    """Routes are of elements that are such, and what has a name has one of its own.

    Raises:
        Refusal: something doesn't hold.
    """
    routes = Route.select(Route.element).where(Route.project == project_id)
    mine = (Element.project == project_id) & (Element.measurer == "route")
    if Element.select().where(mine & ~(Element.id << routes)).exists():
        raise Refusal("A route lacks what it is reckoned from.")
    other = (Route.project == project_id) & (Element.measurer != "route")
    if Route.select(Route.id).join(Element).where(other).exists():
        raise Refusal("A route is of an element that is something else.")
    refuse_twins(TypicalSection, project_id, TypicalSection.name)
    refuse_twins(NamedQuantity, project_id, NamedQuantity.name, NamedQuantity.route)
