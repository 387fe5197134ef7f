"""What is shaded in a section as it is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .pieces import Floats


@dataclass(frozen=True)
class Shape:
    """A part that is shaded.

    Attributes:
        name: of a layer, or what is dug or filled.
        rings: its outlines, each k × 2 of offset and level, in m; holes among them.
        area: in m².
    """

    name: str
    rings: tuple[Floats, ...]
    area: float


def ring_area(ring: Sequence[Sequence[float]]) -> float:
    """Of an outline, in m²."""
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, [*ring[1:], ring[0]], strict=True))) / 2
