"""The arithmetic behind one number, as a tree that can be walked."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from decimal import Decimal

from .rounding import half_up
from .ways import ways

Number = float | Decimal
_SPELT_OUT = 1e15  # less than which numbers are set out in full


@dataclass(frozen=True)
class PaperRow:
    """One entry set out as on dimension paper: timesing, dimensions, squared result, description.

    Attributes:
        times: the timesing as typed, such as ``2/3/``.
        dimensions: the dimensions multiplied, in m (or m² for a measured area).
        squared: their product with the timesing; negative when deducted.
        deduct: whether the row reads “ddt”.
        note: what it is.
        link: where it came from (see :class:`Working`).
    """

    times: str
    dimensions: tuple[float, ...]
    squared: float
    deduct: bool = False
    note: str = ""
    link: str = ""


@dataclass(frozen=True)
class Working:
    """One number with what it was made of.

    Attributes:
        name: what the number is.
        value: the number, unrounded unless a rule rounded it.
        unit: its unit's symbol.
        expression: the arithmetic in names, in trade notation; empty for a given value.
        figures: the same arithmetic with the values put in.
        rows: the rows of dimension paper behind it, where it was squared from dimension lines.
        parts: the workings of the numbers it was made from.
        source: where a given value comes from, in words (“typed”, “default of the make-up”).
        link: a walkable reference such as ``figure:12`` or ``quote:7``; empty when there is none.
    """

    name: str
    value: Number
    unit: str = ""
    expression: str = ""
    figures: str = ""
    rows: tuple[PaperRow, ...] = ()
    parts: tuple[Working, ...] = field(default=())
    source: str = ""
    link: str = ""


def shown(value: Number, least: int = 2, most: int = 4) -> str:
    """A number as it is set in a working: between ``least`` and ``most`` decimals, half up, thousands
    apart, with the project's signs."""
    if not abs(float(value)) < _SPELT_OUT:
        return f"{value:.3g}" if math.isfinite(value) else "no number"
    whole, _, decimals = f"{half_up(value, most):,f}".partition(".")
    decimals = decimals.rstrip("0").ljust(least, "0") if decimals else ""
    here = ways()
    whole = whole.replace(",", here.thousands.replace(" ", "\u00a0")).replace("-", "−")
    return f"{whole}{here.decimal}{decimals}" if decimals else whole


def shown_in(value: float, symbol: str, least: int = 2, most: int = 2) -> str:
    """A measure in m, m² or m³ as the project's unit system has it, with its unit: “12.50 ft”."""
    here = ways().system
    own = here.symbol(symbol)
    return f"{shown(value * here.size(symbol) / here.size(own), least, most)} {own}"
