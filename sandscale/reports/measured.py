"""Lengths, areas and volumes as documents tell them: in the project's units, to its digits."""

from __future__ import annotations

from ..core.numbers.ways import ways
from ..core.numbers.working import shown


def unit(metric: str) -> str:
    """The project's unit in place of a metric one."""
    return ways().system.symbol(metric)


def sized(value: float, metric: str) -> float:
    """A size in a metric unit as a number of the project's unit."""
    here = ways().system
    return value * here.size(metric) / here.size(here.symbol(metric))


def cubic() -> float:
    """How many of the project's volume units a m³ is."""
    return sized(1.0, "m³")


def length(metres: float, places: int = 2) -> str:
    """A length or level in the project's unit, without it."""
    return shown(sized(metres, "m"), places, places)


def area(square: float) -> str:
    """An area in the project's unit, without it."""
    return shown(sized(square, "m²"), 2, 2)


def volume(cube: float) -> str:
    """A volume in the project's unit, without it."""
    return shown(sized(cube, "m³"), 2, 2)
