"""The analysis of a unit rate: labour, plant, material, sundries and subcontract, by output or per unit."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal, NamedTuple, get_args

from ..findings import Finding
from ..numbers.rounding import money, within_size
from ..numbers.working import Working, shown
from ..refusals import BadEntry

Group = Literal["labour", "plant", "material", "sundries", "subcontract"]
GROUPS: tuple[Group, ...] = ("labour", "plant", "material", "sundries", "subcontract")
Basis = Literal["output", "unit", "day", "fixed", "percent"]
BASES: tuple[Basis, ...] = get_args(Basis)
AddedOn = Literal["cost", "price"]
RATE_PLACES = 2
_NOTHING, _ONE = Decimal(0), Decimal(1)
_NO_MONEY: dict[Group, Decimal] = dict.fromkeys(GROUPS, _NOTHING)


class Take(NamedTuple):
    """What so many units of a rate take: of what has a price, of a group's money, or money itself.

    Attributes:
        group: the subtotal it belongs to.
        source: whose price counts, such as ``resource:4``; the group it is a share of; empty for money.
        quantity: how much of it, with allowance, and with what its price is escalated by.
        per: for how many units of the rate: what is taken by output is for the whole of it.
    """

    group: Group
    source: str
    quantity: Decimal
    per: Decimal = _ONE


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
        source: whose price ``price`` is, where that may become another by itself, such as ``build-up:7``.
        takes: of a percentage within a gang, what a gang hour of it takes.
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
    source: str = ""
    takes: tuple[Take, ...] = ()

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

    def rate_of(self, cost: Decimal) -> Decimal:
        """What the bill shows: the cost with what is added to it, rounded once.

        Raises:
            BadEntry: a margin is the whole price or more; or it is larger than a rate can be.
        """
        return money(self.price_of(cost), self.places, "rate")


def of_gang(line: BuildUpLine, members: Sequence[BuildUpLine], day: Decimal) -> tuple[BuildUpLine, ...]:
    """A line that draws on a gang, as a line for each who works in it, in their own group; one that is a
    percentage, as the money of it in a gang hour.

    Args:
        line: the line; its quantity is how many gangs (by output, in a day) or gang hours (per unit) there
            are.
        members: the lines of the gang, for one gang hour.
        day: the hours of a working day.
    """
    hour = Terms(day=day)
    worked = {a.line: a for a in analyse(members, hour).lines}

    def together(one: Decimal, other: Decimal) -> Decimal:
        return ((1 + one / 100) * (1 + other / 100) - 1) * 100

    def drawn(member: BuildUpLine) -> BuildUpLine:
        own, price, unit, takes = member.quantity, member.price, member.unit, member.takes
        if member.basis == "day":
            own /= day
        elif member.basis == "percent":
            own, price, unit = _ONE, worked[member].unit_price, "h"
            of = (m for m in members if m.group == member.percent_of and m.basis != "percent")
            share = member.quantity / 100
            takes = tuple(t._replace(quantity=t.quantity * share) for m in of for t in takes_of(m, hour))
        return member._replace(
            name=f"{member.name}, {line.name}", basis=line.basis, quantity=line.quantity * own,
            allowance=together(line.allowance, member.allowance), unit=unit, price=price, takes=takes,
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
    taken = [takes_of(line, terms) for line in lines]
    prices = {line.source: line.price for line in lines}
    groups = _NO_MONEY | _groups([take for each in taken for take in each], prices)
    plain = [_analyse(line, terms, each, prices) for line, each in zip(lines, taken, strict=True)]
    analysed = tuple(
        _percentage(a.line, [p for p in plain if p.line.group == a.line.percent_of])
        if a.line.basis == "percent"
        else a
        for a in plain
    )
    cost = within_size(sum(groups.values(), _NOTHING), "rate")
    return Analysis(analysed, groups, cost, terms.price_of(cost) - cost, terms.rate_of(cost), terms)


def takes_of(line: BuildUpLine, terms: Terms) -> tuple[Take, ...]:
    """What a line takes for units of the rate; nothing where it counts nothing."""
    quantity, per = line.quantity, _ONE
    if line.basis == "percent":
        return (Take(line.group, line.percent_of, quantity / 100),) if line.percent_of else ()
    if line.allowance:
        quantity *= 1 + line.allowance / 100
    if line.escalation:
        quantity *= 1 + line.escalation / 100
    if line.basis == "fixed":
        if not terms.billed:
            return ()
        per = terms.billed
    elif line.basis != "unit":
        if terms.output <= 0 or terms.hours <= 0:
            return ()
        per = terms.output
        if line.timed or line.basis == "day":
            quantity *= terms.hours
        if line.basis == "day":
            per *= terms.day
    if line.takes:
        return tuple(Take(line.group, t.source, quantity * t.quantity, per * t.per) for t in line.takes)
    if not line.source:
        quantity *= line.price or _NOTHING
    return (Take(line.group, line.source, quantity, per),)


def cost_of(takes: Iterable[Take], prices: Mapping[str, Decimal | None]) -> Decimal:
    """Money per unit of a rate, unrounded.

    Args:
        takes: what it takes.
        prices: of each source, money per unit of it; None where it has none yet.

    Raises:
        BadEntry: it is larger than a rate can be.
    """
    return within_size(sum(_groups(takes, prices).values(), _NOTHING), "rate")


def _groups(takes: Iterable[Take], prices: Mapping[str, Decimal | None]) -> dict[Group, Decimal]:
    """Money per unit of a rate by group. A share of a group is of what isn't a share itself."""
    groups: dict[Group, Decimal] = {}
    shares: list[Take] = []
    for take in takes:
        group, source, quantity, per = take
        if source in _NO_MONEY:
            shares.append(take)
        elif price := prices[source] if source else _ONE:
            costs = quantity * price / per
            groups[group] = groups[group] + costs if group in groups else costs
    if shares:
        plain = dict(groups)
        for group, source, share, _ in shares:
            of: Decimal = plain.get(source, _NOTHING)  # type: ignore[call-overload]
            groups[group] = groups.get(group, _NOTHING) + of * share
    return groups


def _percentage(line: BuildUpLine, of: Sequence[LineAnalysis]) -> LineAnalysis:
    """A percentage of a group, of its lines that are no percentages themselves."""
    share = line.quantity / 100
    amount, unit_price = (
        sum((getattr(a, name) for a in of), _NOTHING) * share for name in ("amount", "unit_price")
    )
    return LineAnalysis(line, line.quantity, amount, line.quantity, unit_price)


def _analyse(
    line: BuildUpLine, terms: Terms, takes: tuple[Take, ...], prices: Mapping[str, Decimal | None]
) -> LineAnalysis:
    if line.basis == "percent" or not takes:
        return LineAnalysis(line, _NOTHING, _NOTHING, _NOTHING, _NOTHING)
    price, quantity, output = line.price or _NOTHING, line.quantity, terms.output
    if line.escalation:
        price *= 1 + line.escalation / 100
    if line.allowance:
        quantity *= 1 + line.allowance / 100
    unit_price = sum(_groups(takes, prices).values(), _NOTHING)
    if line.basis in ("unit", "fixed"):
        if line.basis == "fixed":
            quantity /= terms.billed or _ONE
        return LineAnalysis(line, quantity * output, quantity * output * price, quantity, unit_price)
    if line.timed:
        quantity *= terms.hours
    elif line.basis == "day":
        quantity *= terms.hours / terms.day
    return LineAnalysis(line, quantity, quantity * price, quantity / output, unit_price)


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
