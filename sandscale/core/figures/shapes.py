"""Counts and areas on a sheet, in sheet units; a scale turns them into m and m²."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely import LinearRing, Polygon
from shapely import Point as PolygonPoint
from shapely.validation import explain_validity

from ..refusals import BadShape
from .scale import Point

MOST_POINTS = 5_000
Ring = Sequence[Point]


@dataclass(frozen=True)
class Count:
    """Points counted on a sheet, such as the footings of one mark."""

    points: tuple[Point, ...]

    @property
    def number(self) -> int:
        """How many there are."""
        return len(self.points)


@dataclass(frozen=True)
class Area:
    """An outline with its voids: rings of points in sheet units, not repeated at the end."""

    outline: tuple[Point, ...]
    voids: tuple[tuple[Point, ...], ...] = ()

    def gross(self, metres_per_unit: float) -> float:
        """The outline's area in m², voids not taken off."""
        return ring_area(self.outline) * metres_per_unit**2

    def void_areas(self, metres_per_unit: float) -> tuple[float, ...]:
        """Each void's area in m²."""
        return tuple(ring_area(void) * metres_per_unit**2 for void in self.voids)

    def net(self, metres_per_unit: float) -> float:
        """The area in m² with its voids taken off."""
        return self.gross(metres_per_unit) - sum(self.void_areas(metres_per_unit))

    def girth(self, metres_per_unit: float) -> float:
        """The outline's length in m."""
        return float(LinearRing(self.outline).length) * metres_per_unit


def count(points: Sequence[Point], width: float, height: float) -> Count:
    """A count, if its points are on the sheet.

    Raises:
        BadShape: none, too many, or one is off the sheet.
    """
    if not points:
        raise BadShape("A count needs at least one point.", field="points")
    _check_points(points, width, height)
    return Count(tuple((float(x), float(y)) for x, y in points))


def area(outline: Ring, voids: Sequence[Ring], width: float, height: float) -> Area:
    """An area, if its rings can be measured on a sheet of that size (sheet units).

    A void may touch the outline or another void at a point or along an edge; it may not cross them.

    Raises:
        BadShape: a ring has fewer than three corners or crosses itself (the crossing is named), a
            void lies outside the outline, or two voids overlap.
    """
    shape = _polygon(outline, "area", width, height)
    holes = [_polygon(void, f"void {number}", width, height) for number, void in enumerate(voids, start=1)]
    for number, hole in enumerate(holes, start=1):
        outside = hole.difference(shape.buffer(1e-6)).area
        if outside > 1e-3:
            raise BadShape(
                f"Void {number} lies {'wholly' if outside > hole.area * 0.999 else 'partly'} outside its area.",
                field="voids",
                remedy="Draw the void inside the outline, or draw it as an area of its own and deduct it.",
            )
        for other in range(number, len(holes)):
            if hole.intersection(holes[other]).area > 1e-3:
                raise BadShape(f"Voids {number} and {other + 1} overlap, so a part would be taken off twice.", field="voids")
    return Area(_ring(outline), tuple(_ring(void) for void in voids))


def ring_area(ring: Ring) -> float:
    """The area inside a ring that doesn't cross itself (the surveyor's cross-multiplication)."""
    x0, y0 = ring[0]
    shifted = [(x - x0, y - y0) for x, y in ring]
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(shifted, shifted[1:] + shifted[:1], strict=True))) / 2


def inside(ring: Ring, point: Point) -> bool:
    """Whether a point lies inside a ring or on it."""
    return bool(Polygon(ring).buffer(1e-9).covers(PolygonPoint(point)))


def _ring(points: Ring) -> tuple[Point, ...]:
    """The corners in order, without the closing one or corners that repeat the one before."""
    kept: list[Point] = []
    for x, y in points:
        corner = (float(x), float(y))
        if not kept or math.dist(kept[-1], corner) > 1e-9:
            kept.append(corner)
    if len(kept) > 1 and math.dist(kept[0], kept[-1]) <= 1e-9:
        kept.pop()
    return tuple(kept)


def _polygon(points: Ring, what: str, width: float, height: float) -> Polygon:
    _check_points(points, width, height)
    ring = _ring(points)
    if len(ring) < 3:
        raise BadShape(f"The {what} has fewer than three corners.", field="points", remedy="Pick at least three.")
    polygon = Polygon(ring)
    if polygon.convex_hull.area <= 1e-6:
        raise BadShape(f"The {what} has no area: its corners lie on one line.", field="points")
    if not polygon.is_valid:
        why = explain_validity(polygon)
        place = why[why.find("[") + 1 : why.find("]")].split() if "[" in why else []
        at = f" at {float(place[0]):.0f}, {float(place[1]):.0f} on the sheet" if len(place) == 2 else ""
        raise BadShape(f"The outline of the {what} crosses itself{at}.", field="points", remedy="Move one of its corners.")
    return polygon


def _check_points(points: Sequence[Point], width: float, height: float) -> None:
    if len(points) > MOST_POINTS:
        raise BadShape(f"A figure takes at most {MOST_POINTS} points; this one has {len(points)}.", field="points")
    for x, y in points:
        if not (math.isfinite(x) and math.isfinite(y) and -1 <= x <= width + 1 and -1 <= y <= height + 1):
            raise BadShape(f"The point {x:.0f}, {y:.0f} is off the sheet.", field="points", remedy="Pick points on the sheet.")
