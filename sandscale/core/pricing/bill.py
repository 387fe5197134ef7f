"""The bill: item quantities, amounts, section totals and the adjustments that make the price."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from ..numbers.rounding import DEFAULT_PLACES, billed, exact, half_up
from ..numbers.units import unit as unit_of
from ..numbers.working import Working, shown
from ..refusals import Refusal

AMOUNT_PLACES = 2
AdjustmentBase = Literal["items", "running"]
BASE_WORDS: dict[AdjustmentBase, str] = {"items": "sum of the items", "running": "total so far"}


@dataclass(frozen=True)
class Link:
    """A quantity line an item draws on.

    Attributes:
        net: the quantity line's net quantity, unrounded, in ``unit``.
        unit: its unit.
        factor: how many times it is counted.
        name: what it is, such as “Concrete in PF2”.
        link: where to walk to.
    """

    net: float
    unit: str
    factor: float
    name: str = ""
    link: str = ""


def item_quantity(links: Iterable[Link], unit: str, places: Mapping[str, int] = DEFAULT_PLACES) -> Decimal:
    """An item's quantity: the sum of what it draws on, rounded once into the bill.

    Raises:
        Refusal: a quantity line's unit is of another kind than the item's.
    """
    return billed(sum(in_unit(link, unit) * link.factor for link in links), unit, places)


def in_unit(link: Link, unit: str) -> float:
    """A quantity line's net quantity in the item's unit: kg into t, not m² into m³."""
    if link.unit == unit:
        return link.net
    theirs, ours = unit_of(link.unit), unit_of(unit)
    if theirs.dimension != ours.dimension:
        raise Refusal(
            f"{link.name or 'The quantity'} is in {link.unit}; an item in {unit} can't take it.", field="unit", remedy="Link it to an item of its own unit."
        )
    return link.net * theirs.size / ours.size


def amount(quantity: Decimal, rate: Decimal | None) -> Decimal:
    """Quantity × rate, half up to the cent; zero where there is no rate yet."""
    return half_up(quantity * (rate or Decimal(0)), AMOUNT_PLACES)


@dataclass(frozen=True)
class Adjustment:
    """A percentage put on the bill, in its order: overheads and profit in this project."""

    name: str
    percent: Decimal
    base: AdjustmentBase


@dataclass(frozen=True)
class Adjusted:
    """An adjustment worked out: what it was taken on, and what it adds."""

    adjustment: Adjustment
    on: Decimal
    adds: Decimal


@dataclass(frozen=True)
class Summary:
    """The foot of a bill: the items' sum, each adjustment, and the total."""

    items: Decimal
    adjustments: tuple[Adjusted, ...]
    total: Decimal


def summary(items: Decimal, adjustments: Sequence[Adjustment]) -> Summary:
    """The bill's total: each adjustment on its named base, each rounded to the cent."""
    running = items
    worked = []
    for adjustment in adjustments:
        on = items if adjustment.base == "items" else running
        adds = half_up(on * adjustment.percent / 100, AMOUNT_PLACES)
        running += adds
        worked.append(Adjusted(adjustment, on, adds))
    return Summary(items, tuple(worked), running)


def mark_up(cost: Decimal, percent: Decimal) -> Decimal:
    """A price with a percentage put on the cost: 12 % on 100 is 112.00."""
    return half_up(cost * (1 + percent / 100), AMOUNT_PLACES)


def margin(cost: Decimal, percent: Decimal) -> Decimal:
    """A price of which a percentage is left over the cost: 12 % of the price on 100 is 113.64.

    Raises:
        Refusal: the margin is the whole price or more.
    """
    if percent >= 100:
        raise Refusal(f"A margin of {percent} % leaves nothing for the cost.", field="percent", remedy="Type a margin below 100 %.")
    return half_up(cost / (1 - percent / 100), AMOUNT_PLACES)


def quantity_working(name: str, links: Sequence[Link], unit: str, quantity: Decimal) -> Working:
    """How an item's quantity came about."""
    parts = tuple(Working(link.name, link.net, link.unit, link=link.link) for link in links)
    figures = " + ".join(shown(exact(in_unit(link, unit))) + (f" × {shown(link.factor, least=0)}" if link.factor != 1 else "") for link in links)
    return Working(name, quantity, unit, "sum of its quantity lines, rounded into the bill" if links else "", figures, parts=parts)
