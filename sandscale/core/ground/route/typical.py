"""A typical section: strips from the centreline outwards, layers under them, ditches, and batters to the
ground."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from ...refusals import BadEntry
from ..formation import Batter
from ..measures import known, sound

Point = tuple[float, float]
_CUT, _FILL = Batter(1.0), Batter(1.5)


@dataclass(frozen=True)
class Strip:
    """A part of the width.

    Attributes:
        name: such as carriageway or verge.
        width: in m.
        fall: how much it falls per m outwards; below zero where it rises.
        step: how much it stands above what is inside of it, in m, as a kerb does; below zero where lower.
        linear: whether it is counted by its length, as a kerb or a channel is, rather than its surface.
    """

    name: str
    width: float
    fall: float = 0.0
    step: float = 0.0
    linear: bool = False


@dataclass(frozen=True)
class RouteLayer:
    """A layer of the construction.

    Attributes:
        name: such as base course.
        thickness: measured upright, in m.
        under: the strips it lies under, next to one another.
        spread: how far it goes beyond their outer edge, in m.
    """

    name: str
    thickness: float
    under: tuple[str, ...]
    spread: float = 0.0


@dataclass(frozen=True)
class Ditch:
    """A ditch beyond the last strip, in cut.

    Attributes:
        depth: below the edge, in m.
        bottom: width, in m.
        inner: batter from the edge down, horizontal to 1 vertical.
        outer: batter up to the level of the edge; beyond it the cut goes on.
    """

    depth: float
    bottom: float
    inner: float
    outer: float

    def __post_init__(self) -> None:
        if not sound(self.depth, self.bottom, self.inner, self.outer):
            raise BadEntry("A ditch has a measure that is missing or below zero.", field="ditch")


@dataclass(frozen=True)
class TypicalSection:
    """What a route is built like.

    Attributes:
        name: of it.
        left, right: strips from the centreline outwards.
        layers: from the top down.
        cut, fill: batters to the ground.
        ditch: in cut, on both sides, where there is one.
        topsoil: stripped over the whole width, in m.
    """

    name: str
    left: tuple[Strip, ...]
    right: tuple[Strip, ...]
    layers: tuple[RouteLayer, ...] = ()
    cut: Batter = _CUT
    fill: Batter = _FILL
    ditch: Ditch | None = None
    topsoil: float = 0.0

    def __post_init__(self) -> None:
        strips = {strip.name for strip in (*self.left, *self.right)}
        every = (*self.left, *self.right)
        if not (
            sound(self.topsoil, *(strip.width for strip in every))
            and known(*(value for strip in every for value in (strip.fall, strip.step)))
        ):
            raise BadEntry(
                f"Typical section {self.name} has a measure that is missing or below zero.", field="typical"
            )
        for layer in self.layers:
            if not sound(layer.thickness, layer.spread):
                raise BadEntry(
                    f"Layer {layer.name} has a measure that is missing or below zero.", field="layers"
                )
            if unknown := [name for name in layer.under if name not in strips]:
                raise BadEntry(
                    f"Layer {layer.name} lies under {unknown[0]}, which {self.name} doesn't have.",
                    field="layers",
                )
        if len({layer.name for layer in self.layers}) < len(self.layers):
            raise BadEntry(f"Two layers of {self.name} have one name.", field="layers")

    def built_like(self, other: TypicalSection) -> bool:
        """Whether another is the same but for its name."""
        return replace(other, name=self.name) == self

    def blended(self, after: TypicalSection, share: float) -> TypicalSection:
        """A section between this and another of the same build, by a share of the way.

        Raises:
            BadEntry: they don't have the same strips and layers.
        """
        alike = [
            [part.name for part in group]
            for one in (self, after)
            for group in (one.left, one.right, one.layers)
        ]
        if alike[:3] != alike[3:]:
            raise BadEntry(
                f"{self.name} can't taper into {after.name}: their strips or layers differ.",
                field="taper",
                remedy="Change without a taper.",
            )

        def mixed(one: float, other: float) -> float:
            return one + (other - one) * share

        sides = [
            tuple(
                replace(
                    a,
                    width=mixed(a.width, b.width),
                    fall=mixed(a.fall, b.fall),
                    step=mixed(a.step, b.step),
                )
                for a, b in zip(one, other, strict=True)
            )
            for one, other in ((self.left, after.left), (self.right, after.right))
        ]
        layers = tuple(
            replace(a, thickness=mixed(a.thickness, b.thickness), spread=mixed(a.spread, b.spread))
            for a, b in zip(self.layers, after.layers, strict=True)
        )
        return replace(
            self,
            name=f"{self.name} to {after.name}",
            left=sides[0],
            right=sides[1],
            layers=layers,
            topsoil=mixed(self.topsoil, after.topsoil),
        )


@dataclass(frozen=True)
class Side:
    """One side of a typical section, offsets outwards above zero, levels from the centreline's.

    Attributes:
        edge: the outer end of the last strip.
        strips: name, from and to of each.
        formation: what earthwork is brought to, from the centreline to the edge.
        layers: name → its outlines, a part for each strip and spread.
        beside: what is left between the finished line and the formation beside the layers: its area in m²,
            and the offset of its middle in m.
    """

    edge: Point
    strips: tuple[tuple[str, float, float], ...]
    formation: tuple[Point, ...]
    layers: dict[str, list[tuple[Point, Point, Point, Point]]]
    beside: tuple[float, float]


def side_of(strips: Sequence[Strip], layers: Sequence[RouteLayer]) -> Side:
    """The geometry of one side."""
    finished = list[tuple[float, float, float, float]]()  # from, to, level at from, level at to
    end, low = 0.0, 0.0
    for strip in strips:
        begin, top = end, low + strip.step
        end, low = begin + strip.width, top - strip.width * strip.fall
        finished.append((begin, end, top, low))
    shapes: dict[str, list[tuple[Point, Point, Point, Point]]] = {layer.name: [] for layer in layers}
    bottoms = list[tuple[float, float, float, float]]()  # from, to, level at from, level at to
    for at, strip in enumerate(strips):
        above = 0.0
        for layer in layers:
            if strip.name not in layer.under:
                continue
            last = not any(after.name in layer.under for after in strips[at + 1 :])
            begin, top = finished[at][0], finished[at][2] - above
            outer = finished[at][1] + (layer.spread if last else 0.0)
            bottom = top - (outer - begin) * strip.fall
            shapes[layer.name].append(
                (
                    (begin, top),
                    (outer, bottom),
                    (outer, bottom - layer.thickness),
                    (begin, top - layer.thickness),
                )
            )
            above += layer.thickness
            bottoms.append((begin, outer, top - layer.thickness, bottom - layer.thickness))
    named = tuple((strip.name, *line[:2]) for strip, line in zip(strips, finished, strict=True))
    formation = _lowest(end, finished, bottoms)
    return Side((end, low), named, tuple(formation), shapes, _beside(finished, formation, shapes))


def _lowest(
    edge: float,
    finished: Sequence[tuple[float, float, float, float]],
    bottoms: Sequence[tuple[float, float, float, float]],
) -> list[Point]:
    """The lowest of the finished line and the layers' bottoms up to the edge, with upright steps."""
    lines = [line for line in finished if line[1] > line[0]] + list(bottoms)
    marks = sorted({mark for line in lines for mark in line[:2] if mark <= edge} | _crossings(lines))
    found = list[Point]()
    for begin, end in pairwise(marks):
        if end - begin <= 1e-12:
            continue
        over = [line for line in lines if line[0] <= begin + 1e-12 and line[1] >= end - 1e-12]
        if over:
            middle = (begin + end) / 2
            lowest = min(over, key=lambda line: _at(line, middle))
            found += [(begin, _at(lowest, begin)), (end, _at(lowest, end))]
    return found or [(0.0, 0.0)]


def _beside(
    finished: Sequence[tuple[float, float, float, float]],
    formation: Sequence[Point],
    layers: Mapping[str, Sequence[tuple[Point, Point, Point, Point]]],
) -> tuple[float, float]:
    parts = [part for outlines in layers.values() for part in outlines]
    built = [(begin, end, top - bottom) for (begin, top), (end, _), _, (_, bottom) in parts]
    marks = sorted({x for x, _ in formation} | {x for begin, end, _ in built for x in (begin, end)})
    area, moment = 0.0, 0.0
    for begin, end in pairwise(mark for mark in marks if mark <= formation[-1][0] + 1e-12):
        over = next((line for line in finished if line[0] <= begin + 1e-12 and line[1] >= end - 1e-12), None)
        if over is None or end - begin <= 1e-12:
            continue
        middle = (begin + end) / 2
        below = next(
            line for line in ((a[0], b[0], a[1], b[1]) for a, b in pairwise(formation))
            if line[0] <= middle <= line[1] and line[1] > line[0]
        )  # fmt: skip
        thick = sum(size for left, right, size in built if left <= middle <= right)
        open_ = (_at(over, middle) - _at(below, middle) - thick) * (end - begin)
        if open_ > 1e-9:
            area, moment = area + open_, moment + open_ * middle
    return area, moment / area if area else 0.0


def _crossings(lines: Sequence[tuple[float, float, float, float]]) -> set[float]:
    found = set[float]()
    for at, one in enumerate(lines):
        for other in lines[at + 1 :]:
            low, high = max(one[0], other[0]), min(one[1], other[1])
            if low < high:
                a, b = _at(one, low) - _at(other, low), _at(one, high) - _at(other, high)
                if a * b < 0:
                    found.add(low + a / (a - b) * (high - low))
    return found


def _at(line: tuple[float, float, float, float], offset: float) -> float:
    begin, end, first, last = line
    return first + (last - first) * (offset - begin) / (end - begin)


def finished_line(typical: TypicalSection, level: float = 0.0) -> list[Point]:
    """The top of the strips from left to right, the centreline at a level; steps are upright."""
    found = list[Point]()
    for strips, mirror in ((typical.left, -1.0), (typical.right, 1.0)):
        line, x, z = [(0.0, level)], 0.0, level
        for strip in strips:
            if strip.step:
                z += strip.step
                line.append((mirror * x, z))
            x, z = x + strip.width, z - strip.width * strip.fall
            line.append((mirror * x, z))
        found = [*reversed(line)] if mirror < 0 else [*found, *line[1:]]
    return found
