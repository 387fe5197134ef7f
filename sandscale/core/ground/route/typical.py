"""A typical section: strips from the centreline outwards, layers under them, ditches, and batters to the
ground."""

from __future__ import annotations

from collections.abc import Sequence
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
    """

    name: str
    width: float
    fall: float = 0.0


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
            sound(self.topsoil, *(strip.width for strip in every)) and known(*(strip.fall for strip in every))
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
                Strip(a.name, mixed(a.width, b.width), mixed(a.fall, b.fall))
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
        formation: what earthwork is brought to, from the centreline to the edge.
        layers: name → its outlines, a part for each strip and spread.
    """

    edge: Point
    formation: tuple[Point, ...]
    layers: dict[str, list[tuple[Point, Point, Point, Point]]]


def side_of(strips: Sequence[Strip], layers: Sequence[RouteLayer]) -> Side:
    """The geometry of one side."""
    ends, levels = [0.0], [0.0]
    for strip in strips:
        ends.append(ends[-1] + strip.width)
        levels.append(levels[-1] - strip.width * strip.fall)
    shapes: dict[str, list[tuple[Point, Point, Point, Point]]] = {layer.name: [] for layer in layers}
    bottoms = list[tuple[float, float, float, float]]()  # from, to, level at from, level at to
    for at, strip in enumerate(strips):
        above = 0.0
        for layer in layers:
            if strip.name not in layer.under:
                continue
            last = not any(after.name in layer.under for after in strips[at + 1 :])
            begin, end = ends[at], ends[at + 1] + (layer.spread if last else 0.0)
            top, low = levels[at] - above, levels[at] - (end - begin) * strip.fall - above
            shapes[layer.name].append(
                ((begin, top), (end, low), (end, low - layer.thickness), (begin, top - layer.thickness))
            )
            above += layer.thickness
            bottoms.append((begin, end, top - layer.thickness, low - layer.thickness))
    return Side(
        (ends[-1], levels[-1]),
        tuple(_lowest(ends, levels, bottoms)),
        shapes,
    )


def _lowest(
    ends: Sequence[float], levels: Sequence[float], bottoms: Sequence[tuple[float, float, float, float]]
) -> list[Point]:
    """The lowest of the finished line and the layers' bottoms up to the edge, with upright steps."""
    lines = [
        (a, b, za, zb) for a, b, za, zb in zip(ends, ends[1:], levels, levels[1:], strict=False) if b > a
    ] + list(bottoms)
    marks = sorted({mark for line in lines for mark in line[:2] if mark <= ends[-1]} | _crossings(lines))
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
