"""Levels, breaklines and surfaces in DXF: read from chosen layers; and written."""

from __future__ import annotations

import io
import math
import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import ezdxf
import numpy as np
from ezdxf.entities import DXFEntity

from ..core.figures.arcs import flattened
from ..core.findings import Finding
from ..core.ground.pieces import Floats
from ..core.ground.surface import Surface
from ..core.ground.survey import Survey, SurveyLine
from .dxf_file import BROKEN, UNITS, opened
from .level_file import FARTHEST, MOST_LEVELS, FileLevels, Told, UnreadableLevels, bounded

_FEET = (1, 2, 10)
_LEVEL_TEXT = re.compile(r"[^\d+−.,-]{0,4}([+−-]?\d{1,5}([.,]\d{1,4})?)\s*m?", re.IGNORECASE)
_LINES = ("LINE", "LWPOLYLINE", "POLYLINE", "SPLINE")
_DEEPEST_BLOCK = 4


def _layer_of(entity: Any) -> str:
    return str(entity.dxf.get("layer", "0"))


def _colour_of(document: Any) -> Callable[[Any], str]:
    """What tells the colour of an entity, its layer's where it has none of its own."""

    def colour(entity: Any) -> str:
        number = entity.dxf.get("color", 256)
        if number == 256:
            layer = _layer_of(entity)
            number = abs(document.layers.get(layer).dxf.color) if layer in document.layers else 7
        return f"colour {number}"

    return colour


@dataclass
class _Gathered:
    points: list[tuple[float, float, float]] = field(default_factory=list)
    codes: list[str] = field(default_factory=list)
    rows: list[int] = field(default_factory=list)
    lines: list[tuple[str, Floats]] = field(default_factory=list)
    faces: list[Floats] = field(default_factory=list)
    layers: Counter[str] = field(default_factory=Counter)
    told: Told = field(default_factory=Told)
    outlines: list[tuple[str, Floats]] = field(default_factory=list)
    flat: int = 0
    text_scale: float = 1.0
    group: Callable[[Any], str] = _layer_of
    texts: list[int] = field(default_factory=list)  # which of the points were written

    def add_point(self, x: float, y: float, z: float, layer: str, row: int) -> None:
        self.points.append((x, y, z))
        self.codes.append(layer)
        self.rows.append(row)

    def add_text(self, place: Any, level: float, layer: str, row: int) -> None:
        """A level that is written: in m or feet whatever the drawing's unit."""
        self.texts.append(len(self.points))
        self.add_point(place.x, place.y, level * self.text_scale, layer, row)

    def told_once(self) -> int:
        """Take out what is told twice: a point at the place of a written level, which says it in words;
        gives how many."""
        texts = set(self.texts)
        written = {self._place(at): at for at in texts}
        twice = {
            at
            for at in range(len(self.points))
            if at not in texts and self._place(at) in written and self._says_no_other(at, written)
        }
        kept = [at for at in range(len(self.points)) if at not in twice]
        self.points = [self.points[at] for at in kept]
        self.codes = [self.codes[at] for at in kept]
        self.rows = [self.rows[at] for at in kept]
        return len(twice)

    def _place(self, at: int) -> tuple[float, float]:
        return round(self.points[at][0], 3), round(self.points[at][1], 3)

    def _says_no_other(self, at: int, written: dict[tuple[float, float], int]) -> bool:
        """Whether a point is at the level that is written at its place, or at none."""
        level = self.points[at][2]
        return level == 0 or abs(level - self.points[written[self._place(at)]][2]) <= 0.005 * self.text_scale

    def find(self, says: str, row: int) -> None:
        self.told.add(says, row - 1, "entity")


def read_levels(
    content: bytes, name: str, layers: Sequence[str] | None = None, by: str = "layer"
) -> FileLevels:
    """Levels from a DXF drawing's model space.

    Points, texts that read as a level (at their insertion point), block attributes that do, 3D faces, lines
    and polylines with levels are taken; polylines become breaklines. A finding's line is the entity's number,
    from 0.

    Args:
        content: the file, text or binary.
        name: what the user calls it, for sentences.
        layers: the layers taken; all where it is None.
        by: ``colour`` where colours are told apart in place of layers.

    Raises:
        UnreadableLevels: it is too large, broken beyond repair, or holds no levels in these layers.
    """
    bounded(content, name)
    try:
        document, auditor, mended = opened(content)
        unit = document.header.get("$INSUNITS", 0)
        factor = UNITS.get(unit, 1.0)
        # Levels are written in m (or feet) even where lengths are drawn in mm (or inches).
        written = 1200 / 3937 if unit == 21 else 0.3048 if unit in _FEET else 1.0
        group = _colour_of(document) if by == "colour" else _layer_of
        got = _Gathered(text_scale=written / factor, group=group)
        for row, entity in enumerate(document.modelspace(), start=1):
            _gather(entity, row, None if layers is None else set(layers), got, 0)
            if len(got.points) + 3 * len(got.faces) > MOST_LEVELS:
                raise UnreadableLevels(
                    f"“{name}” has more than {MOST_LEVELS:,} levels.",
                    field="file",
                    remedy="Choose fewer layers.",
                )
    except BROKEN:
        raise UnreadableLevels(
            f"“{name}” is broken or no DXF.", field="file", remedy="Save it as DXF again."
        ) from None
    findings = list(got.told.findings())
    if auditor.has_errors:
        findings.append(
            Finding(
                f"{len(auditor.errors)} entities of “{name}” are broken and left out.",
                field="entity",
                code="entities-broken",
            )
        )
    if mended:
        says = (
            f"Broken numbers of “{name}” were read as far as they go; check the levels against the drawing."
        )
        findings.append(Finding(says, field="entity", wrong=True, code="numbers-broken"))
    if unit not in UNITS:
        findings.append(
            Finding(
                f"“{name}” is drawn in a unit that is not known here; it is read in m.",
                field="unit",
                code="unit-unknown",
            )
        )
    number = len(got.texts)
    if twice := got.told_once():
        says = f"{twice} points stand where a level is written; each is read once, as it is written."
        findings.append(Finding(says, field="entity", code="told-twice"))
    if number and got.text_scale != 1:
        written_in = "m" if written == 1 else "feet"
        findings.append(
            Finding(
                f"The drawing isn't in {written_in}; its {number} written levels are read in {written_in}.",
                field="unit",
                code="levels-unit",
            )
        )
    if got.flat:
        findings.append(
            Finding(
                f"{got.flat} lines and texts without a level are left out.", field="entity", code="no-level"
            )
        )
    if got.outlines:
        number = len(got.outlines)
        says = f"Outlines without a level, read as boundaries: {number}"
        findings.append(Finding(f"{says}. The first bounds the surface.", field="entity", code="boundary"))
    if not got.points and not got.faces and not got.lines and not got.outlines:
        raise UnreadableLevels(
            f"“{name}” has no levels in the chosen layers.",
            field="layers",
            remedy=f"It has layers {', '.join(sorted(got.layers)[:20])}.",
        )
    points = np.array(got.points, dtype=float).reshape(-1, 3) * factor
    lines = (
        *(SurveyLine("breakline", corners * factor, layer) for layer, corners in got.lines),
        *(SurveyLine("boundary", corners * factor, layer) for layer, corners in got.outlines),
    )
    survey = Survey(points, tuple(got.codes), np.array(got.rows, dtype=np.int64), lines)
    faces = np.array(got.faces, dtype=float).reshape(-1, 3, 3) * factor
    return FileLevels(survey, faces, tuple(findings), dict(got.layers))


def _gather(entity: DXFEntity, row: int, layers: set[str] | None, got: _Gathered, deep: int) -> None:
    kind, layer = entity.dxftype(), got.group(entity)
    if kind == "INSERT":
        if deep < _DEEPEST_BLOCK:
            _gather_block(entity, row, layers, got, deep)
        return
    if kind not in ("POINT", "TEXT", "MTEXT", "3DFACE", "POLYLINE", *_LINES):
        return
    got.layers[layer] += 1
    if layers is not None and layer not in layers:
        return
    try:
        _take(entity, kind, layer, row, got)
    except BROKEN:
        got.find(f"Entity {row} ({kind} on layer {layer}) is broken and left out.", row)


def _gather_block(insert: Any, row: int, layers: set[str] | None, got: _Gathered, deep: int) -> None:
    """A block: its attributes stand at its insertion point, its entities where they are drawn."""
    layer = got.group(insert)
    for attribute in insert.attribs:
        level = _text_level(attribute.dxf.text)
        if level is not None and re.fullmatch(
            r"(?i)z|level|elev.*|height|h|rl|kote|cota", attribute.dxf.tag or ""
        ):
            got.layers[layer] += 1
            if layers is None or layer in layers:
                got.add_text(insert.dxf.insert, level, layer, row)
    for inner in insert.virtual_entities():
        _gather(inner, row, layers, got, deep + 1)


def _take(entity: Any, kind: str, layer: str, row: int, got: _Gathered) -> None:
    if kind == "POINT":
        x, y, z = entity.dxf.location
        if _sound([(x, y, z)], row, got):
            got.add_point(x, y, z, layer, row)
    elif kind in ("TEXT", "MTEXT"):
        level = _text_level(entity.dxf.text if kind == "TEXT" else entity.plain_text())
        place = entity.dxf.insert
        if level is None:
            got.flat += 1
        elif _sound([(place.x, place.y, level)], row, got):
            got.add_text(place, level, layer, row)
    elif kind == "3DFACE":
        corners = [tuple(corner) for corner in entity.wcs_vertices(close=False)]
        _add_faces(corners, row, got)
    elif kind == "POLYLINE" and entity.is_poly_face_mesh:
        for face in entity.faces():
            _add_faces([tuple(vertex.dxf.location) for vertex in face[:-1]], row, got)
    elif kind == "POLYLINE" and entity.is_polygon_mesh:
        got.find(f"Entity {row} is a mesh of polygons, which is not read.", row)
    else:
        corners = _corners(entity, kind)
        if not any(z for _, _, z in corners):
            if len(corners) > 3 and corners[0] == corners[-1] and _sound(corners, row, got):
                got.outlines.append((layer, np.array([(x, y, np.nan) for x, y, _ in corners])))
            else:
                got.flat += 1
        elif _sound(corners, row, got):
            got.lines.append((layer, np.array(corners, dtype=float)))


def _corners(entity: Any, kind: str) -> list[tuple[float, float, float]]:
    """A line's corners with their levels, arcs as chords."""
    if kind == "LINE":
        return [tuple(entity.dxf.start), tuple(entity.dxf.end)]
    if kind == "SPLINE":
        return [tuple(point) for point in entity.flattening(0.01)]
    if kind == "LWPOLYLINE":
        level, bulged, closed = (
            float(entity.dxf.elevation),
            [(x, y, b) for x, y, b in entity.get_points("xyb")],
            bool(entity.closed),
        )
    elif entity.is_3d_polyline:
        found = [tuple(vertex.dxf.location) for vertex in entity.vertices]
        return [*found, found[0]] if entity.is_closed and found else found
    else:
        level = float(entity.dxf.elevation.z)
        bulged, closed = (
            [(v.dxf.location.x, v.dxf.location.y, v.dxf.get("bulge", 0.0)) for v in entity.vertices],
            bool(entity.is_closed),
        )
    flat = flattened(bulged, closed=closed) if bulged else []
    return [(x, y, level) for x, y in ([*flat, flat[0]] if closed and flat else flat)]


def _add_faces(corners: list[Any], row: int, got: _Gathered) -> None:
    if len(corners) < 3 or not _sound(corners, row, got):
        return
    for second in range(1, len(corners) - 1):
        got.faces.append(np.array([corners[0], corners[second], corners[second + 1]], dtype=float))


def _sound(corners: list[Any], row: int, got: _Gathered) -> bool:
    if all(math.isfinite(value) and abs(value) < FARTHEST for corner in corners for value in corner):
        return True
    got.find(f"Entity {row} has a coordinate that is not a number or too large; it is left out.", row)
    return False


def _text_level(text: str) -> float | None:
    found = _LEVEL_TEXT.fullmatch((text or "").strip()[:40])
    return float(found[1].replace(",", ".").replace("−", "-")) if found else None


def write_dxf(
    surfaces: dict[str, Surface] | None = None,
    survey: Survey | None = None,
    lines: dict[str, Sequence[Floats]] | None = None,
    levels: dict[str, float] | None = None,
) -> bytes:
    """A DXF drawing in m: surfaces as 3D faces with their breaklines, levels as points, lines (k × 2 or k ×
    3) as polylines.

    Args:
        surfaces: layer → surface; its breaklines go to ``<layer> breaklines``.
        survey: points, on a layer named after their code.
        lines: layer → lines.
        levels: layer → the level of its flat lines, in m; 0 where there is none.
    """
    document = ezdxf.new("R2010", units=6)
    space = document.modelspace()
    for layer, surface in (surfaces or {}).items():
        for triangle in surface.points[surface.triangles].tolist():
            space.add_3dface(triangle, dxfattribs={"layer": _layer(layer)})
        for edge in surface.points[surface.edges].tolist():
            space.add_polyline3d(edge, dxfattribs={"layer": _layer(f"{layer} breaklines")})
    if survey is not None:
        codes = survey.codes or ("",) * len(survey.points)
        for (x, y, z), code in zip(survey.points.tolist(), codes, strict=True):
            if math.isfinite(z):
                space.add_point((x, y, z), dxfattribs={"layer": _layer(code or "levels")})
        for line in survey.lines:
            _add_line(space, line.corners, line.layer or line.kind, 0.0)
    for layer, drawn in (lines or {}).items():
        for corners in drawn:
            _add_line(space, corners, layer, (levels or {}).get(layer, 0.0))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _add_line(space: Any, corners: Floats, layer: str, level: float) -> None:
    if corners.shape[1] == 3 and np.isfinite(corners).all():
        space.add_polyline3d(corners.tolist(), dxfattribs={"layer": _layer(layer)})
    else:
        space.add_lwpolyline(corners[:, :2].tolist(), dxfattribs={"layer": _layer(layer), "elevation": level})


def _layer(name: str) -> str:
    """A name a layer may have."""
    return re.sub(r'[<>/\\":;?*|=`\x00-\x1f]', "_", name)[:200]
