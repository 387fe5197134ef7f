"""The rate of an item that is made of several: concrete, bars and formwork in one square metre of slab."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from ..numbers.rounding import money
from ..numbers.working import Working, shown


@dataclass(frozen=True)
class Part:
    """A rate in a composed one.

    Attributes:
        name: of the rate.
        unit: which it is per.
        factor: how many of those one unit of the item takes.
        price: money per ``unit``, with what is added to it, unrounded; None where there is none yet.
        link: where it is walked to, such as ``build-up:4``.
    """

    name: str
    unit: str
    factor: Decimal
    price: Decimal | None
    link: str = ""

    @property
    def comes_to(self) -> Decimal:
        """Money per unit of the item, unrounded."""
        return self.factor * (self.price or Decimal(0))


def rate(parts: Sequence[Part], places: int) -> Decimal | None:
    """What the bill takes, rounded once; None where no part has a price.

    Raises:
        BadEntry: it is larger than a rate can be.
    """
    if all(part.price is None for part in parts):
        return None
    return money(sum((part.comes_to for part in parts), Decimal(0)), places, "rate")


def working(name: str, parts: Sequence[Part], rate: Decimal, unit: str, currency: str) -> Working:
    """How a composed rate came about, part by part with its factor.

    Args:
        name: of the item.
        parts: what it is composed of.
        rate: what it comes to, rounded.
        unit: of the item.
        currency: of the prices.
    """
    told = tuple(
        Working(
            part.name, part.comes_to, f"{currency}/{unit}", f"{part.unit} in one {unit} × rate",
            f"{shown(part.factor, least=0)} × {shown(part.price or Decimal(0))}",
            source="" if part.price is not None else "no rate yet", link=part.link,
        )
        for part in parts
    )  # fmt: skip
    figures = " + ".join(shown(each.value) for each in told)
    return Working(name, rate, f"{currency}/{unit}", "sum of its parts, rounded once", figures, parts=told)
