"""Strips and beams that meet: how much of each centre line is concrete of another, so that nothing counts
twice.

At a T the branch loses half the width of the strip it runs into; at a cross the second strip loses the
first's whole width, half for each of its branches. Corners of centre lines lose nothing: what one side lacks
the other has over."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..refusals import BadShape

Point = tuple[float, float]
_TOUCH = 1e-6  # m
DRAWN = 0.05  # m: how far from a centre line what was drawn to it may end


@dataclass(frozen=True)
class Strip:
    """A run of strip footing or beam on its centre line.

    Attributes:
        points: the centre line, in m; the last equals the first when it is closed.
        width: in m.
    """

    points: tuple[Point, ...]
    width: float


@dataclass(frozen=True)
class Junction:
    """A place where a strip loses length to another.

    Attributes:
        at: where the centre lines meet, in m.
        through: index of the strip that goes on.
        branch: index of the strip that is shortened; the same index when a run meets itself.
        kind: ``T`` or ``cross``.
        deduct: the length the branch loses, in m.
    """

    at: Point
    through: int
    branch: int
    kind: str
    deduct: float


@dataclass(frozen=True)
class NetLength:
    """A strip's length on its centre line and what is left of it, in m."""

    centre_line: float
    net: float


def branches(strips: Sequence[Strip]) -> list[int]:
    """Of strips as they were drawn, how many branches each has: an end that runs into another is one, a cross
    is two. A strip without a width or with one point has none.
    """
    sound = [at for at, strip in enumerate(strips) if len(strip.points) > 1 and strip.width > 0]
    found = [0] * len(strips)
    for junction in net_lengths([strips[at] for at in sound], DRAWN)[1]:
        found[sound[junction.branch]] += 2 if junction.kind == "cross" else 1
    return found


def net_lengths(
    strips: Sequence[Strip], reach: float = _TOUCH
) -> tuple[tuple[NetLength, ...], tuple[Junction, ...]]:
    """The net length of each strip and the junctions behind it; the earlier strip goes through.

    Args:
        strips: each on its centre line.
        reach: how far from one another centre lines that meet may end, in m.

    Raises:
        BadShape: a strip has fewer than two points or no width.
    """
    for number, strip in enumerate(strips, start=1):
        if len(strip.points) < 2 or strip.width <= 0:
            raise BadShape(
                f"Strip {number} needs two points and a width.",
                field="strips",
                remedy="Draw its centre line from end to end.",
            )
    found = [
        junction
        for i in range(len(strips))
        for j in range(i + 1, len(strips))
        for junction in _meeting(strips, i, j, reach)
    ]
    lengths = []
    for number, strip in enumerate(strips):
        whole = sum(math.dist(a, b) for a, b in pairwise(strip.points))
        lost = sum(junction.deduct for junction in found if junction.branch == number)
        lengths.append(NetLength(whole, max(0.0, whole - lost)))
    return tuple(lengths), tuple(found)


def _meeting(strips: Sequence[Strip], i: int, j: int, reach: float) -> list[Junction]:
    met: list[Junction] = []
    for a, b in pairwise(strips[i].points):
        for c, d in pairwise(strips[j].points):
            at = _crossing(a, b, c, d, reach)
            if at is None or any(math.dist(at, other.at) < 2 * reach for other in met):
                continue
            i_ends, j_ends = _ends(strips[i], at, reach), _ends(strips[j], at, reach)
            if i_ends and j_ends:
                continue  # a corner
            sine = _sine(a, b, c, d)
            if j_ends:
                met.append(Junction(at, i, j, "T", strips[i].width / 2 / sine))
            elif i_ends:
                met.append(Junction(at, j, i, "T", strips[j].width / 2 / sine))
            else:
                met.append(Junction(at, i, j, "cross", strips[i].width / sine))
    return met


def _ends(strip: Strip, at: Point, reach: float) -> bool:
    closed = math.dist(strip.points[0], strip.points[-1]) < reach
    return not closed and min(math.dist(at, strip.points[0]), math.dist(at, strip.points[-1])) <= 2 * reach


def _sine(a: Point, b: Point, c: Point, d: Point) -> float:
    """The sine of the angle two centre lines meet at: a skew junction takes more."""
    cross = (b[0] - a[0]) * (d[1] - c[1]) - (b[1] - a[1]) * (d[0] - c[0])
    return abs(cross) / (math.dist(a, b) * math.dist(c, d))


def _crossing(a: Point, b: Point, c: Point, d: Point, reach: float) -> Point | None:
    """Where two segments meet, ends included; None where they don't or run along each other."""
    rx, ry, sx, sy = b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]
    cross = rx * sy - ry * sx
    if abs(cross) < 1e-12 * max(math.dist(a, b) * math.dist(c, d), 1e-12):
        return None
    t = ((c[0] - a[0]) * sy - (c[1] - a[1]) * sx) / cross
    u = ((c[0] - a[0]) * ry - (c[1] - a[1]) * rx) / cross
    slack_t, slack_u = reach / max(math.dist(a, b), reach), reach / max(math.dist(c, d), reach)
    if -slack_t <= t <= 1 + slack_t and -slack_u <= u <= 1 + slack_u:
        return (a[0] + t * rx, a[1] + t * ry)
    return None
