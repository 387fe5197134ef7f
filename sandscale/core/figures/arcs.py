"""Lines and arcs between the corners of a figure.

A corner is (x, y) or (x, y, bulge): the bulge is the tangent of a quarter of the angle the arc to the next
corner turns through, positive to the left (as DXF polylines write it), 0 for a straight line."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from ..refusals import BadShape
from .scale import Point, Scale

Corner = tuple[float, float] | tuple[float, float, float]
Side = tuple[Point, Point, float]
_CHORDS = 64  # a full circle drawn with chords
_FINE = 1024  # a full circle measured with chords, where the scale is stretched


def bulge_of(corner: Sequence[float]) -> float:
    """The bulge towards the next corner."""
    return float(corner[2]) if len(corner) > 2 else 0.0


def sides(corners: Sequence[Sequence[float]], *, closed: bool) -> list[Side]:
    """From corner to corner: start, end, bulge."""
    ends = [*corners[1:], corners[0]] if closed else corners[1:]
    return [((a[0], a[1]), (b[0], b[1]), bulge_of(a)) for a, b in zip(corners, ends, strict=False)]


def through(start: Point, middle: Point, end: Point) -> float:
    """The bulge of the arc from a start through a middle point to an end; 0 where they lie on one line.

    Raises:
        BadShape: start and end are one point, so there is no one arc.
    """
    if math.dist(start, end) < 1e-9:
        raise BadShape("An arc needs two ends apart.", field="points", remedy="Draw a circle as two arcs.")
    # The angle at the middle point stands over the other part of the circle.
    ax, ay, bx, by = start[0] - middle[0], start[1] - middle[1], end[0] - middle[0], end[1] - middle[1]
    cross, dot = ax * by - ay * bx, ax * bx + ay * by
    if abs(cross) <= 1e-9 * (abs(dot) + 1e-12):
        return 0.0
    inscribed = math.atan2(abs(cross), dot)
    bulge = math.tan((math.pi - inscribed) / 2)
    return bulge if cross < 0 else -bulge


def side_length(side: Side, scale: Scale) -> float:
    """The length of a side in m."""
    start, end, bulge = side
    if bulge == 0:
        return scale.length(start, end)
    if scale.is_even:
        angle = 4 * math.atan(abs(bulge))
        return scale.length(start, end) * angle / (2 * math.sin(angle / 2))
    drawn = chords(side, _FINE)
    return sum(scale.length(a, b) for a, b in pairwise(drawn))


def bow(side: Side) -> float:
    """The area between an arc and its chord, in square sheet units, signed as the bulge: it is added to a
    ring that turns to the left."""
    start, end, bulge = side
    if bulge == 0:
        return 0.0
    angle = 4 * math.atan(abs(bulge))
    radius = math.dist(start, end) / (2 * math.sin(angle / 2))
    return math.copysign(radius**2 / 2 * (angle - math.sin(angle)), bulge)


def chords(side: Side, full: int = _CHORDS) -> list[Point]:
    """A side as points: its ends, and along an arc so many chords to a full circle."""
    start, end, bulge = side
    if bulge == 0:
        return [start, end]
    angle = 4 * math.atan(bulge)
    steps = max(2, math.ceil(abs(angle) / (2 * math.pi) * full))
    mid_x, mid_y = (start[0] + end[0]) / 2, (start[1] + end[1]) / 2
    # The centre stands off the chord's middle by half the chord over the tangent of half the angle, to the
    # left.
    off = (1 - bulge**2) / (4 * bulge)
    cx, cy = mid_x - (end[1] - start[1]) * off, mid_y + (end[0] - start[0]) * off
    first = math.atan2(start[1] - cy, start[0] - cx)
    radius = math.hypot(start[0] - cx, start[1] - cy)
    between = [
        (cx + radius * math.cos(first + angle * n / steps), cy + radius * math.sin(first + angle * n / steps))
        for n in range(1, steps)
    ]
    return [start, *between, end]


def flattened(corners: Sequence[Sequence[float]], *, closed: bool) -> list[Point]:
    """A polyline or ring as points only, arcs as chords."""
    drawn = [chords(side) for side in sides(corners, closed=closed)]
    if not drawn:
        return [(c[0], c[1]) for c in corners]
    points = [point for part in drawn for point in part[:-1]]
    return points if closed else [*points, drawn[-1][-1]]
