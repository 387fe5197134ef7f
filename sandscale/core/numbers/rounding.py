"""Rounding half up, and guarded up and down to whole steps. Each rule rounds once."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import ROUND_HALF_UP, Decimal
from functools import lru_cache
from typing import Any, TypeVar

import numpy as np

from ..refusals import BadEntry

Value = TypeVar("Value", float, Decimal)

DEFAULT_PLACES: Mapping[str, int] = {
    "m": 2, "m²": 2, "m³": 2, "t": 3, "kg": 0, "nr": 0, "ft": 2, "ft²": 2, "yd³": 2, "ton": 3, "lb": 0,
    "rate": 2,
}  # fmt: skip
RATE = "rate"  # what rounding rules call the places of the rates that a bill shows: 2 to 4
_OTHER_PLACES = 2

LARGEST = 10**12  # what any quantity, rate or amount is less than: more is a slip of a unit or of zeros

# A float that lies within this relative distance of a whole step is that step: 18.0/1.5 is 12.
STEP_GUARD = 1e-9


def exact(value: float) -> Decimal:
    """A measured float as a Decimal, without the noise of its last binary digits.

    6.4799999999999995 (4 × 1.8 × 1.8 × 0.5 in floats) is 6.48.
    """
    return Decimal(f"{value:.13g}")


def half_up(value: float | Decimal, places: int) -> Decimal:
    """A value rounded half up (away from zero) to a number of decimal places."""
    number = value if isinstance(value, Decimal) else exact(value)
    return number.quantize(_step(places), ROUND_HALF_UP)


def money(value: Decimal, places: int, what: str) -> Decimal:
    """A rate or an amount rounded half up; in one go, as thousands of them move at once.

    Raises:
        BadEntry: it is larger than one can be; the sentence names what it is.
    """
    if not abs(value) < LARGEST:
        within_size(value, what)
    return value.quantize(_step(places), ROUND_HALF_UP)


@lru_cache(maxsize=32)
def _step(places: int) -> Decimal:
    return Decimal(1).scaleb(-places)


def billed(value: float, unit: str, places: Mapping[str, int] = DEFAULT_PLACES) -> Decimal:
    """The one place where a quantity is rounded into a bill.

    Args:
        value: the quantity, unrounded, in ``unit``.
        unit: the unit's symbol.
        places: the project's rounding rules, decimal places per unit.

    Raises:
        BadEntry: it is larger than a quantity can be.
    """
    return half_up(within_size(value, "quantity", unit), places.get(unit, _OTHER_PLACES))


def within_size(value: Value, what: str, unit: str = "") -> Value:
    """A value that is no larger than one can be.

    Raises:
        BadEntry: it is larger; the sentence names what it is.
    """
    if not abs(value) < LARGEST:
        amount = f"{value:.3g} {unit}".strip()
        raise BadEntry(
            f"The {what} comes to {amount}, which is too large.",
            field=what,
            remedy="Check the units and the zeros of what it is made of.",
        )
    return value


def ceil_guarded(value: Any) -> Any:
    """The next whole number up, where a value a hair above a whole number is that number."""
    nearest = np.round(value)
    return np.where(
        np.abs(value - nearest) <= STEP_GUARD * np.maximum(1.0, np.abs(value)), nearest, np.ceil(value)
    )


def is_whole(value: float) -> bool:
    """Whether a value is a whole number, but for the noise of floats."""
    return bool(ceil_guarded(value) == floor_guarded(value))


def floor_guarded(value: Any) -> Any:
    """The whole number below, where a value a hair under a whole number is that number."""
    return -ceil_guarded(-value)


def nearest_step(value: Any, step: Any) -> Any:
    """A value rounded to the nearest multiple of a step; a step of zero leaves it as it is."""
    safe = np.where(step == 0, 1.0, step)
    return np.where(step == 0, value, np.round(value / safe) * safe)


def up_to_step(value: Any, step: Any) -> Any:
    """A value rounded up to the next multiple of a step; a step of zero leaves it as it is."""
    safe = np.where(step == 0, 1.0, step)
    return np.where(step == 0, value, ceil_guarded(value / safe) * safe)
