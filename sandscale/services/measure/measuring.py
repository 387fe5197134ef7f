"""What a figure measures: its core shape, at the scale it lies in."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ...core.figures.arcs import flattened
from ...core.figures.scale import Point, Scale, ScaleArea, scale_at
from ...core.figures.shapes import Area, Run, area
from ...core.refusals import BadShape
from ...store.models import Drawing, Figure, Revision, Sheet
from ...store.models import ScaleArea as ScaleAreaRow


@dataclass(frozen=True)
class Measured:
    """What a figure comes to; only what its kind gives is set. Lengths in m, areas in m²."""

    number: int | None = None
    length: float | None = None
    area: float | None = None
    girth: float | None = None
    void_girth: float = 0.0


def with_scale_areas(sheets: Iterable[Sheet]) -> None:
    """Read the scale areas of many sheets at once."""
    known = {sheet.id: sheet for sheet in sheets}
    areas: dict[int, list[ScaleArea]] = {sheet_id: [] for sheet_id in known}
    for row in ScaleAreaRow.those(ScaleAreaRow.sheet, known, ScaleAreaRow.id):
        areas[row.sheet_id].append(core_area(row))
    for sheet_id, sheet in known.items():
        sheet.areas_read = areas[sheet_id]


def with_drawings(sheets: Iterable[Sheet]) -> None:
    """Read the revisions and drawings of many sheets at once."""
    known = list(sheets)
    revisions = {row.id: row for row in Revision.those(Revision.id, {sheet.revision_id for sheet in known})}
    drawings = {row.id: row for row in Drawing.those(Drawing.id, {r.drawing_id for r in revisions.values()})}
    for revision in revisions.values():
        revision.drawing = drawings[revision.drawing_id]
    for sheet in known:
        sheet.revision = revisions[sheet.revision_id]


def core_area(row: ScaleAreaRow) -> ScaleArea:
    """A scale area as the core takes it."""
    return ScaleArea(tuple(map(tuple, row.ring)), Scale.even(row.metres_per_unit))


def scale_of(sheet: Sheet) -> Scale:
    """The scale a sheet is measured at; nothing measures anything on one without."""
    x = sheet.metres_per_unit or 0.0
    return Scale(x, sheet.metres_per_unit_y or x)


def scale_under(figure: Figure, sheet: Sheet) -> Scale:
    """The scale a figure is measured at: its scale area's, else the sheet's.

    Raises:
        BadShape: it lies across the edge of a scale area.
    """
    if not hasattr(sheet, "areas_read"):
        with_scale_areas([sheet])
    return scale_at(points_of(figure.kind, figure.geometry), scale_of(sheet), sheet.areas_read)


def points_of(kind: str, geometry: dict[str, object]) -> list[Point]:
    """The points of a figure, arcs as chords."""
    corners: list[tuple[float, ...]] = geometry[
        {"count": "points", "run": "corners", "area": "outline"}[kind]
    ]  # type: ignore[assignment]
    if kind == "count":
        return [(p[0], p[1]) for p in corners]
    return flattened(corners, closed=kind == "area" or bool(geometry.get("closed")))


def as_area(figure: Figure) -> Area:
    """An area figure as the core takes it."""
    voids = tuple(tuple(map(tuple, void)) for void in figure.geometry["voids"])
    return Area(
        tuple(map(tuple, figure.geometry["outline"])),
        voids,
        tuple(figure.geometry.get("depths") or (1,) * len(voids)),
    )


def as_run(figure: Figure) -> Run:
    """A run figure as the core takes it."""
    return Run(tuple(map(tuple, figure.geometry["corners"])), bool(figure.geometry.get("closed")))


def measured(figure: Figure, sheet: Sheet) -> Measured:
    """What a figure measures at the scale it lies in; nothing where it lies across two."""
    if figure.kind == "count":
        return Measured(number=len(figure.geometry["points"]))
    try:
        scale = scale_under(figure, sheet)
    except BadShape:
        scale = Scale.even(0.0)
    if figure.kind == "run":
        return Measured(length=as_run(figure).length(scale))
    shape = as_area(figure)
    return Measured(area=shape.net(scale), girth=shape.girth(scale), void_girth=shape.void_girth(scale))


def astray(figure: Figure, sheet: Sheet) -> str:
    """What is wrong with where a figure lies; empty when nothing is."""
    points = points_of(figure.kind, figure.geometry)
    if any(not (-1 <= x <= sheet.width + 1 and -1 <= y <= sheet.height + 1) for x, y in points):
        return "Its figure lies off the sheet."
    try:
        scale_under(figure, sheet)
    except BadShape as error:
        return f"{error.sentence} It counts nothing."
    if figure.kind == "area":
        try:
            area(figure.geometry["outline"], figure.geometry["voids"], sheet.width, sheet.height)
        except BadShape as error:
            return error.sentence
    return ""
