"""A section across a route as it is drawn: what is shaded, and its lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..areas import Trapezia, trapezia
from ..drawn import Shape, ring_area
from ..pieces import Floats
from .imported import FORMATION, GROUND, SectionLines
from .sections import CUT, FILL, Route, Section
from .typical import finished_line


@dataclass(frozen=True)
class DrawnSection:
    """A section; its lines are k × 2 of offset (to the right above zero) and level, in m.

    Attributes:
        chainage: in m.
        typical: the name of the typical section; empty where it came from elsewhere.
        level: of the centreline; None where it came from elsewhere.
        ground, formation, finished: its lines, empty where there is none.
        shapes: cut and fill first, then layers.
    """

    chainage: float
    typical: str
    level: float | None
    ground: Floats
    formation: Floats
    finished: Floats
    shapes: tuple[Shape, ...]


def drawn_section(section: Section, route: Route) -> DrawnSection:
    """A section that is built by a typical one."""
    twin = route.typical_at(section.chainage, before=True)
    typical = (
        twin if twin is not None and twin.name == section.typical else route.typical_at(section.chainage)
    )
    finished = finished_line(typical, section.level) if typical is not None else []
    layers = [
        Shape(name, tuple(_line(ring) for ring in rings), section.areas[name])
        for name, rings in section.layers.items()
        if section.areas[name]
    ]
    stripped = section.ground[:, 1] - section.topsoil
    earth = _earth(section.between, section.ground[:, 0], stripped)
    return DrawnSection(
        section.chainage, section.typical, section.level, section.ground, section.formation, _line(finished),
        (*earth, *layers),
    )  # fmt: skip


def drawn_lines(section: SectionLines, order: Sequence[str]) -> DrawnSection:
    """A section that came from elsewhere as lines.

    Args:
        order: the names of its lines from the top down.
    """
    lines, shapes = section.lines, list[Shape]()
    there = [name for name in order if name in lines]
    for upper, lower in pairwise(there):
        ring = _ring_between(lines[upper], lines[lower])
        if len(ring):
            shapes.append(Shape(upper, (ring,), ring_area(ring.tolist())))
    if {GROUND, FORMATION} <= set(lines):
        top, bottom = lines[GROUND], lines[FORMATION]
        marks = np.unique(np.concatenate([top[:, 0], bottom[:, 0]]))
        marks = marks[(marks >= max(top[0, 0], bottom[0, 0])) & (marks <= min(top[-1, 0], bottom[-1, 0]))]
        if len(marks) > 1:
            heights = np.interp(marks, *top.T) - np.interp(marks, *bottom.T)
            shapes = [*_earth(trapezia(marks, heights), top[:, 0], top[:, 1]), *shapes]
    return DrawnSection(
        section.chainage, "", None, _line(lines.get(GROUND, [])), _line(lines.get(FORMATION, [])),
        _line(lines[there[0]] if there and there[0] == order[0] else []), tuple(shapes),
    )  # fmt: skip


def _line(places: Sequence[Sequence[float]] | Floats) -> Floats:
    return np.asarray(places, dtype=float).reshape(-1, 2)


def _earth(between: Trapezia, offsets: Floats, levels: Floats) -> list[Shape]:
    """Cut and fill as outlines, from the trapezia their areas were taken from."""
    upper = np.interp(between.offsets, offsets, levels)
    rings: dict[str, list[Floats]] = {CUT: [], FILL: []}
    for n, area in enumerate(between.areas.tolist()):
        if not area:
            continue
        x1, x2 = between.offsets[n], between.offsets[n + 1]
        t1, t2 = upper[n], upper[n + 1]
        b1, b2 = t1 - between.heights[n], t2 - between.heights[n + 1]
        rings[CUT if area > 0 else FILL].append(np.array([[x1, t1], [x2, t2], [x2, b2], [x1, b1]]))
    sums = {CUT: between.above, FILL: between.below}
    return [Shape(name, tuple(each), sums[name]) for name, each in rings.items() if each]


def _ring_between(top: Floats, bottom: Floats) -> Floats:
    low, high = max(top[0, 0], bottom[0, 0]), min(top[-1, 0], bottom[-1, 0])
    if not low < high:
        return np.zeros((0, 2))
    rings = []
    for line in (top, bottom):
        inner = line[(line[:, 0] > low) & (line[:, 0] < high)]
        ends = np.array([[x, np.interp(x, line[:, 0], line[:, 1])] for x in (low, high)])
        rings.append(np.concatenate([ends[:1], inner, ends[1:]]))
    return np.concatenate([rings[0], rings[1][::-1]])
