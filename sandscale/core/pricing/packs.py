"""How much of a resource a merchant's unit holds: a bag by mass or volume, a pallet of bags, a load."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from pint.util import UnitsContainer

from ..numbers.entry import read_entry
from ..numbers.rounding import exact
from ..numbers.units import NUMBER, Unit, is_unit, unit
from ..numbers.ways import ways
from ..refusals import BadEntry

_MASS, _VOLUME = unit("kg").dimension, unit("m³").dimension
_NUMBER_WORDS = {"thousand": 1000, "hundred": 100, "dozen": 12, "gross": 144, "pair": 2}
_TOKEN = re.compile(
    r"(?P<number>\d+(?:[.,]\d+)?)|(?P<times>[×x*](?![a-z²³]))|(?P<word>[^\W\d]+[²³23]?|[\"'%])|\S"
)
_TWO_WAYS = re.compile(r"[1-9]\d{0,2},\d{3}")


@dataclass(frozen=True)
class _Size:
    """One number of a pack, with the unit that stands behind it; ``chained`` to the one before by ×."""

    number: Decimal
    unit: Unit | None
    chained: bool


def density_of(entry: str) -> Decimal | None:
    """A density as it was typed, in kg/m³; None where there is none.

    Raises:
        BadEntry: it can't be read, or isn't above zero.
    """
    if not entry:
        return None
    if (value := read_entry(entry, "kg/m³", field="density")) <= 0:
        raise BadEntry("A density must be above zero.", field="density", remedy="Type it like 1600 kg/m³.")
    return exact(value)


def holds(pack: str, used_in: str, density: Decimal | None = None) -> Decimal:
    """How many units of a resource one of a merchant's unit holds.

    ``bag 25 kg`` holds 25 kg, ``pallet of 60 bags of 25 kg`` 1500, ``thousand`` 1000 nr,
    ``sheet 2.44 × 1.22 m`` 2.977 m², and ``t`` of what weighs 1600 kg/m³ 0.625 m³. Words that are no units
    are names of packs.

    Args:
        pack: what is sold, as the merchant writes it; empty for the resource's own unit.
        used_in: the unit the resource is used in.
        density: kg/m³, between mass and volume.

    Raises:
        BadEntry: it doesn't tell, or a mass is to be a volume and no density is known; or it holds nothing.
    """
    return _held(pack, used_in, density, ways().day)


@lru_cache(maxsize=4096)
def _held(pack: str, used_in: str, density: Decimal | None, day: float) -> Decimal:
    target = unit(used_in)
    sizes = _sizes(pack)
    if not sizes and not pack.strip():
        return Decimal(1)
    for reading in (sizes, _spread(sizes)):
        number, dimension = Decimal(1), NUMBER
        for size in reading:
            number *= size.number
            if size.unit is not None:
                number *= exact(day if size.unit.symbol == "day" else size.unit.size)
                dimension *= size.unit.dimension
        if (found := _in(number, dimension, target, density)) is not None:
            if found <= 0:
                raise BadEntry(
                    f"“{pack}” holds nothing.", field="unit", remedy="Say how much one of them holds."
                )
            return found
    needs = {_MASS, _VOLUME}
    read = {size.unit.dimension for size in sizes if size.unit}
    if density is None and target.dimension in needs and read & (needs - {target.dimension}):
        raise BadEntry(
            f"“{pack}” and {used_in} are mass and volume, and no density is known.", field="density",
            remedy="Give the resource its density, or type how much one of them holds.", code="no-density",
        )  # fmt: skip
    raise BadEntry(
        f"“{pack}” doesn't tell how many {used_in} it holds.", field="unit",
        remedy=f"Write it like “bag 25 kg”, or type how many {used_in} are in one.", code="pack-unread",
    )  # fmt: skip


def _sizes(pack: str) -> list[_Size]:
    found: list[_Size] = []
    number: Decimal | None = None
    chained = False
    for token in _TOKEN.finditer(pack.strip()):
        if written := token["number"]:
            if _TWO_WAYS.fullmatch(written):
                raise BadEntry(
                    f"“{written}” can be read in two ways.", field="unit",
                    code="two-readings",
                    remedy=f"Write {written.replace(',', '')} or {written.replace(',', '.')}.",
                )  # fmt: skip
            if number is not None:
                found.append(_Size(number, None, chained))
                chained = False
            number = Decimal(written.replace(",", "."))
        elif token["times"]:
            if number is not None:
                found.append(_Size(number, None, chained))
                number = None
            chained = True
        elif word := token["word"]:
            own = _NUMBER_WORDS.get(word.lower())
            known = unit(word) if is_unit(word) else None
            if own is not None or (known is not None and known.dimension != NUMBER):
                found.append(_Size((Decimal(1) if number is None else number) * (own or 1), known, chained))
                number, chained = None, False
    if number is not None:
        found.append(_Size(number, None, chained))
    return found


def _spread(sizes: list[_Size]) -> list[_Size]:
    """Sizes joined by × that name their unit once, each in that unit."""
    told = list(sizes)
    for at in range(len(told) - 1, 0, -1):
        if told[at].chained and told[at].unit is not None and told[at - 1].unit is None:
            told[at - 1] = _Size(told[at - 1].number, told[at].unit, told[at - 1].chained)
    return told


def _in(number: Decimal, dimension: UnitsContainer, target: Unit, density: Decimal | None) -> Decimal | None:
    """A quantity in SI as units of the resource; None where it can't be."""
    if density is not None and (dimension, target.dimension) in ((_MASS, _VOLUME), (_VOLUME, _MASS)):
        number = number / density if dimension == _MASS else number * density
        dimension = target.dimension
    return number / exact(target.size) if dimension == target.dimension else None
