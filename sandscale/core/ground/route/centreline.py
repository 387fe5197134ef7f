"""A centreline of straights, arcs and transitions in plan, and its long section."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from ...refusals import BadEntry
from ..measures import known, positive
from ..pieces import Floats

_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(24)
_SHARE, _WEIGHT = (_NODES + 1) / 2, _WEIGHTS / 2


@dataclass(frozen=True)
class Element:
    """A part of a centreline whose curvature changes evenly: a straight (0, 0), an arc (k, k) or a
    transition.

    Attributes:
        start: x, y.
        direction: at the start, in radians from east to the left.
        length: in m.
        curvature: at the start, 1 / radius in 1/m, above zero to the left.
        end_curvature: at the end.
    """

    start: tuple[float, float]
    direction: float
    length: float
    curvature: float = 0.0
    end_curvature: float = 0.0

    def directions(self, along: Floats) -> Floats:
        """In radians, at lengths from the start."""
        return np.asarray(
            self.direction
            + self.curvature * along
            + (self.end_curvature - self.curvature) * along**2 / (2 * self.length)
        )

    def curvatures(self, along: Floats) -> Floats:
        """In 1/m, at lengths from the start."""
        return np.asarray(self.curvature + (self.end_curvature - self.curvature) * along / self.length)

    def places(self, along: Floats) -> Floats:
        """k × 2, at lengths from the start."""
        turned = self.directions(along[:, None] * _SHARE)
        steps = along[:, None] * np.stack([(np.cos(turned) @ _WEIGHT), (np.sin(turned) @ _WEIGHT)], axis=1)
        return np.asarray(np.array(self.start) + steps)


@dataclass(frozen=True)
class Centreline:
    """Elements one after the other.

    Attributes:
        elements: from the start on.
        begin: the chainage of the start, in m.
    """

    elements: tuple[Element, ...]
    begin: float = 0.0

    def __post_init__(self) -> None:
        measured = all(
            known(*each.start, each.direction, each.curvature, each.end_curvature) and positive(each.length)
            for each in self.elements
        )
        if not (self.elements and measured and known(self.begin)):
            raise BadEntry(
                "A centreline needs elements with a length above zero, and no measure missing.",
                field="centreline",
            )

    @cached_property
    def changes(self) -> Floats:
        """The chainages at which an element begins or ends, in m."""
        return self.begin + np.concatenate([[0.0], np.cumsum([element.length for element in self.elements])])

    @property
    def end(self) -> float:
        """The chainage of the end, in m."""
        return float(self.changes[-1])

    def at(self, chainages: Sequence[float] | Floats) -> tuple[Floats, Floats, Floats]:
        """Places (k × 2), directions and curvatures at chainages; at a change, of the element that begins
        there.

        Raises:
            BadEntry: a chainage is off the centreline.
        """
        along = np.asarray(chainages, dtype=float)
        if ((along < self.begin - 1e-6) | (along > self.end + 1e-6)).any():
            raise BadEntry(
                f"The centreline goes from chainage {self.begin:g} to {self.end:g}.", field="chainage"
            )
        which = np.clip(
            np.searchsorted(self.changes, along + 1e-9, side="right") - 1, 0, len(self.elements) - 1
        )
        places, directions, curvatures = np.zeros((len(along), 2)), np.zeros(len(along)), np.zeros(len(along))
        for at in np.unique(which):
            own, element = which == at, self.elements[at]
            local = along[own] - self.changes[at]
            places[own], directions[own], curvatures[own] = (
                element.places(local),
                element.directions(local),
                element.curvatures(local),
            )
        return places, directions, curvatures

    def offset_places(self, chainages: Floats, offsets: Floats) -> Floats:
        """The places at offsets (to the right above zero) from chainages, k × 2."""
        places, directions, _ = self.at(chainages)
        return np.asarray(
            places + offsets[:, None] * np.stack([np.sin(directions), -np.cos(directions)], axis=1)
        )


def through(
    corners: Sequence[Sequence[float]], radii: Sequence[float] = (), begin: float = 0.0
) -> Centreline:
    """A centreline of straights, with an arc of a radius inside each corner.

    Args:
        corners: x, y of the start, of each intersection of the straights, and of the end.
        radii: for each corner between, in m; 0 for a sharp one.
        begin: the chainage of the start.

    Raises:
        BadEntry: two corners at one place, or arcs that don't fit their straights.
    """
    points = [np.array(corner[:2], dtype=float) for corner in corners]
    if (
        len(points) < 2
        or not known(*points)
        or any(not float(np.hypot(*(b - a))) > 0 for a, b in pairwise(points))
    ):
        raise BadEntry(
            "A centreline needs two points at least, each apart from the next.", field="centreline"
        )
    wanted = [*radii, *[0.0] * (len(points) - 2 - len(radii))]
    turns = [0.0, *(_turn(a, b, c) for a, b, c in zip(points, points[1:], points[2:], strict=False)), 0.0]
    tangents = [
        0.0,
        *(abs(radius * math.tan(turn / 2)) for radius, turn in zip(wanted, turns[1:], strict=False)),
        0.0,
    ]
    made = list[Element]()
    for at, (a, b) in enumerate(pairwise(points)):
        length = float(np.hypot(*(b - a)))
        direction = math.atan2(b[1] - a[1], b[0] - a[0])
        straight = length - tangents[at] - tangents[at + 1]
        if straight < -1e-6:
            raise BadEntry(
                f"The arcs at both ends of the straight to {b[0]:.2f}, {b[1]:.2f} don't fit on it.",
                field="radii",
                remedy="Take smaller radii.",
            )
        unit = (b - a) / length
        if straight > 1e-9:
            start = a + unit * tangents[at]
            made.append(Element((float(start[0]), float(start[1])), direction, straight))
        turn, radius = turns[at + 1], wanted[at] if at + 1 < len(points) - 1 else 0.0
        if radius and turn:
            start = b - unit * tangents[at + 1]
            curvature = math.copysign(1 / radius, turn)
            made.append(
                Element(
                    (float(start[0]), float(start[1])), direction, abs(turn) * radius, curvature, curvature
                )
            )
    return Centreline(tuple(made), begin)


def along_arcs(corners: Sequence[Sequence[float]], begin: float = 0.0) -> Centreline:
    """A centreline along a polyline with bulges, as a figure or a DXF file has it: (x, y, bulge of the
    part that follows)."""
    made = list[Element]()
    for a, b in pairwise(corners):
        bulge = float(a[2]) if len(a) > 2 else 0.0
        chord, direction = math.hypot(b[0] - a[0], b[1] - a[1]), math.atan2(b[1] - a[1], b[0] - a[0])
        if chord == 0:
            continue
        turn = 4 * math.atan(bulge)
        curvature = 2 * math.sin(turn / 2) / chord
        length = turn / curvature if turn else chord
        made.append(Element((a[0], a[1]), direction - turn / 2, length, curvature, curvature))
    return Centreline(tuple(made), begin)


@dataclass(frozen=True)
class LongSection:
    """Levels along a route: straights between points, rounded by parabolas.

    Attributes:
        points: (chainage, level, length of the vertical curve about it), chainages rising, in m.
    """

    points: Sequence[tuple[float, float, float]]

    def __post_init__(self) -> None:
        if len(self.points) < 2 or any(not a[0] < b[0] for a, b in pairwise(self.points)):
            raise BadEntry(
                "A long section needs two points at least, their chainages rising.", field="long_section"
            )
        if not known(*(value for point in self.points for value in point)):
            raise BadEntry(
                "A chainage or level of the long section is missing or can't be.", field="long_section"
            )
        ends = [point[0] + sign * point[2] / 2 for point in self.points for sign in (-1, 1)]
        if not all(point[2] >= 0 for point in self.points) or any(a > b + 1e-6 for a, b in pairwise(ends)):
            raise BadEntry(
                "The vertical curves of the long section overlap.",
                field="long_section",
                remedy="Shorten them.",
            )

    @property
    def changes(self) -> Floats:
        """Where a straight or a curve begins or ends, in m."""
        return np.unique(
            [
                place
                for chainage, _, curve in self.points
                for place in (chainage - curve / 2, chainage, chainage + curve / 2)
            ]
        )

    def levels(self, chainages: Floats) -> Floats:
        """At chainages, in m; beyond its ends the last straight goes on."""
        stations, heights = (
            np.array([point[0] for point in self.points]),
            np.array([point[1] for point in self.points]),
        )
        grades = np.diff(heights) / np.diff(stations)
        which = np.clip(np.searchsorted(stations, chainages, side="right") - 1, 0, len(grades) - 1)
        found = heights[which] + grades[which] * (chainages - stations[which])
        for (station, _, curve), before, after in zip(self.points[1:-1], grades, grades[1:], strict=False):
            if curve:
                away = curve / 2 - np.abs(chainages - station)
                found = found + np.where(away > 0, (after - before) / (2 * curve) * away**2, 0.0)
        return np.asarray(found)


def _turn(a: Floats, b: Floats, c: Floats) -> float:
    u, v = b - a, c - b
    return math.atan2(u[0] * v[1] - u[1] * v[0], float(u @ v))
