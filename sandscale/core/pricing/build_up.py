"""The analysis of a unit rate: labour, plant, material, sundries and subcontract, by output or per unit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal, NamedTuple, get_args

from ..findings import Finding
from ..numbers.rounding import half_up, within_size
from ..numbers.working import Working, shown
from ..refusals import BadEntry

Group = Literal["labour", "plant", "material", "sundries", "subcontract"]
GROUPS: tuple[Group, ...] = ("labour", "plant", "material", "sundries", "subcontract")
Basis = Literal["output", "unit", "day", "fixed", "percent"]
BASES: tuple[Basis, ...] = get_args(Basis)
AddedOn = Literal["cost", "price"]
RATE_PLACES = 2
_NOTHING = Decimal(0)


class BuildUpLine(NamedTuple):
    """One line of a build-up.

    Attributes:
        name: the resource's or nested build-up's name.
        group: the subtotal it belongs to.
        basis: ``output``: the quantity works on the whole output; ``unit``: it goes into one unit of the
            rate; ``day``: it is what a working day takes; ``fixed``: it is had once, and spread over all that
            is billed by the rate; ``percent``: the quantity is a percentage of another group's money, such
            as small tools of labour.
        quantity: in ``unit``; for hours by output, how many work together (2 masons).
        unit: the resource's unit.
        allowance: percent added to the quantity (waste, laps, bulking).
        price: money per unit; None when it has none yet.
        escalation: percent added to the price.
        link: where the price comes from, such as ``resource:4``.
        percent_of: the group a percentage is taken of.
        row: what the caller knows the line by; lines of one gang share it.
        hourly: whether what is by output is for each hour of it, as all of a gang is, and hours are.
    """

    name: str
    group: Group
    basis: Basis
    quantity: Decimal
    unit: str
    allowance: Decimal
    price: Decimal | None
    escalation: Decimal = Decimal(0)
    link: str = ""
    percent_of: str = ""
    row: int = 0
    hourly: bool = False

    @property
    def timed(self) -> bool:
        """Whether its quantity is multiplied by the hours of the output."""
        return self.basis == "output" and (self.unit == "h" or self.hourly)


class Terms(NamedTuple):
    """What a rate is reckoned by besides its lines.

    Attributes:
        output: how many units of the rate are done in the period.
        hours: the period's length: 1 for output an hour, 8 for output a day of 8 hours.
        day: the hours of a working day.
        billed: how much is billed by the rate; what is fixed is spread over it.
        added: percent added to the cost.
        added_on: what it is a percentage of: the cost (mark-up) or the price (margin).
        places: to which the rate that the bill shows is rounded.
    """

    output: Decimal = Decimal(1)
    hours: Decimal = Decimal(1)
    day: Decimal = Decimal(8)
    billed: Decimal | None = None
    added: Decimal = Decimal(0)
    added_on: AddedOn = "cost"
    places: int = RATE_PLACES

    def price_of(self, cost: Decimal) -> Decimal:
        """The cost with what is added to it, unrounded.

        Raises:
            BadEntry: a margin is the whole price or more.
        """
        if not self.added:
            return cost
        if self.added_on == "cost":
            return cost * (1 + self.added / 100)
        if self.added >= 100:
            raise BadEntry("A margin is less than 100 % of the price.", field="added")
        return cost / (1 - self.added / 100)


def of_gang(line: BuildUpLine, members: Sequence[BuildUpLine], day: Decimal) -> tuple[BuildUpLine, ...]:
    """A line that draws on a gang, as a line for each who works in it, in their own group; one that is a
    percentage, as the money of it in a gang hour.

    Args:
        line: the line; its quantity is how many gangs (by output, in a day) or gang hours (per unit) there
            are.
        members: the lines of the gang, for one gang hour.
        day: the hours of a working day.
    """
    worked = {a.line: a for a in analyse(members, Terms(day=day)).lines}

    def together(one: Decimal, other: Decimal) -> Decimal:
        return ((1 + one / 100) * (1 + other / 100) - 1) * 100

    def drawn(member: BuildUpLine) -> BuildUpLine:
        own, price, unit = member.quantity, member.price, member.unit
        if member.basis == "day":
            own /= day
        elif member.basis == "percent":
            own, price, unit = Decimal(1), worked[member].unit_price, "h"
        return member._replace(
            name=f"{member.name}, {line.name}", basis=line.basis, quantity=line.quantity * own,
            allowance=together(line.allowance, member.allowance), unit=unit, price=price,
            escalation=together(line.escalation, member.escalation), row=line.row, hourly=True, percent_of="",
        )  # fmt: skip

    return tuple(drawn(member) for member in members)


class LineAnalysis(NamedTuple):
    """A line worked out, unrounded.

    Attributes:
        total_quantity: with allowance, for the whole output.
        amount: ``total_quantity`` × price with escalation.
        unit_quantity: quantity for one unit of the rate.
        unit_price: money for one unit of the rate.
    """

    line: BuildUpLine
    total_quantity: Decimal
    amount: Decimal
    unit_quantity: Decimal
    unit_price: Decimal


@dataclass(frozen=True)
class GroupSum:
    """What the lines of a group come to. Quantities are summed where all of them are in one unit: the hours
    of labour, the hours of plant; None where they aren't."""

    total_quantity: Decimal | None
    amount: Decimal
    unit_quantity: Decimal | None
    unit_price: Decimal
    unit: str = ""


class Analysis(NamedTuple):
    """A build-up worked out: its lines, its groups' money per unit and their sum (both unrounded), what is
    added to it, and the rate, rounded once: another rate it is a line of takes the sum."""

    lines: tuple[LineAnalysis, ...]
    groups: dict[Group, Decimal]
    cost: Decimal
    added: Decimal
    rate: Decimal
    terms: Terms

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What counts nothing, and why."""
        terms, lines = self.terms, [a.line for a in self.lines]
        found = [
            Finding(f"{line.name} has no price, so it counts nothing.", at, wrong=True, code="no-price")
            for at, line in enumerate(lines)
            if line.price is None and line.basis != "percent"
        ]
        if terms.output <= 0 or terms.hours <= 0:
            found += [
                Finding(
                    f"{line.name} is by output, which comes to nothing.", at, wrong=True, code="no-output"
                )
                for at, line in enumerate(lines)
                if line.basis in ("output", "day")
            ]
        if not terms.billed:
            found += [
                Finding(
                    f"{line.name} is had once, and nothing is billed by this rate yet to spread it over, so "
                    "it counts nothing.", at, code="nothing-billed",
                )
                for at, line in enumerate(lines)
                if line.basis == "fixed"
            ]  # fmt: skip
        return tuple(found)

    def of_group(self, group: str) -> GroupSum:
        """The subtotal of a group in every column."""
        own = [a for a in self.lines if a.line.group == group]
        units = {a.line.unit for a in own if a.line.basis != "percent"}
        alike = len(units) == 1 and all(a.line.basis != "percent" for a in own)
        total, amount, each, price = (
            sum((getattr(a, name) for a in own), Decimal(0))
            for name in ("total_quantity", "amount", "unit_quantity", "unit_price")
        )
        if not alike:
            return GroupSum(None, amount, None, price)
        return GroupSum(total, amount, each, price, units.pop())


def analyse(lines: Sequence[BuildUpLine], terms: Terms) -> Analysis:
    """The unit rate of a build-up.

    Args:
        lines: its lines.
        terms: what it is reckoned by besides.

    Raises:
        BadEntry: the rate is larger than one can be.
    """
    plain = [_analyse(line, terms) for line in lines if line.basis != "percent"]
    if len(plain) < len(lines):
        following = iter(plain)
        analysed = tuple(
            _percentage(line, [a for a in plain if a.line.group == line.percent_of])
            if line.basis == "percent"
            else next(following)
            for line in lines
        )
    else:
        analysed = tuple(plain)
    groups = dict.fromkeys(GROUPS, _NOTHING)
    for a in analysed:
        groups[a.line.group] += a.unit_price
    cost = within_size(sum(groups.values(), _NOTHING), "rate")
    price = within_size(terms.price_of(cost), "rate")
    return Analysis(analysed, groups, cost, price - cost, half_up(price, terms.places), terms)


def _percentage(line: BuildUpLine, of: Sequence[LineAnalysis]) -> LineAnalysis:
    """A percentage of a group, of its lines that are no percentages themselves."""
    share = line.quantity / 100
    amount, unit_price = (
        sum((getattr(a, name) for a in of), Decimal(0)) * share for name in ("amount", "unit_price")
    )
    return LineAnalysis(line, line.quantity, amount, line.quantity, unit_price)


def _analyse(line: BuildUpLine, terms: Terms) -> LineAnalysis:
    price, quantity, output, hours = line.price or _NOTHING, line.quantity, terms.output, terms.hours
    if line.escalation:
        price *= 1 + line.escalation / 100
    if line.allowance:
        quantity *= 1 + line.allowance / 100
    if line.basis in ("unit", "fixed"):
        if line.basis == "fixed":
            quantity = quantity / terms.billed if terms.billed else _NOTHING
        return LineAnalysis(line, quantity * output, quantity * output * price, quantity, quantity * price)
    if output <= 0 or hours <= 0:
        return LineAnalysis(line, _NOTHING, _NOTHING, _NOTHING, _NOTHING)
    if line.timed:
        quantity *= hours
    elif line.basis == "day":
        quantity *= hours / terms.day
    amount = quantity * price
    return LineAnalysis(line, quantity, amount, quantity / output, amount / output)


def line_working(analysed: LineAnalysis, terms: Terms, rate_unit: str, currency: str) -> Working:
    """How a line's money per unit of the rate came about."""
    line = analysed.line
    if line.basis == "percent":
        base = analysed.unit_price / line.quantity * 100 if line.quantity else Decimal(0)
        figures = f"{shown(base)} × {shown(line.quantity, least=0)} %"
        told = f"{line.percent_of} × percentage"
        return Working(line.name, analysed.unit_price, f"{currency}/{rate_unit}", told, figures)
    factors = [("quantity", shown(line.quantity, least=0))]
    if line.basis == "day" or (line.timed and terms.hours != 1):
        factors.append(("hours", shown(terms.hours, least=0)))
    if line.allowance:
        factors.append(("(1 + allowance)", f"(1 + {shown(line.allowance, least=0)} %)"))
    factors.append(("price", shown(line.price or Decimal(0))))
    if line.escalation:
        factors.append(("(1 + escalation)", f"(1 + {shown(line.escalation, least=0)} %)"))
    expression, values = (" × ".join(each) for each in zip(*factors, strict=True))
    under = {
        "output": [("output", terms.output)],
        "day": [("hours of a day", terms.day), ("output", terms.output)],
        "fixed": [("quantity billed", terms.billed or Decimal(0))],
    }.get(line.basis, [])  # fmt: skip
    for name, value in under:
        expression, values = f"{expression} / {name}", f"{values} / {shown(value, least=0)}"
    source = "" if line.price is not None else "no price yet"
    part = Working(
        f"Price of {line.name}", line.price or Decimal(0), f"{currency}/{line.unit}", source=source,
        link=line.link,
    )  # fmt: skip
    return Working(
        line.name, analysed.unit_price, f"{currency}/{rate_unit}", expression, values, parts=(part,)
    )


def rate_working(name: str, analysis: Analysis, terms: Terms, rate_unit: str, currency: str) -> Working:
    """How a unit rate came about: its groups, then its lines, and what is added."""
    used = [group for group in GROUPS if any(a.line.group == group for a in analysis.lines)]
    symbol = f"{currency}/{rate_unit}"
    parts = [
        Working(
            group.capitalize(), analysis.groups[group], symbol,
            parts=tuple(
                line_working(a, terms, rate_unit, currency) for a in analysis.lines if a.line.group == group
            ),
        )
        for group in used
    ]  # fmt: skip
    expression, figures = " + ".join(used), " + ".join(shown(analysis.groups[group]) for group in used)
    if terms.added:
        word = "mark-up on cost" if terms.added_on == "cost" else "margin on price"
        share = shown(terms.added, least=0)
        how = f"cost × {share} %" if terms.added_on == "cost" else f"cost × {share} / (100 − {share})"
        parts.append(Working(word.capitalize(), analysis.added, symbol, how))
        expression, figures = f"{expression} + {word}", f"{figures} + {shown(analysis.added)}"
    return Working(name, analysis.rate, symbol, expression, figures, parts=tuple(parts))
