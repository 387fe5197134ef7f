"""The proof of an earthwork as a DXF drawing in m: the level plan with squares and volumes, and every section
drawn below it."""

from __future__ import annotations

import numpy as np
import shapely
from ezdxf.layouts import Modelspace

from .drawing_dxf import content, lines, opened, ring, text
from .earthwork import EarthDocument
from .measured import area, length, unit, volume

_COLOURS = {
    "footprint": 8, "zero line": 1, "contours": 9, "squares": 8, "cut": 30, "fill": 140,
    "outlines": 7, "texts": 7,
    "section ground": 7, "section formation": 140, "section classes": 9, "section texts": 7,
}  # fmt: skip
_ACROSS = 3  # sections beside one another


def write(document: EarthDocument) -> bytes:
    """The drawing's bytes."""
    drawing = opened()
    for name, colour in _COLOURS.items():
        drawing.layers.add(name, color=colour)
    space = drawing.modelspace()
    size = max(float(np.sqrt(np.max(document.cells.areas, initial=1.0))) / 12, 0.05)
    if "plan" in document.parts:
        _plan(space, document, size)
    if "sections" in document.parts:
        _sections(space, document)
    return content(drawing)


def _plan(space: Modelspace, document: EarthDocument, size: float) -> None:
    for contour in document.contours:
        space.add_lwpolyline(
            contour.line.tolist(), dxfattribs={"layer": "contours", "elevation": contour.level}
        )
    for part in shapely.get_parts(document.work.footprint):
        ring(space, shapely.get_coordinates(part.exterior), "footprint")
    for line in document.zero_lines:
        space.add_lwpolyline(line.tolist(), dxfattribs={"layer": "zero line"})
    for name, outline in document.rings:
        corners = np.array([corner[:2] for corner in outline], dtype=float)
        ring(space, corners, "outlines")
        text(space, name, corners[corners[:, 1].argmax()], size * 1.3, "outlines")
    if "squares" not in document.parts:
        return
    cells = document.cells
    middles = shapely.get_coordinates(shapely.point_on_surface(np.array(cells.outlines)))
    for at, outline in enumerate(cells.outlines):
        for part in shapely.get_parts(outline):
            ring(space, shapely.get_coordinates(part.exterior), "squares")
        cube = float(cells.volumes[at])
        for down, words, layer in (
            (1.4, length(float(cells.ground[at])), "texts"),
            (0.0, length(float(cells.formation[at])), "texts"),
            (-1.4, f"{volume(abs(cube))} {unit('m³')}", "cut" if cube >= 0 else "fill"),
        ):  # fmt: skip
            text(space, words, middles[at] + [-3 * size, down * size], size, layer)


def _sections(space: Modelspace, document: EarthDocument) -> None:
    """Sections in rows below the plan, heights as large as lengths."""
    sections = [each for each in document.sections if np.isfinite(each.offsets).sum() > 1]
    if not sections:
        return
    west, south, _, _ = document.work.footprint.bounds
    wide = max(float(np.nanmax(s.offsets) - np.nanmin(s.offsets)) for s in sections)
    levels = np.concatenate([values for s in sections for values in s.lines.values()])
    high = max(float(np.nanmax(levels) - np.nanmin(levels)), 1.0)
    size = max(wide / 60, 0.1)
    for at, section in enumerate(sections):
        left = west + (at % _ACROSS) * wide * 1.25
        base = south - (at // _ACROSS + 1) * (high * 1.5 + size * 5) - high
        low = float(np.nanmin(levels))
        start = float(np.nanmin(section.offsets))
        for key, values in section.lines.items():
            layer = f"section {key}" if key in ("ground", "formation") else "section classes"
            lines(space, np.column_stack([left + section.offsets - start, base + values - low]), layer)
        words = (
            f"{section.name}, at {length(section.chainage)} {unit('m')}: cut {area(section.cut)}, "
            f"fill {area(section.fill)} {unit('m²')}; base {length(low)} {unit('m')}"
        )
        text(space, words, np.array([left, base - size * 2]), size, "section texts")
