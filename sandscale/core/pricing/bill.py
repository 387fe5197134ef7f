"""The bill: item quantities, amounts, section totals and the adjustments that make the price."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from ..numbers.rounding import DEFAULT_PLACES, billed, exact, half_up, money, within_size
from ..numbers.units import unit as unit_of
from ..numbers.working import Working, shown
from ..refusals import Refusal

AMOUNT_PLACES = 2
BillKind = Literal["own", "received", "issued"]
ItemKind = Literal[
    "measured", "provisional", "prime_cost", "lump_sum", "rate_only", "heading", "fixed", "time"
]
KIND_WORDS: dict[ItemKind, str] = {
    "measured": "measured", "provisional": "provisional sum", "prime_cost": "prime cost sum",
    "lump_sum": "lump sum", "rate_only": "rate only", "heading": "heading",
    "fixed": "fixed charge", "time": "time-related charge",
}  # fmt: skip
SUMS: tuple[ItemKind, ...] = ("provisional", "prime_cost", "lump_sum", "fixed")  # whose amount is typed
MEASURED: tuple[ItemKind, ...] = ("measured", "rate_only", "time")  # items that have a quantity
PRELIMINARIES: tuple[ItemKind, ...] = ("fixed", "time")
SET_ASIDE: tuple[ItemKind, ...] = ("provisional", "prime_cost")  # sums that are not work priced by us
Apart = Literal["plain", "composite", "preliminaries", "set_aside"]
APART_WORDS: dict[Apart, str] = {
    "plain": "items of one rate", "composite": "composite items", "preliminaries": "preliminaries",
    "set_aside": "provisional and prime cost sums",
}  # fmt: skip
_NOTHING = Decimal("0.00")
AFTER = "after:"  # a base: the total after the adjustment of that name


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
            f"{link.name or 'The quantity'} is in {link.unit}; an item in {unit} can't take it.",
            field="unit",
            remedy="Link it to an item of its own unit.",
        )
    return link.net * theirs.size / ours.size


def amount(
    quantity: Decimal, rate: Decimal | None, kind: ItemKind = "measured", typed: Decimal | None = None
) -> Decimal:
    """An item's amount, half up to the cent.

    Args:
        quantity: of a measured item.
        rate: of the item; nothing where it has none yet.
        kind: a sum takes what was typed, or its rate once; a rate alone and a heading come to nothing.
        typed: the amount typed for a sum.

    Raises:
        BadEntry: it is larger than an amount can be.
    """
    if kind in SUMS:
        return half_up(typed if typed is not None else rate or _NOTHING, AMOUNT_PLACES)
    if not rate or kind in ("rate_only", "heading"):
        return _NOTHING
    return money(quantity * rate, AMOUNT_PLACES, "amount")


def apart_of(kind: ItemKind, composed: bool) -> Apart:
    """What an item is totalled with: those of one rate, those of several, preliminaries, or sums that aren't
    work priced by us."""
    if kind in SET_ASIDE:
        return "set_aside"
    if kind in PRELIMINARIES:
        return "preliminaries"
    return "composite" if composed and kind == "measured" else "plain"


def base_words(base: str) -> str:
    """What an adjustment is taken on, in words."""
    if base.startswith(AFTER):
        return f"total after {base.removeprefix(AFTER)}"
    return {
        "items": "sum of the items",
        "work": "items without provisional and prime cost sums",
        "running": "total so far",
    }[base]


@dataclass(frozen=True)
class Adjustment:
    """A percentage put on the bill, in its order: overheads, profit, risk, discount (below zero),
    contingency, tax.

    Attributes:
        base: ``items`` (their sum), ``work`` (without provisional and prime cost sums), ``running`` (the
            total so far), or ``after:Overheads`` (the total after an earlier adjustment of that name).
    """

    name: str
    percent: Decimal
    base: str


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


def summary(items: Decimal, adjustments: Sequence[Adjustment], set_aside: Decimal = Decimal(0)) -> Summary:
    """The bill's total: each adjustment on its named base, each rounded to the cent.

    Args:
        items: the sum of the items.
        adjustments: in their order.
        set_aside: the provisional and prime cost sums in it.

    Raises:
        Refusal: an adjustment is taken on one that doesn't stand before it, or the total is larger than one
        can be.
    """
    bases = {"items": items, "work": items - set_aside, "running": items}
    worked = []
    for adjustment in adjustments:
        if adjustment.base not in bases:
            raise Refusal(
                f"{adjustment.name} is taken on the {base_words(adjustment.base)}, "
                "which doesn't stand before it.",
                field="base",
                remedy="Choose another base, or put it after that one.",
            )
        on = bases[adjustment.base]
        adds = half_up(on * adjustment.percent / 100, AMOUNT_PLACES)
        bases["running"] = within_size(bases["running"] + adds, "total")
        bases[AFTER + adjustment.name] = bases["running"]
        worked.append(Adjusted(adjustment, on, adds))
    return Summary(items, tuple(worked), bases["running"])


def mark_up(cost: Decimal, percent: Decimal) -> Decimal:
    """A price with a percentage put on the cost: 12 % on 100 is 112.00."""
    return half_up(cost * (1 + percent / 100), AMOUNT_PLACES)


def margin(cost: Decimal, percent: Decimal) -> Decimal:
    """A price of which a percentage is left over the cost: 12 % of the price on 100 is 113.64.

    Raises:
        Refusal: the margin is the whole price or more.
    """
    if percent >= 100:
        raise Refusal(
            f"A margin of {percent} % leaves nothing for the cost.",
            field="percent",
            remedy="Type a margin below 100 %.",
        )
    return half_up(cost / (1 - percent / 100), AMOUNT_PLACES)


def quantity_working(name: str, links: Sequence[Link], unit: str, quantity: Decimal) -> Working:
    """How an item's quantity came about."""
    parts = tuple(Working(link.name, link.net, link.unit, link=link.link) for link in links)
    figures = " + ".join(
        shown(exact(in_unit(link, unit))) + (f" × {shown(link.factor, least=0)}" if link.factor != 1 else "")
        for link in links
    )
    return Working(
        name,
        quantity,
        unit,
        "sum of its quantity lines, rounded into the bill" if links else "",
        figures,
        parts=parts,
    )
