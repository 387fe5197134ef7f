"""Where runs of trench meet or end, and the manholes there."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...refusals import BadEntry
from ..measures import positive, sound


@dataclass(frozen=True)
class Manhole:
    """A chamber at a node, round where it has no width.

    Attributes:
        length: inside, along the run, or the inside diameter, in m.
        width: inside, in m.
        wall: in m.
        base: thickness below the lowest invert, in m.
        working_space: dug round it, in m; its pit has upright sides.
    """

    length: float
    width: float = 0.0
    wall: float = 0.15
    base: float = 0.20
    working_space: float = 0.50

    def __post_init__(self) -> None:
        if not (positive(self.length) and sound(self.width, self.wall, self.base, self.working_space)):
            raise BadEntry(
                "A manhole needs a length above zero, and no measure of it below.", field="manhole"
            )

    @property
    def outer_area(self) -> float:
        """Of the chamber on the outside in plan, in m²."""
        if not self.width:
            return math.pi / 4 * (self.length + 2 * self.wall) ** 2
        return (self.length + 2 * self.wall) * (self.width + 2 * self.wall)

    @property
    def pit_area(self) -> float:
        """Of its pit in plan, in m²."""
        across = self.width or self.length
        more = 2 * (self.wall + self.working_space)
        return (self.length + more) * (across + more)

    @property
    def pit_half(self) -> float:
        """From its middle to the edge of its pit along a run, in m."""
        return self.length / 2 + self.wall + self.working_space


@dataclass(frozen=True)
class Node:
    """Where runs meet or end.

    Attributes:
        name: such as MH3.
        x, y: in m.
        ground: its level, in m; from the ground surface where it is None.
        manhole: at it, where there is one.
    """

    name: str
    x: float
    y: float
    ground: float | None = None
    manhole: Manhole | None = None
