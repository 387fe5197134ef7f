"""Bar sizes and their mass: metric by diameter (EN 10080), imperial by number (ASTM A615)."""

from __future__ import annotations

import math

from ..findings import Finding
from ..numbers.formula import NamedFormula
from ..refusals import BadEntry
from .rules import STEEL_DENSITY

METRIC = (6, 8, 10, 12, 16, 20, 25, 32, 40, 50)
_INCH, _POUND_PER_FOOT = 0.0254, 0.45359237 / 0.3048
# Number → nominal diameter in inches and nominal mass in lb/ft.
_IMPERIAL = {
    "#3": (0.375, 0.376), "#4": (0.500, 0.668), "#5": (0.625, 1.043), "#6": (0.750, 1.502),
    "#7": (0.875, 2.044), "#8": (1.000, 2.670),
    "#9": (1.128, 3.400), "#10": (1.270, 4.303), "#11": (1.410, 5.313), "#14": (1.693, 7.650),
    "#18": (2.257, 13.600),
}  # fmt: skip
# Every size there is, thinnest first of each kind.
SIZES = (*(str(size) for size in METRIC), *_IMPERIAL)
MASS_TOLERANCE = 0.02
_NEAR = 1e-4  # of a size's diameter, to which a bar is taken for it


def _nominal() -> NamedFormula:
    """Mass per metre by the table of numbers; by density where a diameter is none of theirs."""
    text = f"pi / 4 * d**2 * {STEEL_DENSITY} * kg / m3"
    for inches, pounds in _IMPERIAL.values():
        low, high = (inches * _INCH * (1 + near) for near in (-_NEAR, _NEAR))
        text = f"({pounds * _POUND_PER_FOOT} * kg/m if d > {low}*m and d < {high}*m else {text})"
    return NamedFormula("bar_mass", ("d",), text, "ASTM A615, nominal masses")


# Bars by number have the masses of their table, everywhere.
NOMINAL_MASS = _nominal()


def diameter(size: str) -> float:
    """The diameter in m of a size: a metric diameter in mm (``16``) or an imperial number (``#5``).

    Raises:
        BadEntry: no such bar is made.
    """
    written = size.strip().removesuffix("mm").strip()
    if written in _IMPERIAL:
        return _IMPERIAL[written][0] * _INCH
    if written in SIZES:
        return int(written) / 1000
    raise BadEntry(
        f"There is no bar of size “{size}”.",
        field="size",
        remedy=f"Use {', '.join(map(str, METRIC))} mm or {', '.join(_IMPERIAL)}.",
    )


def mass_per_metre(size: str) -> float:
    """The nominal mass in kg/m: π/4·d²·7850 for metric bars, the table of ASTM A615 for imperial ones.

    Raises:
        BadEntry: no such bar is made.
    """
    d = diameter(size)
    written = size.strip()
    return (
        _IMPERIAL[written][1] * _POUND_PER_FOOT
        if written in _IMPERIAL
        else math.pi / 4 * d**2 * STEEL_DENSITY
    )


def typed_mass(size: str, typed: float) -> Finding | None:
    """A finding when a typed mass in kg/m is more than 2 % off that of its size.

    Raises:
        BadEntry: no such bar is made.
    """
    right = mass_per_metre(size)
    off = typed / right - 1
    if abs(off) <= MASS_TOLERANCE:
        return None
    return Finding(
        f"{typed:g} kg/m is {abs(off):.0%} {'over' if off > 0 else 'under'} "
        f"the {right:.3f} kg/m of size {size}.",
        field="mass",
        code="mass-per-metre",
        numbers=(typed, right),
    )
