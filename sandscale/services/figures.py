"""Figures drawn on a sheet. A figure feeds one dimension line of its element, and goes with it."""

from __future__ import annotations

from typing import Any

from ..core.figures.scale import Point
from ..core.figures.shapes import Area, area, count, inside
from ..core.numbers.working import shown
from ..core.refusals import BadShape
from ..store.models import DimensionLine, Element, Figure, QuantityLine, Sheet
from .acting import Actor, check_version, find
from .recompute import as_area, measured, scale_of
from .recording import Recording, action, recording
from .views import FigureView, Saved


def figure_views(sheet: Sheet) -> list[FigureView]:
    """Every figure of a sheet, with the words it shows."""
    query = (
        Figure.select(Figure, Element.mark, DimensionLine.id.alias("line"))
        .join(Element)
        .switch(Figure)
        .left_outer_join(DimensionLine, on=(DimensionLine.figure == Figure.id))
        .where(Figure.sheet == sheet.id)
        .order_by(Figure.id)
    )
    figures = list(query.objects())
    families = families_of({figure.element_id for figure in figures})
    return [
        FigureView(
            id=f.id, version=f.version, kind=f.kind, element=f.element_id, mark=f.mark, line=f.line,
            family=families.get(f.element_id, "concrete"), points=f.geometry.get("points") or f.geometry["outline"],
            voids=f.geometry.get("voids", []), shows=shows(f, sheet),
        )
        for f in figures
    ]  # fmt: skip


def families_of(element_ids: set[int]) -> dict[int, str]:
    """The family each element is drawn in: that of its first quantity line."""
    query = QuantityLine.select(QuantityLine.element, QuantityLine.family).where(QuantityLine.element << list(element_ids)).order_by(QuantityLine.id.desc())
    return dict(query.tuples())


def shows(figure: Figure, sheet: Sheet) -> str:
    """What a figure measures, in words: “4 nr”, “57.60 m², ddt 1.44”."""
    number, net = measured(figure, sheet)
    if number is not None:
        return f"{number} nr"
    voids = as_area(figure).void_areas(scale_of(sheet))
    return f"{shown(net or 0, most=2)} m²" + (f", ddt {shown(sum(voids), most=2)}" if voids else "")


@action
def draw_figure(actor: Actor, sheet_id: int, element_id: int, kind: str, points: list[Point], line_id: int | None = None) -> Saved:
    """Put a figure on a sheet, feeding a dimension line of an element.

    Args:
        kind: ``count`` or ``area``.
        points: its points or outline, in sheet units.
        line_id: a line of the element that has no figure yet; a new line otherwise.

    Raises:
        BadShape: the sheet has no scale, or the shape can't be measured.
    """
    sheet, element = find(Sheet, actor, sheet_id), find(Element, actor, element_id)
    if sheet.metres_per_unit is None:
        raise BadShape("This sheet has no scale yet, so nothing can be measured on it.", field="scale", remedy="Set its scale first.")
    geometry = _geometry(kind, points, [], sheet)
    with recording(actor, f"{element.mark}: {kind} on the sheet") as log:
        figure = log.insert(Figure, sheet=sheet.id, element=element.id, kind=kind, geometry=geometry)
        line = find(DimensionLine, actor, line_id) if line_id else None
        if line is not None and line.element_id == element.id and line.figure_id is None:
            log.update(line, figure=figure.id)
        else:
            _new_line(log, element, figure)
    return Saved(label=log.label, id=figure.id, version=1, change=log.change and log.change.id, bill_total=log.bill_total)


def _new_line(log: Recording, element: Element, figure: Figure) -> None:
    last = DimensionLine.select(DimensionLine.position).where(DimensionLine.element == element.id).order_by(DimensionLine.position.desc()).first()
    log.insert(DimensionLine, element=element.id, position=last.position + 1 if last else 0, figure=figure.id)


@action
def reshape_figure(actor: Actor, figure_id: int, version: int, points: list[Point], voids: list[list[Point]]) -> Saved:
    """Give a figure other points or voids.

    Raises:
        BadShape: the shape can't be measured.
        Stale: someone else changed it meanwhile.
    """
    figure = find(Figure, actor, figure_id)
    geometry = _geometry(figure.kind, points, voids, figure.sheet)
    check_version(figure, version, {"geometry": geometry})
    with recording(actor, f"{figure.element.mark}: {figure.kind} reshaped") as log:
        log.update(figure, geometry=geometry)
    return Saved(label=log.label, id=figure.id, version=figure.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def add_void(actor: Actor, sheet_id: int, element_id: int, points: list[Point]) -> Saved:
    """Take a void off the area of an element that it lies in.

    Raises:
        BadShape: no area of the element on this sheet holds it, or its shape can't be measured.
    """
    sheet, element = find(Sheet, actor, sheet_id), find(Element, actor, element_id)
    areas = list(Figure.select().where((Figure.sheet == sheet.id) & (Figure.element == element.id) & (Figure.kind == "area")))
    around = next((figure for figure in areas if points and all(inside(figure.geometry["outline"], tuple(p)) for p in points)), None)
    if around is None:
        where = "outside every area" if areas else "on a sheet without an area"
        raise BadShape(f"The void lies {where} of {element.mark}.", field="points", remedy="Draw it inside an area of this element.")
    voids = [*around.geometry["voids"], points]
    geometry = _geometry("area", around.geometry["outline"], voids, sheet)
    with recording(actor, f"{element.mark}: void") as log:
        log.update(around, geometry=geometry)
    return Saved(label=log.label, id=around.id, version=around.version, change=log.change and log.change.id, bill_total=log.bill_total)


@action
def delete_figure(actor: Actor, figure_id: int) -> Saved:
    """Take a figure off its sheet, with the dimension line it feeds."""
    figure = find(Figure, actor, figure_id)
    with recording(actor, f"{figure.element.mark}: {figure.kind} deleted") as log:
        for line in DimensionLine.select().where(DimensionLine.figure == figure.id):
            log.delete(line)
        log.delete(figure)
    return Saved(label=log.label, change=log.change and log.change.id, bill_total=log.bill_total)


def _geometry(kind: str, points: list[Point], voids: list[list[Point]], sheet: Sheet) -> dict[str, Any]:
    if kind == "count":
        return {"points": count(points, sheet.width, sheet.height).points}
    shape: Area = area(points, voids, sheet.width, sheet.height)
    return {"outline": shape.outline, "voids": shape.voids, "depths": shape.depths}
