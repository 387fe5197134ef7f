"""What can be done with routes: made, their rows typed, drawn or brought in, put into order by name."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ....core.ground.areas import RULES
from ....core.numbers.entry import kept, read_entry
from ....core.refusals import BadEntry
from ....store.models import (
    Element,
    Figure,
    GroundSurface,
    NamedQuantity,
    ProjectRow,
    Route,
    RouteChange,
    RouteCorner,
    RouteLevel,
    RouteStretch,
    TypicalSection,
)
from ...keeping.acting import Actor, Missing, check_version, find
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved
from ..actions.earthworks import added
from ..entered import keep_soil
from .entered import along_figure

MOST_ROWS = 2_000
_FARTHEST = 1e8  # m
_HIGHEST = 1e4


@dataclass(frozen=True)
class Rows:
    """A table of a route, as it is typed.

    Attributes:
        table: its model.
        called: what one of its rows is called.
        lengths: its columns in m, with the most that each may be; those not in ``signed`` are not below 0.
        words: its columns of words, with how long each may be.
        numbers: its columns of plain numbers, not below 0.
    """

    table: type[ProjectRow]
    called: str
    lengths: Mapping[str, float]
    signed: tuple[str, ...] = ()
    words: Mapping[str, int] | None = None
    numbers: tuple[str, ...] = ()

    @property
    def fields(self) -> tuple[str, ...]:
        """Every column that is typed."""
        return (*self.lengths, *(self.words or {}), *self.numbers)


ROWS: Mapping[str, Rows] = {
    "corners": Rows(
        RouteCorner, "corner", {"east": _FARTHEST, "north": _FARTHEST, "radius": _FARTHEST}, ("east", "north")
    ),
    "levels": Rows(
        RouteLevel, "level", {"chainage": _FARTHEST, "level": _HIGHEST, "curve": _FARTHEST},
        ("chainage", "level"),
    ),
    "changes": Rows(
        RouteChange, "typical section", {"chainage": _FARTHEST, "taper": _FARTHEST}, ("chainage",)
    ),
    "stretches": Rows(
        RouteStretch, "stretch", {"begins": _FARTHEST, "ends": _FARTHEST}, ("begins", "ends"),
        {"name": 60, "stage": 60},
    ),
    "named": Rows(
        NamedQuantity, "named quantity", {}, (), {"name": 60, "layers": 500}, ("density", "extra")
    ),
}  # fmt: skip
ROUTE_FIELDS = ("begins", "interval", "rule", "curved", "free", "bulking", "compacted", "lorry", "from_top")


@action
def add_route(actor: Actor, mark: str, description: str, location: int, ground: int | None) -> Saved:
    """A new route over a surface.

    Raises:
        BadEntry: the mark is empty or taken in the location.
    """
    return added(actor, Route, "route", mark, description, location, ground)


def route_of(actor: Actor, element_id: int) -> Route:
    """The route of an element.

    Raises:
        Missing: it is none.
    """
    element = find(Element, actor, element_id)
    row = Route.get_or_none(Route.element == element.id)
    if row is None:
        raise Missing(f"{element.mark} is no route.")
    return row


def route_fields(fields: Mapping[str, Any]) -> dict[str, Any]:
    """A route's own fields as they are kept.

    Raises:
        BadEntry: one can't be read, or can't be.
    """
    made = dict(fields)
    for name in ("begins", "interval", "free"):
        if name in made:
            made[name] = kept(made[name], "m", field=name)
    if made.get("interval") and read_entry(made["interval"], "m", field="interval") <= 0:
        raise BadEntry("Sections lie more than 0 m apart.", field="interval", remedy="Type 10 or 20.")
    if made.get("begins") and abs(read_entry(made["begins"], "m", field="begins")) > _FARTHEST:
        raise BadEntry(f"A chainage of {made['begins']} can't be.", field="begins")
    if made.get("free"):
        read_entry(made["free"], "m", field="free", minimum=0)
    keep_soil(made)
    if made.get("rule", RULES[0]) not in RULES:
        raise BadEntry("There is no such rule.", field="rule")
    if "from_top" in made:
        names = [each.strip() for each in made["from_top"].replace(",", ";").split(";") if each.strip()]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadEntry(f"{twice} stands twice in the order of layers.", field="from_top")
        made["from_top"] = "; ".join(names)
    return made


@action
def change_route(actor: Actor, element_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change how a route is reckoned: its ground, where its centreline comes from, the rule, the soil.

    Raises:
        BadEntry: an entry can't be read, or can't be.
        Stale: someone else changed it meanwhile.
    """
    row = route_of(actor, element_id)
    made = route_fields(fields)
    if made.get("ground") is not None:
        made["ground"] = find(GroundSurface, actor, made["ground"]).id
    if made.get("figure") is not None:
        figure = find(Figure, actor, made["figure"])
        if figure.kind != "run" or figure.geometry.get("closed"):
            raise BadEntry("A centreline is an open run.", field="figure", remedy="Measure one on a sheet.")
        along_figure(figure, 0.0)
        made["figure"] = figure.id
    check_version(row, version, made)
    with recording(actor, f"{row.element.mark}: {', '.join(made).replace('_', ' ')}") as log:
        log.update(row, **made)
    return log.saved(row)


def rows_named(part: str) -> Rows:
    """A table of a route.

    Raises:
        Missing: it has no such table.
    """
    if part not in ROWS:
        raise Missing(f"A route has no {part[:20]}.")
    return ROWS[part]


def row_fields(part: str, fields: Mapping[str, Any]) -> dict[str, Any]:
    """Fields of a row of a route's table as they are kept.

    Raises:
        BadEntry: one can't be read, can't be, or is none of the table.
    """
    of = rows_named(part)
    unknown = next((name for name in fields if name not in of.fields), None)
    if unknown is not None or not all(isinstance(value, str) for value in fields.values()):
        raise BadEntry(f"A {of.called} has no “{str(unknown)[:40]}”.", field="fields")
    made = {name: value.strip() for name, value in fields.items()}
    for name, most in of.lengths.items():
        if name in made:
            made[name] = kept(made[name], "m", field=name)
            least = None if name in of.signed else 0.0
            if made[name] and abs(read_entry(made[name], "m", field=name, minimum=least)) > most:
                raise BadEntry(f"{made[name]} can't be.", field=name)
    for name, longest in (of.words or {}).items():
        if name in made and (len(made[name]) > longest or "\0" in made[name]):
            raise BadEntry(f"It is longer than {longest} letters.", field=name)
    for name in of.numbers:
        if name in made:
            made[name] = kept(made[name], "nr", field=name)
            if read_entry(made[name] or "0", "nr", field=name, minimum=0) > 1e6:
                raise BadEntry(f"{made[name]} can't be.", field=name)
    if "layers" in made:
        names = [each.strip() for each in re.split("[;,]", made["layers"]) if each.strip()]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadEntry(f"{twice} is named twice.", field="layers", remedy="Name each layer once.")
        made["layers"] = "; ".join(names)
    return made


@action
def add_row(
    actor: Actor, element_id: int, part: str, fields: Mapping[str, Any], typical: int | None = None
) -> Saved:
    """A row of one of a route's tables, after those there are.

    Raises:
        BadEntry: an entry can't be read, or a name is taken.
    """
    row, of = route_of(actor, element_id), rows_named(part)
    made = row_fields(part, fields)
    there = _rows(row, of)
    _check_name(there, part, {"name": "", **made})
    if part == "changes":
        made |= _typical(actor, typical, there)
    with recording(actor, f"{row.element.mark}: {of.called} {next(iter(made.values()), '')}".strip()) as log:
        added_row = _append(log, row, of, there, made)
    return log.saved(added_row)


def _rows(row: Route, of: Rows) -> list[Any]:
    return of.table.those(of.table.route, [row.id], of.table.position, of.table.id)


def _append(log: Recording, row: Route, of: Rows, there: Sequence[Any], made: Mapping[str, Any]) -> Any:
    if len(there) >= MOST_ROWS:
        raise BadEntry(f"A route has {MOST_ROWS} rows of a kind at most.", field="row")
    position = max((each.position for each in there), default=-1) + 1
    return log.insert(of.table, route=row.id, position=position, **made)


def _check_name(there: Sequence[Any], part: str, made: Mapping[str, Any], own: int = 0) -> None:
    if part not in ("named", "stretches") or "name" not in made:
        return
    if not made["name"] and part == "named":
        raise BadEntry("A named quantity needs a name.", field="name", remedy="Type its name first.")
    if not made["name"]:
        return
    for each in there:
        if each.name.lower() == made["name"].lower() and each.id != own:
            raise BadEntry(f"There is a {ROWS[part].called} “{each.name}” already.", field="name")


def _typical(actor: Actor, typical: int | None, there: Sequence[Any] = ()) -> dict[str, int | None]:
    """The typical section chosen; the one before, or the project's first, where none is."""
    if typical is not None:
        return {"typical": find(TypicalSection, actor, typical).id}
    if there:
        return {"typical": there[-1].typical_id}
    rows = TypicalSection.those(TypicalSection.project, [actor.project_id], TypicalSection.position)
    return {"typical": rows[0].id if rows else None}


@action
def change_row(
    actor: Actor, part: str, row_id: int, version: int, fields: Mapping[str, Any], typical: int | None = None
) -> Saved:
    """Change a row of one of a route's tables.

    Raises:
        BadEntry: an entry can't be read, or a name is taken.
        Stale: someone else changed it meanwhile.
    """
    of = rows_named(part)
    row: Any = find(of.table, actor, row_id)
    made = row_fields(part, fields)
    _check_name(_rows(row.route, of), part, made, row.id)
    if part == "changes" and typical is not None:
        made |= _typical(actor, typical)
    check_version(row, version, made)
    with recording(actor, f"{row.route.element.mark}: {of.called}, {', '.join(made)}") as log:
        log.update(row, **made)
    return log.saved(row)


@action
def delete_row(actor: Actor, part: str, row_id: int) -> Saved:
    """Take a row out of one of a route's tables."""
    of = rows_named(part)
    row: Any = find(of.table, actor, row_id)
    with recording(actor, f"{row.route.element.mark}: {of.called} deleted") as log:
        log.delete(row)
    return log.saved()


def replace_rows(log: Recording, row: Route, part: str, rows: Sequence[Mapping[str, Any]]) -> None:
    """Put rows in place of those of a table, lengths in m.

    Raises:
        BadEntry: there are too many, or a length can't be.
    """
    of = ROWS[part]
    if len(rows) > MOST_ROWS:
        raise BadEntry(f"A route has {MOST_ROWS} rows of a kind at most; here are {len(rows)}.", field="file")
    for fields in rows:
        _check_lengths(part, fields)
    for each in _rows(row, of):
        log.delete(each)
    for position, fields in enumerate(rows):
        log.insert(of.table, route=row.id, position=position, **fields)


def _check_lengths(part: str, fields: Mapping[str, str]) -> None:
    """Refuse lengths in m, whatever the project's units, that can't be."""
    of = ROWS[part]
    for name, most in of.lengths.items():
        length = float(fields.get(name) or 0)
        if abs(length) > most or (length < 0 and name not in of.signed):
            raise BadEntry(f"{name.capitalize()} {length:g} can't be.", field=name)


@action
def draw_centreline(actor: Actor, element_id: int, line: Sequence[Sequence[float]]) -> Saved:
    """Lay a route's centreline through corners drawn on the plan.

    Raises:
        BadEntry: it has one corner only, or one can't be.
    """
    row = route_of(actor, element_id)
    corners = [
        {"east": f"{east:.3f}", "north": f"{north:.3f}"}
        for at, (east, north) in enumerate(line)
        if at == 0 or line[at - 1] != line[at]
    ]
    if len(corners) < 2:
        raise BadEntry("A centreline goes from one place to another.", field="line")
    with recording(actor, f"{row.element.mark}: centreline of {len(corners)} corners drawn") as log:
        replace_rows(log, row, "corners", corners)
        log.update(row, figure=None, line=[])
    return log.saved(row)


@action
def draw_level(actor: Actor, element_id: int, chainage: float, level: float) -> Saved:
    """A point of the long section drawn over the ground, in its place along it; one that lies there already
    is moved.

    Raises:
        BadEntry: there are too many, or it can't be.
    """
    row, of = route_of(actor, element_id), ROWS["levels"]
    there = _rows(row, of)
    fields = {"chainage": f"{chainage:.2f}", "level": f"{level:.3f}"}
    _check_lengths("levels", fields)
    with recording(actor, f"{row.element.mark}: level at {chainage:.2f} drawn") as log:
        near = [e for e in there if _chainage(e) is not None and abs(_chainage(e) - chainage) < 0.05]
        same = near[0] if near else None
        if same is not None:
            log.update(same, level=fields["level"])
        else:
            made = _append(log, row, of, there, fields)
            ordered = sorted([*there, made], key=lambda e: (_chainage(e) is None, _chainage(e) or 0.0))
            for position, each in enumerate(ordered):
                if each.position != position:
                    log.update(each, position=position)
    return log.saved(row)


def _chainage(row: RouteLevel) -> Any:
    return read_entry(row.chainage, "m") if row.chainage.strip() else None
