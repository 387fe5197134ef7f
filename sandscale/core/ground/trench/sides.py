"""How the sides of a trench go up, and how wide its bottom is for a pipe."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...refusals import BadEntry
from ..measures import sound
from ..pieces import Floats

_LEAST_STEP = 0.05  # m
_MOST_STEPS = 1_000
Kind = Literal["upright", "battered", "benched", "flared"]


@dataclass(frozen=True)
class Sides:
    """How both sides go up from the bottom.

    Attributes:
        kind: ``flared`` is upright below and battered above.
        batter: horizontal to 1 vertical, where there is one.
        step_height: between benches, in m.
        step_width: of a bench, in m.
        upright: the height of the upright part of flared sides, in m.
    """

    kind: Kind = "upright"
    batter: float = 0.0
    step_height: float = 0.0
    step_width: float = 0.0
    upright: float = 0.0

    def __post_init__(self) -> None:
        if not sound(self.batter, self.step_height, self.step_width, self.upright):
            raise BadEntry(
                "The sides of a trench have a measure that is missing or below zero.", field="sides"
            )
        if self.kind == "benched" and not self.step_height >= _LEAST_STEP:
            raise BadEntry(
                f"Benched sides need a height of {_LEAST_STEP:g} m or more between benches.",
                field="step_height",
            )

    def spread(self, height: Floats) -> Floats:
        """How far one side has gone out at a height above the bottom, in m; just above a bench, the bench
        is included."""
        if self.kind == "battered":
            return np.asarray(height * self.batter)
        if self.kind == "benched":
            return np.asarray(np.floor(height / self.step_height + 1e-9) * self.step_width)
        if self.kind == "flared":
            return np.asarray(np.maximum(height - self.upright, 0) * self.batter)
        return np.zeros_like(height)

    def spread_area(self, height: Floats) -> Floats:
        """The area that one side's going out adds up to a height, in m²."""
        if self.kind == "battered":
            return np.asarray(height**2 * self.batter / 2)
        if self.kind == "benched":
            steps = np.floor(height / self.step_height + 1e-9)
            return np.asarray(self.step_width * steps * (height - self.step_height * (steps + 1) / 2))
        if self.kind == "flared":
            return np.asarray(np.maximum(height - self.upright, 0) ** 2 * self.batter / 2)
        return np.zeros_like(height)

    def breaks(self, top: float) -> list[float]:
        """The heights below a top at which the sides change, in m."""
        if self.kind == "flared":
            return [self.upright] if 0 < self.upright < top else []
        if self.kind == "benched":
            number = int(top / self.step_height)
            if number > _MOST_STEPS:
                raise BadEntry(
                    f"Benches every {self.step_height:g} m make more than {_MOST_STEPS} over {top:.0f} m.",
                    field="step_height",
                )
            return [self.step_height * n for n in range(1, number + 1)]
        return []

    def outline(self, bottom: float, height: float) -> list[tuple[float, float]]:
        """The section as corners (offset from the middle, height above the bottom), from the left top
        round to the right top."""
        levels = [0.0, *self.breaks(height), height]
        right = list[tuple[float, float]]()
        for at, level in enumerate(levels):
            before = level if at == 0 else level - 1e-7 * max(level, 1.0)
            for spread in dict.fromkeys(round(float(self.spread(np.array(h))), 5) for h in (before, level)):
                right.append((bottom / 2 + spread, level))
        return [*((-x, y) for x, y in reversed(right)), *right]


UPRIGHT = Sides()


@dataclass(frozen=True)
class TrenchWidths:
    """The bottom width of a trench for a pipe: what is added to its outside by its size, and what is least by
    depth.

    Attributes:
        added: (bore up to, m; added to the outside, m), rising; the last holds for all beyond.
        least: (depth up to, m; least width, m), rising; the last holds for all beyond.
    """

    added: Sequence[tuple[float, float]]
    least: Sequence[tuple[float, float]]

    def width(self, bore: float, outside: float, depth: float) -> float:
        """In m.

        Args:
            bore: of the pipe, in m.
            outside: its outside diameter, in m.
            depth: of the trench, in m.
        """
        return max(outside + _banded(self.added, bore), _banded(self.least, depth))


# EN 1610:2015, tables 1 (supported trench) and 2.
EN_1610 = TrenchWidths(
    added=((0.225, 0.40), (0.350, 0.50), (0.700, 0.70), (1.200, 0.85), (np.inf, 1.00)),
    least=(
        (0.999_999, 0.0),  # a trench of 1.00 has a least width already
        (1.75, 0.80),
        (4.00, 0.90),
        (np.inf, 1.00),
    ),
)


def _banded(bands: Sequence[tuple[float, float]], size: float) -> float:
    return next((value for limit, value in bands if size <= limit + 1e-9), bands[-1][1])
