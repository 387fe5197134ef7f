"""Prices that are worked out: all-in labour, plant from hire and plant that is owned."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal, get_args

from ..numbers.rounding import within_size
from ..numbers.working import Working, shown
from ..refusals import BadEntry

Way = Literal["labour", "hire", "owned"]
WAYS: tuple[Way, ...] = get_args(Way)


@dataclass(frozen=True)
class Asked:
    """One input of a way of working a price out.

    Attributes:
        key: what it is kept by.
        label: in words.
        unit: of the number; ``money`` stands for the project's currency.
        usual: what it is where nothing is typed; None where it must be.
        draws: whether it may be another resource's price.
        above: whether it must be above zero.
    """

    key: str
    label: str
    unit: str
    usual: Decimal | None = Decimal(0)
    draws: bool = False
    above: bool = False


_RUNNING = (
    Asked("fuel", "Fuel and oil", "l/h"),
    Asked("fuel_price", "Price of fuel", "money/l", draws=True),
    Asked("driver", "Driver", "money/h", draws=True),
    Asked("wear", "Wear, tyres, other", "money/h"),
)
INPUTS: Mapping[Way, tuple[Asked, ...]] = {
    "labour": (
        Asked("wage", "Wage", "money/h", None),
        Asked("paid", "Hours paid a year", "h", None, above=True),
        Asked("on_percent", "On-costs, of what is paid", "%"),
        Asked("on_costs", "On-costs besides, a year", "money"),
        Asked("worked", "Hours worked a year", "h", None, above=True),
    ),
    "hire": (
        Asked("hire", "Hire", "money", None),
        Asked("hours", "for so many hours worked", "h", None, above=True),
        *_RUNNING,
    ),
    "owned": (
        Asked("new", "Price new", "money", None),
        Asked("left", "Worth at its end", "money"),
        Asked("life", "Hours of its life", "h", None, above=True),
        Asked("year", "Hours worked a year", "h", None, above=True),
        Asked("interest", "Interest a year, on its mean value", "%"),
        Asked("upkeep", "Upkeep, of the loss in value", "%"),
        *_RUNNING,
    ),
}


@dataclass(frozen=True)
class Input:
    """An input's number, with where it comes from."""

    value: Decimal
    link: str = ""


def check(way: Way, inputs: Mapping[str, Decimal]) -> None:
    """Refuse numbers that can't be; what is missing is found when it is worked out.

    Raises:
        BadEntry: one is below zero, or not above it where it must be, or of another way.
    """
    asked = {each.key: each for each in INPUTS[way]}
    for key, value in inputs.items():
        if key not in asked:
            raise BadEntry(f"“{key[:40]}” isn't asked for there.", field=key)
        label = asked[key].label
        if not (value.is_finite() and 0 <= value < Decimal("1e9")) or (asked[key].above and not value):
            least = "above zero" if asked[key].above else "from zero up"
            raise BadEntry(f"“{label}” can't be {value:f}.", field=key, remedy=f"Type a number {least}.")


def price(way: Way, inputs: Mapping[str, Input], currency: str) -> Working:
    """The price of an hour, with how it came about.

    Args:
        way: how it is worked out.
        inputs: by key; what isn't there is what it usually is.
        currency: for units.

    Raises:
        BadEntry: something that must be told isn't, or a machine gains in value.
    """
    for each in INPUTS[way]:
        if each.usual is None and each.key not in inputs:
            raise BadEntry(f"“{each.label}” isn't told yet.", field=each.key, remedy="Type it.")
    if way == "owned" and "left" in inputs and inputs["left"].value > inputs["new"].value:
        raise BadEntry(
            "It can't be worth more at its end than when it is new.",
            field="left",
            remedy="Type what it is sold for.",
        )

    def of(key: str) -> Decimal:
        return inputs[key].value if key in inputs else Decimal(0)

    unit = f"{currency}/h"

    def part(name: str, value: Decimal, expression: str, figures: str, link: str = "") -> Working:
        return Working(name, value, unit, expression, figures, link=link)

    if way == "labour":
        paid = of("wage") * of("paid")
        cost = paid * (1 + of("on_percent") / 100) + of("on_costs")
        on = f"(1 + {shown(of('on_percent'), least=0)} %)"
        figures = (
            f"({shown(of('wage'))} × {shown(of('paid'), least=0)} × {on} + {shown(of('on_costs'))})"
            f" / {shown(of('worked'), least=0)}"
        )
        told = "(wage × hours paid × (1 + on-costs) + on-costs besides) / hours worked"
        return Working("All-in labour", within_size(cost / of("worked"), "price"), unit, told, figures)
    parts = []
    if way == "hire":
        value = of("hire") / of("hours")
        parts.append(
            part("Hire", value, "hire / hours", f"{shown(of('hire'))} / {shown(of('hours'), least=0)}")
        )
    else:
        loss = (of("new") - of("left")) / of("life")
        figures = f"({shown(of('new'))} − {shown(of('left'))}) / {shown(of('life'), least=0)}"
        told = "(price new − worth at its end) / hours of its life"
        parts.append(part("Loss in value", loss, told, figures))
        interest = (of("new") + of("left")) / 2 * of("interest") / 100 / of("year")
        figures = (
            f"({shown(of('new'))} + {shown(of('left'))}) / 2 × {shown(of('interest'), least=0)} % / "
            f"{shown(of('year'), least=0)}"
        )
        parts.append(part("Interest", interest, "mean value × interest / hours a year", figures))
        figures = f"{shown(loss)} × {shown(of('upkeep'), least=0)} %"
        parts.append(part("Upkeep", loss * of("upkeep") / 100, "loss in value × upkeep", figures))
    fuel_link = inputs["fuel_price"].link if "fuel_price" in inputs else ""
    figures = f"{shown(of('fuel'), least=0)} × {shown(of('fuel_price'))}"
    parts.append(part("Fuel and oil", of("fuel") * of("fuel_price"), "l/h × price", figures, fuel_link))
    for key, name in (("driver", "Driver"), ("wear", "Wear")):
        link = inputs[key].link if key in inputs else ""
        parts.append(part(name, of(key), "an hour", shown(of(key)), link))
    counted = tuple(each for each in parts if each.value)
    total = within_size(sum((Decimal(each.value) for each in counted), Decimal(0)), "price")
    return Working(
        "Plant", total, unit, " + ".join(each.name.lower() for each in counted),
        " + ".join(shown(each.value) for each in counted), parts=counted,
    )  # fmt: skip
