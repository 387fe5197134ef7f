"""What a sheet doesn't show: true areas on a slope, faces above a run, and items set out along one."""

from __future__ import annotations

import math
import re
from typing import Literal

from ..numbers.entry import read_entry
from ..numbers.rounding import ceil_guarded, floor_guarded
from ..refusals import BadEntry

Ends = Literal["both", "one", "none"]


def read_gradient(text: str) -> float:
    """A slope as rise over run, from a ratio (``1:3`` is 1 up in 3 along), ``25 %`` or degrees (``14°``).

    Raises:
        BadEntry: it can't be read, is below zero, or is upright.
    """
    written = text.strip()
    if ratio := re.fullmatch(r"(.+):(.+)", written):
        rise, along = (read_entry(part, "", field="slope", minimum=0) for part in ratio.groups())
        if along == 0:
            raise BadEntry(f"“{written}” is upright: it has no plan area.", field="slope")
        return rise / along
    if written.endswith(("°", "deg")):
        degrees = read_entry(re.sub(r"\s*(°|deg)$", "", written), "", field="slope", minimum=0)
        if degrees >= 90:
            raise BadEntry(f"“{written}” is upright or more: it has no plan area.", field="slope")
        return math.tan(math.radians(degrees))
    return read_entry(written, "%" if "%" in written else "", field="slope", minimum=0)


def true_area(plan: float, gradient: float) -> float:
    """The area on a slope in m², from its plan area: plan / cos θ."""
    return plan * math.hypot(1.0, gradient)


def wall_face(run: float, start: float, end: float | None = None) -> float:
    """The face above a run in m²: its length × its height, or × the mean of its heights at both ends."""
    return run * (start if end is None else (start + end) / 2)


def along_run(length: float, spacing: float, ends: Ends = "both", *, rounds_up: bool = True) -> int:
    """How many items stand along a run at a spacing: at both ends, at one, or at none.

    Args:
        length: of the run, in m.
        spacing: in m.
        ends: where an item stands at the end of the run.
        rounds_up: whether a part of a spacing takes an item more.

    Raises:
        BadEntry: the spacing is not above zero, or the length is below zero.
    """
    if not spacing > 0 or length < 0:
        raise BadEntry(
            "Items along a run need a spacing above zero and a length not below it.",
            field="spacing" if not spacing > 0 else "length",
        )
    if length == 0:
        return 0  # along nothing stands nothing
    intervals = int((ceil_guarded if rounds_up else floor_guarded)(length / spacing))
    return max(0, intervals + {"both": 1, "one": 0, "none": -1}[ends])
