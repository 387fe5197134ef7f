"""Figures drawn on a sheet. A figure feeds one dimension line of its element, and goes with it; a run of a
route is its centreline, along a run of trenches they are laid."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ....core.figures.shapes import area, count, inside, run
from ....core.refusals import BadShape
from ....store.models import DimensionLine, Element, Figure, Route, Sheet, TrenchNetwork
from ...ground.trenches.laying import follow, lay_along
from ...keeping.acting import Actor, check_version, find
from ...keeping.recording import Recording, action, recording
from ...keeping.views import Saved
from ...sheets.views import Point
from .dimension_lines import refuse_route, with_lines


@action
def draw_figure(
    actor: Actor, sheet_id: int, element_id: int, kind: str, points: list[Point], line_id: int | None = None
) -> Saved:
    """Put a figure on a sheet, feeding a dimension line of an element; an open run of a route is its
    centreline from there on, along one of trenches nodes and runs are laid.

    Args:
        kind: ``count``, ``run``, ``loop`` (a closed run) or ``area``.
        points: its points, corners or outline, in sheet units.
        line_id: a line of the element that has no figure yet; a new line otherwise.

    Raises:
        BadShape: the sheet has no scale, or the shape can't be measured.
        BadEntry: trenches can't be laid along it.
    """
    sheet, element = find(Sheet, actor, sheet_id), find(Element, actor, element_id)
    _refuse_followed(sheet)
    route = Route.get_or_none(Route.element == element.id) if kind == "run" else None
    network = _network_of(element.id) if kind == "run" else None
    if route is None and network is None:
        with_lines(actor, element_id)
    if sheet.metres_per_unit is None:
        raise BadShape(
            "This sheet has no scale yet, so nothing can be measured on it.",
            field="scale",
            remedy="Set its scale first.",
        )
    geometry = geometry_of(kind, points, [], sheet)
    kind = "run" if kind == "loop" else kind
    with recording(actor, f"{element.mark}: {kind} on the sheet") as log:
        figure = log.insert(Figure, sheet=sheet.id, element=element.id, kind=kind, geometry=geometry)
        if route is not None:
            log.update(route, figure=figure.id)
        elif network is not None:
            lay_along(log, network, figure)
        else:
            _feed(log, actor, element, figure, line_id)
    return log.saved(figure)


def _refuse_followed(sheet: Sheet) -> None:
    followed = next(iter(Sheet.those(Sheet.follows, [sheet.id])), None)
    if followed is not None:
        raise BadShape(
            f"Revision {followed.revision.letter} has taken the place of this sheet.", field="sheet",
            remedy="Measure on that one.",
        )  # fmt: skip


def _feed(log: Recording, actor: Actor, element: Element, figure: Figure, line_id: int | None) -> None:
    line = find(DimensionLine, actor, line_id) if line_id else None
    if line is not None and line.element_id == element.id and line.figure_id is None:
        log.update(line, figure=figure.id)
    else:
        _new_line(log, element, figure)


def _network_of(element_id: int) -> TrenchNetwork | None:
    found: TrenchNetwork | None = TrenchNetwork.get_or_none(TrenchNetwork.element == element_id)
    return found


def _reshape(log: Recording, figure: Figure, geometry: dict[str, Any]) -> None:
    network = _network_of(figure.element_id)
    if network is not None:
        follow(log, network, figure, geometry)
    log.update(figure, geometry=geometry, near=False)  # whoever puts it right has looked at it


def _new_line(log: Recording, element: Element, figure: Figure, **kept: Any) -> None:
    last = (
        DimensionLine.select(DimensionLine.position)
        .where(DimensionLine.element == element.id)
        .order_by(DimensionLine.position.desc())
        .first()
    )
    log.insert(
        DimensionLine, element=element.id, position=last.position + 1 if last else 0, figure=figure.id, **kept
    )


@action
def reshape_figure(
    actor: Actor, figure_id: int, version: int, points: list[Point], voids: list[list[Point]]
) -> Saved:
    """Give a figure other points or voids.

    Raises:
        BadShape: the shape can't be measured.
        Stale: someone else changed it meanwhile.
    """
    figure = find(Figure, actor, figure_id)
    kind = "loop" if figure.geometry.get("closed") else figure.kind
    geometry = geometry_of(kind, points, voids, figure.sheet)
    check_version(figure, version, {"geometry": geometry})
    with recording(actor, f"{figure.element.mark}: {figure.kind} reshaped") as log:
        _reshape(log, figure, geometry)
    return log.saved(figure)


@action
def add_void(actor: Actor, sheet_id: int, element_id: int, points: list[Point]) -> Saved:
    """Take a void off the area of an element that it lies in.

    Raises:
        BadShape: no area of the element on this sheet holds it, or its shape can't be measured.
    """
    sheet, element = find(Sheet, actor, sheet_id), with_lines(actor, element_id)
    _refuse_followed(sheet)
    areas = list(
        Figure.select().where(
            (Figure.sheet == sheet.id) & (Figure.element == element.id) & (Figure.kind == "area")
        )
    )
    around = next(
        (
            figure
            for figure in areas
            if points and all(inside(figure.geometry["outline"], tuple(p)) for p in points)
        ),
        None,
    )
    if around is None:
        where = "outside every area" if areas else "on a sheet without an area"
        raise BadShape(
            f"The void lies {where} of {element.mark}.",
            field="points",
            remedy="Draw it inside an area of this element.",
        )
    voids = [*around.geometry["voids"], points]
    geometry = geometry_of("area", around.geometry["outline"], voids, sheet)
    with recording(actor, f"{element.mark}: void") as log:
        log.update(around, geometry=geometry, near=False)
    return log.saved(around)


@action
def delete_figure(actor: Actor, figure_id: int) -> Saved:
    """Take a figure off its sheet, with the dimension line it feeds.

    Raises:
        InUse: a route of another element goes along it.
    """
    figure = find(Figure, actor, figure_id)
    refuse_route(figure, other_than=figure.element_id)
    with recording(actor, f"{figure.element.mark}: {figure.kind} deleted") as log:
        for line in DimensionLine.select().where(DimensionLine.figure == figure.id):
            log.delete(line)
        for route in figure.routes:
            log.update(route, figure=None)
        log.delete(figure)
    return log.saved()


@action
def copy_figure(actor: Actor, figure_id: int, by: list[Point], sheet_id: int | None = None) -> Saved:
    """Put copies of a figure, each moved by a distance on the sheet, with a dimension line like its own for
    each.

    Args:
        by: how far each copy is moved, in sheet units; several repeat it from bay to bay.

    Raises:
        BadShape: a copy leaves the sheet.
    """
    figure = find(Figure, actor, figure_id)
    with_lines(actor, figure.element_id)
    line = DimensionLine.get_or_none(DimensionLine.figure == figure.id)
    kept = (
        {name: getattr(line, name) for name in ("times", "length", "width", "height", "deduct", "note")}
        if line
        else {}
    )
    made = 0
    with recording(actor, f"{figure.element.mark}: {figure.kind} repeated {len(by)} times") as log:
        for step in by:
            geometry = moved_by(figure, step)
            row = log.insert(
                Figure, sheet=figure.sheet_id, element=figure.element_id, kind=figure.kind, geometry=geometry
            )
            _new_line(log, figure.element, row, **kept)
            made = row.id
    return log.saved(made)


@action
def move_figure(actor: Actor, figure_id: int, version: int, by: Point) -> Saved:
    """Move a figure by a distance on its sheet, in sheet units.

    Raises:
        BadShape: it leaves the sheet.
        Stale: someone else changed it meanwhile.
    """
    figure = find(Figure, actor, figure_id)
    geometry = moved_by(figure, by)
    check_version(figure, version, {"geometry": geometry})
    with recording(actor, f"{figure.element.mark}: {figure.kind} moved") as log:
        _reshape(log, figure, geometry)
    return log.saved(figure)


def moved_by(figure: Figure, by: Point) -> dict[str, Any]:
    """A figure's geometry a distance on, proved to lie on its sheet."""

    def on(ring: list[Any]) -> list[Any]:
        return [[p[0] + by[0], p[1] + by[1], *p[2:]] for p in ring]

    geometry = figure.geometry
    points = on(geometry.get("points") or geometry.get("corners") or geometry["outline"])
    kind = "loop" if geometry.get("closed") else figure.kind
    return geometry_of(kind, points, [on(void) for void in geometry.get("voids", [])], figure.sheet)


def geometry_of(kind: str, points: Sequence[Any], voids: Sequence[Any], sheet: Sheet) -> dict[str, Any]:
    """A figure's geometry as it is kept, proved on its sheet.

    Raises:
        BadShape: the shape can't be measured.
    """
    if kind == "count":
        return {"points": count(points, sheet.width, sheet.height).points}
    if kind in ("run", "loop"):
        line = run(points, sheet.width, sheet.height, closed=kind == "loop")
        return {"corners": line.corners, "closed": line.closed}
    shape = area(points, voids, sheet.width, sheet.height)
    return {"outline": shape.outline, "voids": shape.voids, "depths": shape.depths}
