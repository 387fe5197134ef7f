"""A kind of trench: its pipe, bottom, sides, and what it is filled with from the bottom up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from ...refusals import BadEntry
from ..measures import known, positive, sound
from ..pieces import Floats
from .sides import EN_1610, UPRIGHT, Sides, TrenchWidths

Mark = Literal["underside", "springing", "crown"]
DUG, PIPE, BACKFILL = "dug", "pipe", "backfill"


@dataclass(frozen=True)
class Pipe:
    """A round pipe.

    Attributes:
        name: such as DN 250.
        bore: inside diameter, in m.
        wall: in m.
    """

    name: str
    bore: float
    wall: float

    def __post_init__(self) -> None:
        if not (positive(self.bore) and sound(self.wall)):
            raise BadEntry(
                f"Pipe {self.name} needs a bore above zero, and a wall not below it.", field="pipe"
            )

    @property
    def outside(self) -> float:
        """Outside diameter, in m."""
        return self.bore + 2 * self.wall

    def area_below(self, height: Floats) -> Floats:
        """The area of its outside circle below a height above its underside, in m²."""
        radius = self.outside / 2
        down = np.clip(radius - height, -radius, radius)
        return np.asarray(
            radius**2 * np.arccos(down / radius) - down * np.sqrt(np.maximum(radius**2 - down**2, 0))
        )


@dataclass(frozen=True)
class Material:
    """What is brought in.

    Attributes:
        density: in t/m³, in place.
        extra: for compaction and loss, in percent.
    """

    density: float = 1.8
    extra: float = 0.0

    def __post_init__(self) -> None:
        if not sound(self.density, self.extra):
            raise BadEntry(
                "The density of a material, or its allowance, is missing or below zero.", field="material"
            )

    def tonnes(self, volume: float) -> float:
        """What is bought for a volume in place (m³), in t."""
        return volume * self.density * (1 + self.extra / 100)


@dataclass(frozen=True)
class Surround:
    """A layer laid in the trench, up to a mark on the pipe.

    Attributes:
        name: such as bed or surround.
        mark: of the pipe.
        over: how far above the mark it goes, in m.
        material: what it is of.
    """

    name: str
    mark: Mark
    over: float = 0.0
    material: Material = field(default_factory=Material)


@dataclass(frozen=True)
class Reinstatement:
    """A layer put back at the top, the uppermost first.

    Attributes:
        name: such as topsoil or binder course.
        thickness: in m.
        overlap: how far it goes beyond each side of the trench, in m.
        material: what it is of.
    """

    name: str
    thickness: float
    overlap: float = 0.0
    material: Material = field(default_factory=Material)


@dataclass(frozen=True)
class TrenchKind:
    """How a trench is dug and filled.

    Attributes:
        name: of the kind.
        pipe: in it; a trench without one is dug to its bed alone.
        bed: what is dug below the pipe's underside, in m.
        surrounds: from the bottom up; backfill lies on the last.
        reinstatements: from the top down.
        sides: how they go up.
        width: of the bottom, in m; by the pipe's size and the depth where it is 0.
        widths: the table for that.
        cover: the least there is to be over the pipe's outside, in m.
        flattest, steepest: the least and the greatest fall of the pipe, per m; none where it is 0.
        supported: whether its sides are held up while it is open.
        pumped: whether its pipe may rise, and keeps to no fall.
    """

    name: str
    pipe: Pipe | None = None
    bed: float = 0.0
    surrounds: Sequence[Surround] = ()
    reinstatements: Sequence[Reinstatement] = ()
    sides: Sides = UPRIGHT
    width: float = 0.0
    widths: TrenchWidths = EN_1610
    cover: float = 0.0
    flattest: float = 0.0
    steepest: float = 0.0
    supported: bool = False
    pumped: bool = False

    def __post_init__(self) -> None:
        if not sound(
            self.bed,
            self.width,
            self.cover,
            self.flattest,
            self.steepest,
            *(measure for layer in self.reinstatements for measure in (layer.thickness, layer.overlap)),
        ):
            raise BadEntry(f"Trench {self.name} has a measure that is missing or below zero.", field="trench")
        if not self.pipe and not self.width and self.widths is EN_1610:
            raise BadEntry(
                f"Trench {self.name} has no pipe to tell its width by.",
                field="width",
                remedy="Type the width of its bottom.",
            )
        tops = self.tops
        if not known(*tops) or any(upper < lower for lower, upper in zip([0.0, *tops], tops, strict=False)):
            raise BadEntry(
                f"The layers of trench {self.name} don't rise: one ends below the one under it.",
                field="surrounds",
            )
        names = [
            DUG,
            PIPE,
            BACKFILL,
            *(layer.name for layer in self.surrounds),
            *(layer.name for layer in self.reinstatements),
        ]
        if len(set(names)) < len(names):
            raise BadEntry(f"The layers of trench {self.name} need a name each.", field="surrounds")

    @property
    def tops(self) -> list[float]:
        """The height of the top of each surround above the trench bottom, in m."""
        outside = self.pipe.outside if self.pipe else 0.0
        at = {"underside": self.bed, "springing": self.bed + outside / 2, "crown": self.bed + outside}
        return [at[layer.mark] + layer.over for layer in self.surrounds]

    @property
    def below_invert(self) -> float:
        """From the invert down to the trench bottom, in m."""
        return self.bed + (self.pipe.wall if self.pipe else 0.0)

    @property
    def restored(self) -> float:
        """The thickness of all reinstatements, in m."""
        return sum(layer.thickness for layer in self.reinstatements)

    def bottom(self, depth: float) -> float:
        """The bottom width at a depth of trench, in m."""
        if self.width:
            return self.width
        bore, outside = (self.pipe.bore, self.pipe.outside) if self.pipe else (0.0, 0.0)
        return self.widths.width(bore, outside, depth)

    def area(self, bottom: float, height: Floats) -> Floats:
        """The area of the section up to a height above the bottom, in m²."""
        up = np.maximum(height, 0)
        return bottom * up + 2 * self.sides.spread_area(up)

    def areas(self, bottom: float, depth: Floats) -> dict[str, Floats]:
        """The area of each thing in the section at depths of trench, in m²; all but what is dug, and the
        overlaps of reinstatements, add up to what is dug."""
        dug = self.area(bottom, depth)
        found = {DUG: dug}
        under, pipe_under = np.zeros_like(depth), np.zeros_like(depth)
        room: Floats = np.maximum(depth - self.restored, 0)
        for layer, top in zip(self.surrounds, self.tops, strict=True):
            up = np.minimum(top, room)
            over, pipe_over = self.area(bottom, up), self._pipe_below(up)
            found[layer.name] = over - under - (pipe_over - pipe_under)
            under, pipe_under = over, pipe_over
        whole = self._pipe_below(room)
        found[BACKFILL] = self.area(bottom, room) - under - (whole - pipe_under)
        found[PIPE] = whole
        high = depth
        for restored in self.reinstatements:
            low: Floats = np.maximum(high - restored.thickness, 0)
            found[restored.name] = (
                self.area(bottom, high) - self.area(bottom, low) + 2 * restored.overlap * (high - low)
            )
            high = low
        return found

    def breaks(self, deepest: float) -> list[float]:
        """The depths at which one of its areas changes its law."""
        sides = self.sides.breaks(deepest)
        return sorted(
            {*sides, *(height + self.restored for height in (*sides, *self.tops)), *self._lower_tops(sides)}
        )

    def _lower_tops(self, sides: list[float]) -> list[float]:
        found, thickness = list[float](), 0.0
        for layer in self.reinstatements:
            thickness += layer.thickness
            found += [thickness, *(height + thickness for height in sides)]
        return found

    def _pipe_below(self, height: Floats) -> Floats:
        return self.pipe.area_below(height - self.bed) if self.pipe else np.zeros_like(height)
