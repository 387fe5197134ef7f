"""Counts, runs and areas on a sheet, in sheet units; a scale turns them into m and m²."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from itertools import combinations

from shapely import Point as PolygonPoint
from shapely import Polygon, STRtree, symmetric_difference
from shapely.geometry.base import BaseGeometry
from shapely.validation import explain_validity

from ..findings import Finding
from ..refusals import BadShape
from .arcs import Corner, bow, bulge_of, flattened, side_length, sides
from .scale import Point, Scale

MOST_POINTS = 5_000
_TOUCH = 1e-3  # square sheet units two shapes may share before they overlap
Ring = Sequence[Sequence[float]]


@dataclass(frozen=True)
class Count:
    """Points counted on a sheet, such as the footings of one mark."""

    points: tuple[Point, ...]

    @property
    def number(self) -> int:
        """How many there are."""
        return len(self.points)


@dataclass(frozen=True)
class Run:
    """A line on a sheet from corner to corner, straight or in arcs, such as the centre line of a strip
    footing."""

    corners: tuple[Corner, ...]
    closed: bool = False

    def length(self, scale: Scale) -> float:
        """Its length in m."""
        return sum(side_length(side, scale) for side in sides(self.corners, closed=self.closed))

    @property
    def points(self) -> list[Point]:
        """Its corners, arcs as chords."""
        return flattened(self.corners, closed=self.closed)

    @property
    def path(self) -> list[Point]:
        """Its points from end to end: back at the first where it is closed."""
        points = self.points
        return [*points, points[0]] if self.closed and points[0] != points[-1] else points


@dataclass(frozen=True)
class Area:
    """An outline with the rings in it: corners in sheet units, not repeated at the end.

    A ring inside the outline is a void; a ring inside a void counts again, and so on inwards.
    """

    outline: tuple[Corner, ...]
    voids: tuple[tuple[Corner, ...], ...] = ()
    depths: tuple[int, ...] = ()

    def gross(self, scale: Scale) -> float:
        """The outline's area in m², voids not taken off."""
        return ring_area(self.outline) * scale.x * scale.y

    def void_areas(self, scale: Scale) -> tuple[float, ...]:
        """Each inner ring's area in m², signed: what is taken off is positive, what counts again negative."""
        signs = [1 if depth % 2 else -1 for depth in self.depths]
        return tuple(
            sign * ring_area(void) * scale.x * scale.y for sign, void in zip(signs, self.voids, strict=True)
        )

    def net(self, scale: Scale) -> float:
        """The area in m² with its voids taken off."""
        return self.gross(scale) - sum(self.void_areas(scale))

    def girth(self, scale: Scale) -> float:
        """The outline's length in m."""
        return Run(self.outline, closed=True).length(scale)

    def void_girth(self, scale: Scale) -> float:
        """The length of the edges of its inner rings in m."""
        return sum(Run(void, closed=True).length(scale) for void in self.voids)


def count(points: Ring, width: float, height: float) -> Count:
    """A count, if its points are on the sheet.

    Raises:
        BadShape: none, too many, or one is off the sheet.
    """
    if not points:
        raise BadShape("A count needs at least one point.", field="points")
    _check_points(points, width, height)
    return Count(tuple((float(p[0]), float(p[1])) for p in points))


def run(corners: Ring, width: float, height: float, *, closed: bool = False) -> Run:
    """A run, if it has a length and lies on a sheet of that size (sheet units).

    Raises:
        BadShape: fewer than two corners, no length, or a corner or arc is off the sheet.
    """
    _check_points(corners, width, height)
    kept = _ring(corners, closed=closed)
    if len(kept) < (3 if closed else 2):
        raise BadShape(
            "A run needs two corners apart.", field="points", remedy="Pick where it begins and where it ends."
        )
    _check_points(flattened(kept, closed=closed), width, height)
    return Run(kept, closed)


def area(outline: Ring, voids: Sequence[Ring], width: float, height: float) -> Area:
    """An area, if its rings can be measured on a sheet of that size (sheet units).

    A void may touch the outline or another void at a point or along an edge; it may lie inside another void,
    where it counts again; it may not cross them.

    Raises:
        BadShape: a ring has fewer than three corners or crosses itself (the crossing is named), a
            void lies outside the outline, or two voids overlap.
    """
    shape = _polygon(outline, "area", width, height)
    holes = [_polygon(void, f"void {number}", width, height) for number, void in enumerate(voids, start=1)]
    depths = [1] * len(holes)
    for number, hole in enumerate(holes):
        outside = hole.difference(shape.buffer(1e-6)).area
        if outside > _TOUCH:
            raise BadShape(
                f"Void {number + 1} lies {'wholly' if outside > hole.area * 0.999 else 'partly'} "
                "outside its area.",
                field="voids",
                remedy="Draw the void inside the outline, or draw it as an area of its own and deduct it.",
            )
    for one, other in combinations(range(len(holes)), 2):
        shared = holes[one].intersection(holes[other]).area
        if shared <= _TOUCH:
            continue
        inner = min(one, other, key=lambda at: holes[at].area)
        if holes[inner].area - shared > _TOUCH or abs(holes[one].area - holes[other].area) <= _TOUCH:
            raise BadShape(
                f"Voids {one + 1} and {other + 1} overlap, so a part would be taken off twice.", field="voids"
            )
        depths[inner] += 1
    return Area(_ring(outline), tuple(_ring(void) for void in voids), tuple(depths))


def overlaps(areas: Sequence[Area]) -> list[tuple[int, int, Finding]]:
    """The pairs of areas of one element, on one sheet, that overlap and so are counted twice."""
    shapes = [_counted(area) for area in areas]
    found = []
    # Only those that come near one another, so that the work grows with the areas and not with their pairs.
    near = STRtree(shapes).query(shapes, predicate="intersects").T.tolist() if shapes else []
    for one, other in sorted((one, other) for one, other in near if one < other):
        shared = shapes[one].intersection(shapes[other])
        if shared.area > _TOUCH:
            at = shared.representative_point()
            found.append(
                (
                    one,
                    other,
                    Finding(
                        f"Two areas overlap at {at.x:.0f}, {at.y:.0f} on the sheet, "
                        "so a part is counted twice.",
                        field="points",
                        wrong=True,
                        code="areas-overlap",
                    ),
                )
            )
    return found


def _counted(area: Area) -> BaseGeometry:
    """What of a sheet an area counts: a ring in a void counts again."""
    rings = [Polygon(flattened(ring, closed=True)) for ring in (area.outline, *area.voids)]
    counted: BaseGeometry = reduce(symmetric_difference, rings)
    return counted


def ring_area(ring: Ring) -> float:
    """The area inside a ring that doesn't cross itself: the surveyor's cross-multiplication, and the bows
    of its arcs."""
    x0, y0 = ring[0][0], ring[0][1]
    twice = sum((a[0] - x0) * (b[1] - y0) - (b[0] - x0) * (a[1] - y0) for a, b, _ in sides(ring, closed=True))
    return abs(twice / 2 + sum(bow(side) for side in sides(ring, closed=True)))


def inside(ring: Ring, point: Point) -> bool:
    """Whether a point lies inside a ring or on it."""
    return bool(Polygon(flattened(ring, closed=True)).buffer(1e-9).covers(PolygonPoint(point)))


def _ring(points: Ring, *, closed: bool = True) -> tuple[Corner, ...]:
    """The corners in order, without those that repeat the one before, and the closing one of a ring."""
    kept: list[Corner] = []
    for point in points:
        corner: Corner = (
            (float(point[0]), float(point[1]), bulge_of(point))
            if bulge_of(point)
            else (float(point[0]), float(point[1]))
        )
        if kept and math.dist(kept[-1][:2], corner[:2]) <= 1e-9:
            kept[-1] = corner
        else:
            kept.append(corner)
    if closed and len(kept) > 1 and math.dist(kept[0][:2], kept[-1][:2]) <= 1e-9:
        kept.pop()
    return tuple(kept)


def _polygon(points: Ring, what: str, width: float, height: float) -> Polygon:
    _check_points(points, width, height)
    ring = _ring(points)
    if len(ring) < 3 and not any(bulge_of(corner) for corner in ring):
        raise BadShape(
            f"The {what} has fewer than three corners.", field="points", remedy="Pick at least three."
        )
    flat = flattened(ring, closed=True)
    _check_points(flat, width, height, most=MOST_POINTS * 32)
    polygon = Polygon(flat)
    if polygon.convex_hull.area <= 1e-6:
        raise BadShape(f"The {what} has no area: its corners lie on one line.", field="points")
    if not polygon.is_valid:
        why = explain_validity(polygon)
        place = why[why.find("[") + 1 : why.find("]")].split() if "[" in why else []
        at = f" at {float(place[0]):.0f}, {float(place[1]):.0f} on the sheet" if len(place) == 2 else ""
        raise BadShape(
            f"The outline of the {what} crosses itself{at}.",
            field="points",
            remedy="Move one of its corners.",
        )
    return polygon


def _check_points(points: Ring, width: float, height: float, most: int = MOST_POINTS) -> None:
    if len(points) > most:
        raise BadShape(
            f"A figure takes at most {MOST_POINTS} points; this one has {len(points)}.", field="points"
        )
    for point in points:
        x, y = point[0], point[1]
        if not (math.isfinite(x) and math.isfinite(y) and -1 <= x <= width + 1 and -1 <= y <= height + 1):
            raise BadShape(
                f"The point {x:.0f}, {y:.0f} is off the sheet.",
                field="points",
                remedy="Pick points on the sheet.",
            )
        if not math.isfinite(bulge_of(point)) or abs(bulge_of(point)) > 1000:
            raise BadShape(
                "An arc of a figure turns through nearly a full circle.",
                field="points",
                remedy="Draw it as two arcs.",
            )
