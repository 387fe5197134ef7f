"""A trench in section, as it is drawn: what is dug, each layer as the shape it fills, the pipe."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon

from ..drawn import Shape
from ..pieces import Floats, Region
from .kind import BACKFILL, DUG, TrenchKind

_ROUND = 16  # corners to a quarter of a circle


@dataclass(frozen=True)
class Part:
    """A part of a section.

    Attributes:
        name: of the layer, or what is dug or backfilled.
        region: offset from the middle, height above the bottom, in m.
        area: by the same law that volumes are of, in m².
    """

    name: str
    region: Region
    area: float


def parts_of(kind: TrenchKind, bottom: float, depth: float) -> list[Part]:
    """A section at a depth, from what is dug through the layers from below to what is put back at the top.

    Args:
        bottom: the width of the bottom, in m.
        depth: of the trench, in m.
    """
    if depth <= 0:
        return []
    areas = {name: float(area[0]) for name, area in kind.areas(bottom, np.array([depth])).items()}
    dug = shapely.make_valid(Polygon(kind.sides.outline(bottom, depth)))
    open_: Region = dug
    if kind.pipe:
        radius = kind.pipe.outside / 2
        open_ = shapely.difference(dug, shapely.Point(0, kind.bed + radius).buffer(radius, _ROUND))
    room, low = max(depth - kind.restored, 0.0), 0.0
    found = [Part(DUG, dug, areas[DUG])]
    for layer, top in zip(kind.surrounds, kind.tops, strict=True):
        high = min(top, room)
        found.append(Part(layer.name, _between(open_, low, high), areas[layer.name]))
        low = max(low, high)
    found.append(Part(BACKFILL, _between(open_, low, room), areas[BACKFILL]))
    high = depth
    for restored in kind.reinstatements:
        low = max(high - restored.thickness, 0.0)
        region = _between(dug, low, high)
        if restored.overlap and high > low:
            wide = [float(kind.sides.spread(np.array(max(each - 1e-6, 0)))) for each in (low, high)]
            half = [bottom / 2 + each + restored.overlap for each in wide]
            region = Polygon([(-half[0], low), (half[0], low), (half[1], high), (-half[1], high)])
        found.append(Part(restored.name, region, areas[restored.name]))
        high = low
    return found


def shapes_of(kind: TrenchKind, bottom: float, depth: float, floor: float) -> tuple[Shape, ...]:
    """A section with its bottom at a level, in m, as it is shaded."""
    return tuple(
        Shape(part.name, tuple(ring + np.array([0.0, floor]) for ring in rings_of(part.region)), part.area)
        for part in parts_of(kind, bottom, depth)
    )


def _between(region: Region, low: float, high: float) -> Region:
    if high - low <= 1e-9:
        return Polygon()
    left, _, right, _ = region.bounds
    made: Region = shapely.intersection(region, shapely.box(left - 1, low, right + 1, high))
    return made


def rings_of(region: Region) -> list[Floats]:
    """The outlines of a part, each k × 2, holes after what they lie in."""
    found = list[Floats]()
    for part in shapely.get_parts(region):
        if part.geom_type == "Polygon" and part.area > 1e-9:
            found += [shapely.get_coordinates(ring) for ring in (part.exterior, *part.interiors)]
    return found
