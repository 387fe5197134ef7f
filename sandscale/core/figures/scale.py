"""The scale of a sheet: how many metres one sheet unit is.

A sheet unit is 1/72 inch on the paper (a PDF unit), x to the right and y up from the lower left corner.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..findings import Finding
from ..numbers.entry import kept, read_entry
from ..numbers.systems import System
from ..numbers.working import shown, shown_in
from ..refusals import BadEntry, BadShape

SHEET_UNIT = 0.0254 / 72  # metres of paper
LEAST_PICK = 5.0  # sheet units between two picks; closer ones can't carry a scale
PROOF = 0.005  # how far a second known length may be off before it is found
_RATIO_BOUNDS = (0.1, 1_000_000.0)

_ONE_TO = re.compile(r"^\s*1\s*:\s*")
_PLAIN_NUMBER = re.compile(r"[\d./,\s]*")

Point = tuple[float, float]


@dataclass(frozen=True)
class Scale:
    """Metres per sheet unit, along x and along y: they differ where a scan is stretched."""

    x: float
    y: float

    @classmethod
    def even(cls, metres_per_unit: float) -> Scale:
        """The same both ways, as on any true drawing."""
        return cls(metres_per_unit, metres_per_unit)

    @property
    def is_even(self) -> bool:
        """Whether a length measures the same in every direction."""
        return self.x == self.y

    def length(self, first: Point, second: Point) -> float:
        """The distance between two points of the sheet, in m."""
        return math.hypot((second[0] - first[0]) * self.x, (second[1] - first[1]) * self.y)


@dataclass(frozen=True)
class ScaleArea:
    """A part of a sheet drawn at a scale of its own, such as a detail: its ring in sheet units, and its
    scale."""

    ring: tuple[Point, ...]
    scale: Scale


@dataclass(frozen=True)
class Proof:
    """A second known length held against a scale.

    Attributes:
        measured: what the scale makes of it, in m.
        known: what it is, in m.
        off: how much too long it measures, as a share of the known length; negative when too short.
        finding: where it is off by more than 0.5 %.
    """

    measured: float
    known: float
    off: float
    finding: Finding | None


def from_ratio(ratio: float) -> float:
    """Metres per sheet unit of a sheet drawn at 1:``ratio``.

    Raises:
        BadEntry: the ratio is not above zero, or no drawing is at such a scale.
    """
    low, high = _RATIO_BOUNDS
    if not math.isfinite(ratio) or ratio <= 0:
        raise BadEntry(
            "A scale of 1:0 or less can't be measured at.",
            field="ratio",
            remedy="Type the second half of the ratio, such as 100 for 1:100.",
        )
    if not low <= ratio <= high:
        raise BadEntry(
            f"1:{ratio:g} is not a scale of a drawing.",
            field="ratio",
            remedy="Type the second half of the ratio, such as 100 for 1:100.",
        )
    return SHEET_UNIT * ratio


def read_scale(text: str) -> tuple[float, str]:
    """A scale as it is written on a drawing, as its ratio and in words: ``100``, ``1:50``, ``1/4" = 1'-0"``,
    ``1 in = 20 ft``, ``1 cm = 5 m``.

    Raises:
        BadEntry: it is none.
    """
    paper, equals, ground = (part.strip() for part in text.partition("="))
    if not equals:
        ratio = read_entry(kept(_ONE_TO.sub("", text), ""), "", field="scale")
        return ratio, f"1:{ratio:g}, typed"
    lengths = []
    for part in (paper, ground):
        if _PLAIN_NUMBER.fullmatch(part):
            raise BadEntry(
                f"“{part}” in “{text.strip()[:40]}” has no unit.",
                field="scale",
                remedy='Write both sides with their units, such as 1/4" = 1\'-0" or 1 in = 20 ft.',
            )
        lengths.append(read_entry(kept(part, "m", field="scale"), "m", field="scale"))
    if min(lengths) <= 0:
        raise BadEntry(f"“{text.strip()[:40]}” is no scale: a side of it is nothing.", field="scale")
    return float(f"{lengths[1] / lengths[0]:.12g}"), f"{paper} = {ground}, typed"


def in_words(ratio: float, system: System) -> str:
    """A scale as it is written where a unit system is used: “1:50”, “1/4\" = 1'-0\"”, “1\" = 20'”."""
    if system.key == "us":
        feet = ratio / 12  # on the ground, to an inch of the paper
        if feet >= 10 and abs(feet - round(feet)) < 1e-6 * feet:
            return f"1\" = {round(feet)}'"
        parts = 12 * 32 / ratio  # 32nds of an inch, to a foot
        if parts + 1e-9 >= 1 and abs(parts - round(parts)) < 1e-6 * parts:
            whole, part = divmod(round(parts), 32)
            fraction = f"{Fraction(part, 32)}" if part else ""
            inches = " ".join(filter(None, (f"{whole}" if whole else "", fraction)))
            return f'{inches}" = 1\'-0"'
    return f"1:{shown(ratio, least=0, most=2)}"


def from_known_length(first: Point, second: Point, length: float) -> float:
    """Metres per sheet unit, from two picks and the length known between them.

    Args:
        first: one pick, in sheet units.
        second: the other.
        length: the known length between them, in m.

    Raises:
        BadEntry: the picks are too close, or the length is not above zero.
    """
    picked = distance(first, second)
    if picked < LEAST_PICK:
        raise BadEntry(
            "The two picks are too close to set a scale by.",
            field="picks",
            remedy="Pick the two ends of a longer known length.",
        )
    if length <= 0:
        raise BadEntry("A known length must be above zero.", field="length")
    from_ratio(length / picked / SHEET_UNIT)
    return length / picked


def stretched(along: tuple[Point, Point], length: float, up: tuple[Point, Point], height: float) -> Scale:
    """The scale of a stretched scan, from a known length along x and one along y.

    Raises:
        BadEntry: a pick is not along its axis to within 15°, or can't carry a scale.
    """
    for (first, second), axis in ((along, 0), (up, 1)):
        main, off = abs(second[axis] - first[axis]), abs(second[1 - axis] - first[1 - axis])
        if off > main * math.tan(math.radians(15)):
            raise BadEntry(
                f"The {'second' if axis else 'first'} known length runs askew.",
                field="picks",
                remedy="Pick one length across the sheet and one up it.",
            )
    across = abs(along[1][0] - along[0][0]), abs(along[1][1] - along[0][1])
    upward = abs(up[1][0] - up[0][0]), abs(up[1][1] - up[0][1])
    from_known_length(*along, length)
    from_known_length(*up, height)
    # dx²·x² + dy²·y² = length², twice: two equations for x² and y².
    rows = ((across[0] ** 2, across[1] ** 2, length**2), (upward[0] ** 2, upward[1] ** 2, height**2))
    (a, b, e), (c, d, f) = rows
    det = a * d - b * c
    x2, y2 = (e * d - b * f) / det, (a * f - e * c) / det
    if x2 <= 0 or y2 <= 0:
        raise BadEntry(
            "No stretched scan gives these two lengths.", field="length", remedy="Check the two lengths."
        )
    return Scale(math.sqrt(x2), math.sqrt(y2))


def prove(scale: Scale, first: Point, second: Point, known: float) -> Proof:
    """Hold a second known length, in m, against a scale.

    Raises:
        BadEntry: the picks are too close, or the length is not above zero.
    """
    from_known_length(first, second, known)
    measured = scale.length(first, second)
    off = measured / known - 1
    said = (
        f"A known length of {shown_in(known, 'm', 3, 3)} measures {shown_in(measured, 'm', 3, 3)}: "
        f"{abs(off):.1%} too {'long' if off > 0 else 'short'}. Is the scale right?"
    )
    return Proof(
        measured,
        known,
        off,
        Finding(said, field="scale", code="scale-off", numbers=(measured, known))
        if abs(off) > PROOF
        else None,
    )


def scale_at(points: Sequence[Point], sheet: Scale, areas: Sequence[ScaleArea]) -> Scale:
    """The scale a figure is measured at: that of the scale area it lies in, or the sheet's.

    Raises:
        BadShape: it lies partly in a scale area.
    """
    for area in areas:
        within = [_within(area.ring, point) for point in points]
        if all(within):
            return area.scale
        if any(within):
            raise BadShape(
                "The figure lies across the edge of a scale area.",
                field="points",
                remedy="Draw it wholly inside or outside.",
            )
    return sheet


def _within(ring: Sequence[Point], point: Point) -> bool:
    """Whether a point lies in a ring, by crossings to its right."""
    x, y, found = point[0], point[1], False
    for (ax, ay), (bx, by) in zip(ring, [*ring[1:], ring[0]], strict=True):
        if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
            found = not found
    return found


def ratio_of(metres_per_unit: float) -> float:
    """The ratio a scale amounts to: 100 for 1:100."""
    return metres_per_unit / SHEET_UNIT


def distance(first: Point, second: Point) -> float:
    """The distance between two points, in their own unit."""
    return math.hypot(second[0] - first[0], second[1] - first[1])
