"""Units of the trade: their symbols, their dimension and their size in SI (m, kg, h)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, get_args

import pint
from pint.util import UnitsContainer

from ..refusals import BadEntry

# What the trade uses, and no more: pint's whole list takes a quarter of a second to be read at each start.
_registry: pint.UnitRegistry[float] = pint.UnitRegistry(
    [
        "nr = []", "percent = 0.01 nr",
        "meter = [length] = m", "mm = 0.001 * meter", "cm = 0.01 * meter", "km = 1000 * meter",
        "inch = 0.0254 * meter", "foot = 12 * inch", "yard = 3 * foot",
        "hectare = 10_000 * meter ** 2", "acre = 4840 * yard ** 2",
        "liter = 0.001 * meter ** 3", "brass = 100 * foot ** 3",
        "kilogram = [mass] = kg", "tonne = 1000 * kilogram",
        "pound = 0.45359237 * kilogram", "short_ton = 2000 * pound",
        "second = [time] = s", "hour = 3600 * second", "working_day = 8 * hour",
        "working_week = 5 * working_day", "working_month = 52 / 12 * working_week",
    ]
)  # fmt: skip

# Symbols as the trade writes them → how pint reads them. Order is the order shown in menus.
# The units offered in a list; any other that the trade writes is read too.
UnitSymbol = Literal[
    "nr", "m", "m²", "m³", "mm", "cm", "km", "mm²", "l", "kg", "t", "h", "day", "week", "month", "ft", "in",
    "yd", "ft²", "yd²", "ft³", "yd³", "lb", "ton", "acre", "ha", "brass", "kg/m", "kg/m²", "kg/m³",
    "lb/ft", "lb/ft²", "lb/ft³", "in²", "%",
]  # fmt: skip
_SPELLINGS: Mapping[str, str] = {
    "nr": "nr", "m": "m", "m²": "m**2", "m³": "m**3", "mm": "mm", "cm": "cm", "km": "km",
    "mm²": "mm**2", "l": "liter", "kg": "kg", "t": "tonne", "h": "hour", "day": "working_day",
    "week": "working_week", "month": "working_month",
    "ft": "foot", "in": "inch", "yd": "yard", "ft²": "foot**2", "yd²": "yard**2", "ft³": "foot**3",
    "yd³": "yard**3", "lb": "pound", "ton": "short_ton", "in²": "inch**2",
    "acre": "acre", "ha": "hectare", "brass": "brass",
    "kg/m": "kg/m", "kg/m²": "kg/m**2", "kg/m³": "kg/m**3", "t/m³": "tonne/m**3", "kg/l": "kg/liter",
    "lb/ft": "pound/foot", "lb/ft²": "pound/foot**2", "lb/ft³": "pound/foot**3", "%": "percent", "": "nr",
}  # fmt: skip
_ALIASES = {
    "m2": "m²", "m3": "m³", "mm2": "mm²", "ft2": "ft²", "ft3": "ft³", "yd2": "yd²", "yd3": "yd³",
    "sqm": "m²", "cum": "m³", "'": "ft", "′": "ft", '"': "in", "″": "in", "hr": "h", "no": "nr",
    "days": "day", "weeks": "week", "wk": "week", "months": "month",
    "metre": "m", "metres": "m", "tonne": "t", "feet": "ft", "foot": "ft", "inch": "in",
    "inches": "in", "kg/m2": "kg/m²", "kg/m3": "kg/m³", "t/m3": "t/m³",
    "lb/ft2": "lb/ft²", "lb/ft3": "lb/ft³",
    "cy": "yd³", "sf": "ft²", "sy": "yd²", "cf": "ft³", "lf": "ft", "lbs": "lb", "tons": "ton",
}  # fmt: skip

NUMBER = UnitsContainer()
_KINDS = {
    NUMBER: "a number",
    UnitsContainer({"[length]": 1}): "a length (m)",
    UnitsContainer({"[length]": 2}): "an area (m²)",
    UnitsContainer({"[length]": 3}): "a volume (m³)",
    UnitsContainer({"[mass]": 1}): "a mass (kg)",
    UnitsContainer({"[time]": 1}): "a time (h)",
    UnitsContainer({"[mass]": 1, "[length]": -1}): "a mass per length (kg/m)",
    UnitsContainer({"[mass]": 1, "[length]": -3}): "a density (kg/m³)",
}


@dataclass(frozen=True)
class Unit:
    """A unit of measurement.

    Attributes:
        symbol: as the trade writes it, such as ``m²``.
        size: how many SI units one of it is (``mm`` is 0.001; time counts in hours).
        dimension: its dimension, as exponents of length, mass and time.
    """

    symbol: str
    size: float
    dimension: UnitsContainer

    def __str__(self) -> str:
        return self.symbol


@lru_cache(maxsize=256)
def unit(symbol: str) -> Unit:
    """The unit a symbol names; ``m2`` and ``m²`` are the same one.

    Raises:
        BadEntry: the symbol names no unit this trade uses.
    """
    written = symbol.strip()
    written = _ALIASES.get(written.lower(), written)
    spelling = _SPELLINGS.get(written)
    if spelling is None:
        raise BadEntry(
            f"“{symbol.strip()}” is not a unit we know.", remedy=f"Use one of {', '.join(menu())}."
        )
    parsed = _registry.parse_units(spelling)
    size = float(_registry.Quantity(1, parsed).to_base_units().magnitude)
    dimension = parsed.dimensionality
    size /= 3600.0 ** int(str(dimension.get("[time]", 0)))
    return Unit(written, size, UnitsContainer(dict(dimension)))


def is_unit(symbol: str) -> bool:
    """Whether a symbol names a unit."""
    return symbol in _SPELLINGS or symbol.lower() in _ALIASES


def menu() -> tuple[UnitSymbol, ...]:
    """The symbols offered where a person picks a unit, in the order shown."""
    return get_args(UnitSymbol)


def kind_of(dimension: UnitsContainer) -> str:
    """A dimension in words for a sentence: “a length (m)”."""
    known = _KINDS.get(dimension)
    if known:
        return known
    names = {"[length]": "m", "[mass]": "kg", "[time]": "h"}
    powers = "·".join(f"{names.get(k, k)}^{v:g}" for k, v in sorted(dimension.items()))
    return f"something in {powers}"
