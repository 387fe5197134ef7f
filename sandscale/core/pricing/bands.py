"""Banded rates: one rate with a cost for each band of a condition, such as a height, a depth or a floor."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from itertools import pairwise

from ..findings import Finding
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .build_up import Group


@dataclass(frozen=True)
class Band:
    """What a unit costs from a limit up to, and not at, another; without one it has no end there.

    Attributes:
        cost: money per unit; None where it has none yet.
        name: of the rate it comes from; empty where it was typed.
        link: where the cost comes from, such as ``build-up:4``.
    """

    low: Decimal | None
    below: Decimal | None
    cost: Decimal | None
    name: str = ""
    link: str = ""

    def holds(self, size: Decimal) -> bool:
        """Whether a size lies in it."""
        return (self.low is None or self.low <= size) and (self.below is None or size < self.below)

    def told(self, unit: str) -> str:
        """Its limits in words."""
        low, below = (shown(each, least=0) for each in (self.low or Decimal(0), self.below or Decimal(0)))
        if self.low is None:
            words = "any" if self.below is None else f"below {below}"
        else:
            words = f"{low} and more" if self.below is None else f"{low} to below {below}"
        return f"{words} {unit}".strip()


@dataclass(frozen=True)
class Picked:
    """The band that a size picks.

    Attributes:
        parts: a band is a whole, so none; as of a reference's reading.
    """

    size: Decimal
    band: Band
    findings: tuple[Finding, ...] = ()
    parts: Mapping[Group, Decimal] = field(default_factory=dict)

    @property
    def total(self) -> Decimal | None:
        """Money per unit."""
        return self.band.cost

    def told(self, unit: str) -> str:
        """Which band it is, by which size."""
        return f"{shown(self.size, least=0)} {unit}".strip() + f" lies in the band {self.band.told(unit)}"


def pick(bands: Iterable[Band], size: Decimal, unit: str) -> Picked:
    """The band of a size.

    Args:
        bands: in any order; none over another.
        size: in the bands' unit.
        unit: of the limits, for sentences.

    Raises:
        BadEntry: it lies between two bands, or outside them all.
    """
    ordered = in_order(bands)
    for band in ordered:
        if band.holds(size):
            return Picked(size, band)
    told = f"{shown(size, least=0)} {unit}".strip()
    if not ordered:
        raise BadEntry("It has no bands yet.", field="size", remedy="Type a band and what it costs.")
    first, last = ordered[0], ordered[-1]
    outside = (first.low is not None and size < first.low) or (last.below is not None and size >= last.below)
    where = "lies outside every band" if outside else "lies between two bands"
    raise BadEntry(f"{told} {where}.", field="size", remedy="Type a band for it, or another size.")


def in_order(bands: Iterable[Band]) -> list[Band]:
    """Bands from the lowest up."""
    return sorted(bands, key=lambda band: Decimal("-Infinity") if band.low is None else band.low)


def refuse_wrong(bands: Sequence[Band], unit: str) -> None:
    """Refuse a band that holds nothing, or that overlaps another.

    Raises:
        BadEntry: one does; the sentence names them.
    """
    for band in bands:
        if band.low is not None and band.below is not None and band.below <= band.low:
            raise BadEntry(
                f"A band of {band.told(unit)} holds nothing.",
                field="below", remedy="Type where it ends above where it begins.",
            )  # fmt: skip
    for one, other in pairwise(in_order(bands)):
        if one.below is None or other.low is None or other.low < one.below:
            raise BadEntry(
                f"The bands {one.told(unit)} and {other.told(unit)} overlap.", field="low",
                remedy="Let one begin where the other ends.",
            )  # fmt: skip


def working(picked: Picked, name: str, unit: str, sized_in: str) -> Working:
    """How a banded cost came about.

    Args:
        name: of the rate.
        unit: money per unit.
        sized_in: the unit of the limits.
    """
    band = picked.band
    cost = Working(
        band.name or "Cost of the band", band.cost or Decimal(0), unit, source="" if band.name else "typed",
        link=band.link,
    )  # fmt: skip
    told = picked.told(sized_in)
    return Working(name, band.cost or Decimal(0), unit, told, shown(band.cost or Decimal(0)), parts=(cost,))
