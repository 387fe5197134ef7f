"""Unit systems: the units a project measures and is billed in, metric or US customary."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, get_args

from pint.util import UnitsContainer

from .units import unit

UnitSystem = Literal["metric", "us"]

# What stands for a metric unit in US customary; units that no surveyor there uses otherwise are left as they
# are.
_US = {
    "m": "ft", "cm": "in", "mm": "in", "km": "ft", "m²": "ft²", "mm²": "in²", "m³": "yd³", "kg": "lb",
    "t": "ton",
    "ha": "acre", "kg/m": "lb/ft", "kg/m²": "lb/ft²", "kg/m³": "lb/ft³",
}  # fmt: skip


@dataclass(frozen=True)
class System:
    """A unit system. What make-ups reckon with is in its base units.

    Attributes:
        key: its name in tables and files.
        length, mass: its base units; areas and volumes are those of the length.
        instead: what stands for a metric unit.
    """

    key: UnitSystem
    length: str
    mass: str
    instead: Mapping[str, str]

    def __hash__(self) -> int:
        return hash(self.key)

    def symbol(self, symbol: str) -> str:
        """The unit in which something that has a metric unit is shown and entered."""
        return self.instead.get(symbol, symbol)

    def base(self, dimension: UnitsContainer) -> float:
        """How many SI units the base unit of a dimension is."""
        size = 1.0
        for name, each in (("[length]", self.length), ("[mass]", self.mass)):
            if power := dimension.get(name):
                size *= unit(each).size ** float(str(power))
        return size

    def size(self, symbol: str) -> float:
        """How many base units of this system one of a unit is: 27 for yd³ where lengths are in ft."""
        return _size(self, symbol)

    def symbol_of(self, dimension: UnitsContainer) -> str:
        """The symbol of a dimension's base unit; empty for a number and for what has none in this trade."""
        return _symbols(self).get(dimension, "")


@lru_cache(maxsize=512)
def _size(system: System, symbol: str) -> float:
    found = unit(symbol)
    base = system.base(found.dimension)
    # Whole where it is whole: 27, not 26.999999999999996.
    return found.size if base == 1 else float(f"{found.size / base:.13g}")


@lru_cache(maxsize=4)
def _symbols(system: System) -> Mapping[UnitsContainer, str]:
    length, mass = system.length, system.mass
    symbols = (
        "", length, f"{length}²", f"{length}³", mass, "h",
        f"{mass}/{length}", f"{mass}/{length}²", f"{mass}/{length}³",
    )  # fmt: skip
    return {unit(symbol).dimension: symbol for symbol in symbols}


METRIC = System("metric", "m", "kg", {})
US = System("us", "ft", "lb", _US)
SYSTEMS: Mapping[str, System] = dict(zip(get_args(UnitSystem), (METRIC, US), strict=True))
