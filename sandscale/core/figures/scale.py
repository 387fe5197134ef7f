"""The scale of a sheet: how many metres one sheet unit is.

A sheet unit is 1/72 inch on the paper (a PDF unit), x to the right and y up from the lower left corner.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from ..refusals import BadEntry

SHEET_UNIT = 0.0254 / 72  # metres of paper
LEAST_PICK = 5.0  # sheet units between two picks; closer ones can't carry a scale
_RATIO_BOUNDS = (0.1, 1_000_000.0)

Point = tuple[float, float]


def from_ratio(ratio: float) -> float:
    """Metres per sheet unit of a sheet drawn at 1:``ratio``.

    Raises:
        BadEntry: the ratio is not above zero, or no drawing is at such a scale.
    """
    low, high = _RATIO_BOUNDS
    if not math.isfinite(ratio) or ratio <= 0:
        raise BadEntry("A scale of 1:0 or less can't be measured at.", field="ratio", remedy="Type the second half of the ratio, such as 100 for 1:100.")
    if not low <= ratio <= high:
        raise BadEntry(f"1:{ratio:g} is not a scale of a drawing.", field="ratio", remedy="Type the second half of the ratio, such as 100 for 1:100.")
    return SHEET_UNIT * ratio


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
        raise BadEntry("The two picks are too close to set a scale by.", field="picks", remedy="Pick the two ends of a longer known length.")
    if length <= 0:
        raise BadEntry("A known length must be above zero.", field="length")
    from_ratio(length / picked / SHEET_UNIT)
    return length / picked


def ratio_of(metres_per_unit: float) -> float:
    """The ratio a scale amounts to: 100 for 1:100."""
    return metres_per_unit / SHEET_UNIT


def distance(first: Point, second: Point) -> float:
    """The distance between two points, in their own unit."""
    return math.hypot(second[0] - first[0], second[1] - first[1])


def run_length(points: Sequence[Point]) -> float:
    """The length of a polyline, in sheet units."""
    return sum(distance(a, b) for a, b in pairwise(points))
