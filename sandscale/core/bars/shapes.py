"""Bar shapes by code: their legs, the formula of the cut length, what limits them, and their outline."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from importlib import resources
from itertools import pairwise
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from ..findings import Finding
from ..numbers.formula import Formula
from ..numbers.units import NUMBER, unit
from ..refusals import BadEntry

_LETTERS = "ABCDEFGHIJKL"  # of the legs of a shape of one's own
_SHORTEST = 0.001  # m, of a leg
_ARC_STEPS = 24  # points a full turn of an outline is drawn with, per quarter 6


class _Data(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Limit(_Data):
    """A condition on the legs that is legal but suspect, and what to say of it."""

    when: str
    says: str


class Shape(BaseModel):
    """One bar shape; outside dimensions, r the former radius, d the diameter.

    Attributes:
        code: such as ``21``.
        legs: the letters of its dimensions, in order.
        formula: the cut length in terms of the legs, r and d.
        sum: the legs before any deduction for bends.
        bends: how many bends of 90° or more it has.
        ends: the legs that are ends, with a least length.
        numbers: the legs that are numbers rather than lengths (the turns of a helix).
        outline: the bar drawn to its dimensions.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    code: str
    legs: tuple[str, ...]
    formula: str
    sum: str
    bends: int = Field(ge=0)
    about: str = ""
    ends: tuple[str, ...] = ()
    numbers: tuple[str, ...] = ()
    limits: tuple[Limit, ...] = ()
    outline: tuple[tuple[str, ...], ...]

    @property
    def straight(self) -> bool:
        """Whether it is of straight parts alone; arcs are more than a corner, turns a number."""
        return not self.numbers and all(len(parts) == 2 for parts in self.outline)

    @cached_property
    def _scope(self) -> dict[str, Any]:
        return {
            name: NUMBER if name in self.numbers else unit("m").dimension for name in (*self.legs, "r", "d")
        }

    @cached_property
    def _limits(self) -> list[tuple[Limit, Formula]]:
        return [
            (limit, Formula(limit.when, self._scope, where=f"a limit of shape {self.code}"))
            for limit in self.limits
        ]

    @cached_property
    def _outline(self) -> list[list[Formula]]:
        return [
            [Formula(part, self._scope, where=f"the outline of shape {self.code}") for part in parts]
            for parts in self.outline
        ]

    def values(self, legs: Mapping[str, float], d: float, r: float) -> dict[str, float]:
        """The named values of a bar, lengths in m, checked.

        Raises:
            BadEntry: a leg is missing, not above zero, or not one of the shape's.
        """
        for letter in legs:
            if letter not in self.legs:
                raise BadEntry(
                    f"Shape {self.code} has no leg {letter}.",
                    field=letter,
                    remedy=f"Its legs are {', '.join(self.legs)}.",
                )
        for letter in self.legs:
            if letter not in legs:
                raise BadEntry(
                    f"Shape {self.code} needs a leg {letter}.",
                    field=letter,
                    remedy=f"Its legs are {', '.join(self.legs)}.",
                )
            if not math.isfinite(legs[letter]) or legs[letter] <= 0:
                raise BadEntry(f"Leg {letter} of shape {self.code} must be above zero.", field=letter)
        return {**legs, "r": r, "d": d}

    def findings(
        self, legs: Mapping[str, float], d: float, r: float, least_leg: float
    ) -> tuple[Finding, ...]:
        """What looks wrong with a bar: an end under the least length, a shape that can't be bent so."""
        values = self.values(legs, d, r)
        short = [
            Finding(
                f"Leg {letter} of {legs[letter] * 1000:.0f} is under the least "
                f"end of {least_leg * 1000:.0f} mm.",
                field=letter,
                code="leg-short",
                numbers=(legs[letter], least_leg),
            )
            for letter in self.ends
            if legs[letter] < least_leg - 1e-9
        ]
        return (
            *short,
            *(
                Finding(limit.says, code="shape-limit")
                for limit, formula in self._limits
                if bool(formula.value(values))
            ),
        )

    def points(self, legs: Mapping[str, float], d: float, r: float) -> list[tuple[float, float]]:
        """The outline in m, to draw: x to the right, y up, arcs as short chords."""
        values = self.values(legs, d, r)
        drawn: list[tuple[float, float]] = []
        for parts in self._outline:
            numbers = [float(part.value(values)) for part in parts]
            drawn += [(numbers[0], numbers[1])] if len(numbers) == 2 else _arc(*numbers)
        return drawn


def _arc(x: float, y: float, radius: float, start: float, end: float) -> list[tuple[float, float]]:
    steps = max(2, math.ceil(abs(end - start) / 360 * _ARC_STEPS))
    angles = (math.radians(start + (end - start) * step / steps) for step in range(steps + 1))
    return [(x + radius * math.cos(angle), y + radius * math.sin(angle)) for angle in angles]


def between(corners: Sequence[tuple[float, float]]) -> tuple[dict[str, float], int]:
    """The legs of a bar of one's own by their letters, and its bends, from where its corners lie, all in m. A
    corner that turns by less than 45° takes nothing off, so it is none.

    Raises:
        BadEntry: there are too few or too many corners, or two lie on one another.
    """
    if not 2 <= len(corners) <= 13:
        raise BadEntry("A bar of its own shape has 2 to 13 corners, its ends among them.", field="corners")
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(corners)]
    lengths = [math.hypot(*step) for step in steps]
    if min(lengths) < _SHORTEST:
        raise BadEntry("Two corners lie on one another.", field="corners", remedy="Take one of them out.")
    turns = [
        abs(math.remainder(math.atan2(b[1], b[0]) - math.atan2(a[1], a[0]), math.tau))
        for a, b in pairwise(steps)
    ]
    letters = dict(zip(_LETTERS, (round(length, 4) for length in lengths), strict=False))
    return letters, sum(turn > math.radians(45) - 1e-9 for turn in turns)


def own_shape(legs: int, bends: int) -> Shape:
    """Shape 99: up to 12 legs of the surveyor's own, summed, each bend deducted as a right angle.

    Args:
        legs: how many there are; they are lettered from A.
        bends: how many of the corners between them are bends.

    Raises:
        BadEntry: too few or too many legs, or more bends than corners.
    """
    if not 1 <= legs <= 12 or not 0 <= bends < max(legs, 1):
        raise BadEntry(
            "Shape 99 needs its corners, or 1 to 12 legs from A on with fewer bends than legs.", field="legs"
        )
    letters = tuple(_LETTERS[:legs])
    total = " + ".join(letters)
    return Shape(
        code="99",
        legs=letters,
        formula=f"{total} - {bends}*(0.5*r + d)",
        sum=total,
        bends=bends,
        outline=tuple(_corners(letters)),
    )


def _corners(letters: Iterable[str]) -> list[tuple[str, str]]:
    """Legs drawn one after the other, turning right and left, so that each can be read."""
    x, y, points = ["0"], ["0"], [("0", "0")]
    for number, letter in enumerate(letters):
        (x if number % 2 == 0 else y).append(letter)
        points.append((" + ".join(x), " + ".join(y)))
    return points


def _read() -> dict[str, Shape]:
    data = tomllib.loads((resources.files(__package__) / "shapes.toml").read_text("utf-8"))
    return {code: Shape(code=code, **fields) for code, fields in data.items()}


SHAPES: Mapping[str, Shape] = _read()
