"""The analysis of a unit rate: labour, plant, material, sundries and subcontract, by output or per unit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from ..findings import Finding
from ..numbers.rounding import half_up, within_size
from ..numbers.working import Working, shown
from ..refusals import BadEntry

Group = Literal["labour", "plant", "material", "sundries", "subcontract"]
GROUPS: tuple[Group, ...] = ("labour", "plant", "material", "sundries", "subcontract")
Basis = Literal["output", "unit", "percent"]
RATE_PLACES = 2


@dataclass(frozen=True)
class BuildUpLine:
    """One line of a build-up.

    Attributes:
        name: the resource's or nested build-up's name.
        group: the subtotal it belongs to.
        basis: ``output``: the quantity works on the whole output; ``unit``: it goes into one unit of the
            rate; ``percent``: the quantity is a percentage of another group's money, such as small tools of
            labour.
        quantity: in ``unit``; for hours by output, how many work together (2 masons).
        unit: the resource's unit.
        allowance: percent added to the quantity (waste, laps, bulking).
        price: money per unit; None when it has none yet.
        escalation: percent added to the price.
        link: where the price comes from, such as ``resource:4``.
        percent_of: the group a percentage is taken of.
        row: what the caller knows the line by; lines of one gang share it.
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


def of_gang(line: BuildUpLine, members: Sequence[BuildUpLine]) -> tuple[BuildUpLine, ...]:
    """A line that draws on a gang, as a line for each who works in it, in their own group.

    Args:
        line: the line; its quantity is how many gangs (by output) or gang hours (per unit) there are.
        members: the lines of the gang, for one gang hour.
    """

    def together(one: Decimal, other: Decimal) -> Decimal:
        return ((1 + one / 100) * (1 + other / 100) - 1) * 100

    return tuple(
        replace(
            member,
            name=f"{member.name}, {line.name}",
            basis=line.basis,
            quantity=line.quantity * member.quantity,
            allowance=together(line.allowance, member.allowance),
            escalation=together(line.escalation, member.escalation),
            row=line.row,
        )
        for member in members
    )


@dataclass(frozen=True)
class LineAnalysis:
    """A line worked out, unrounded.

    Attributes:
        total_quantity: with allowance; for the whole output when the line is by output.
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
class Analysis:
    """A build-up worked out: its lines, its groups' money per unit and their sum (both unrounded), and the
    rate, rounded once: another rate it is a line of takes the sum."""

    lines: tuple[LineAnalysis, ...]
    groups: dict[Group, Decimal]
    cost: Decimal
    rate: Decimal
    findings: tuple[Finding, ...]


def analyse(lines: Sequence[BuildUpLine], output: Decimal, hours: Decimal) -> Analysis:
    """The unit rate of a build-up.

    Args:
        lines: its lines.
        output: how many units of the rate are done in the period.
        hours: the period's length: 1 for output an hour, 8 for output a day of 8 hours.

    Raises:
        BadEntry: a line is by output and the output or its hours are not above zero, or the rate is larger
        than one can be.
    """
    worked = {at: _analyse(line, output, hours) for at, line in enumerate(lines) if line.basis != "percent"}
    bases: dict[str, list[LineAnalysis]] = {
        group: [a for a in worked.values() if a.line.group == group] for group in GROUPS
    }
    worked |= {
        at: _percentage(line, bases.get(line.percent_of, []))
        for at, line in enumerate(lines)
        if line.basis == "percent"
    }
    analysed = tuple(worked[at] for at in range(len(lines)))
    groups = {
        group: sum((a.unit_price for a in analysed if a.line.group == group), Decimal(0)) for group in GROUPS
    }
    cost = within_size(sum(groups.values(), Decimal(0)), "rate")
    findings = tuple(
        Finding(f"{line.name} has no price, so it counts nothing.", at, wrong=True, code="no-price")
        for at, line in enumerate(lines)
        if line.price is None and line.basis != "percent"
    )
    return Analysis(analysed, groups, cost, half_up(cost, RATE_PLACES), findings)


def _percentage(line: BuildUpLine, of: Sequence[LineAnalysis]) -> LineAnalysis:
    """A percentage of a group, of its lines that are no percentages themselves."""
    share = line.quantity / 100
    amount, unit_price = (
        sum((getattr(a, name) for a in of), Decimal(0)) * share for name in ("amount", "unit_price")
    )
    return LineAnalysis(line, line.quantity, amount, line.quantity, unit_price)


def _analyse(line: BuildUpLine, output: Decimal, hours: Decimal) -> LineAnalysis:
    price = (line.price or Decimal(0)) * (1 + line.escalation / 100)
    quantity = line.quantity * (1 + line.allowance / 100)
    if line.basis == "unit":
        return LineAnalysis(line, quantity, quantity * price, quantity, quantity * price)
    if output <= 0 or hours <= 0:
        raise BadEntry(
            "An output must be above zero.",
            field="output",
            remedy="Type how many units are done in the period.",
        )
    if line.unit == "h":
        quantity *= hours
    amount = quantity * price
    return LineAnalysis(line, quantity, amount, quantity / output, amount / output)


def line_working(
    analysed: LineAnalysis, output: Decimal, hours: Decimal, rate_unit: str, currency: str
) -> Working:
    """How a line's money per unit of the rate came about."""
    line = analysed.line
    if line.basis == "percent":
        base = analysed.unit_price / line.quantity * 100 if line.quantity else Decimal(0)
        figures = [shown(base), f"{shown(line.quantity, least=0)} %"]
        return Working(
            line.name,
            analysed.unit_price,
            f"{currency}/{rate_unit}",
            f"{line.percent_of} × percentage",
            " × ".join(figures),
        )
    by_hours = line.basis == "output" and line.unit == "h"
    names, figures = ["quantity"], [shown(line.quantity, least=0)]
    for word, value, used in (("hours", hours, by_hours and hours != 1),):
        if used:
            names.append(word)
            figures.append(shown(value, least=0))
    if line.allowance:
        names.append("(1 + allowance)")
        figures.append(f"(1 + {shown(line.allowance, least=0)} %)")
    names.append("price")
    figures.append(shown(line.price or Decimal(0)))
    if line.escalation:
        names.append("(1 + escalation)")
        figures.append(f"(1 + {shown(line.escalation, least=0)} %)")
    expression, values = " × ".join(names), " × ".join(figures)
    if line.basis == "output":
        expression, values = f"{expression} / output", f"{values} / {shown(output, least=0)}"
    source = "" if line.price is not None else "no price yet"
    part = Working(
        f"Price of {line.name}",
        line.price or Decimal(0),
        f"{currency}/{line.unit}",
        source=source,
        link=line.link,
    )
    return Working(
        line.name, analysed.unit_price, f"{currency}/{rate_unit}", expression, values, parts=(part,)
    )


def rate_working(
    name: str, analysis: Analysis, output: Decimal, hours: Decimal, rate_unit: str, currency: str
) -> Working:
    """How a unit rate came about: its groups, then its lines."""
    used = [group for group in GROUPS if any(a.line.group == group for a in analysis.lines)]
    parts = tuple(
        Working(
            group.capitalize(),
            analysis.groups[group],
            f"{currency}/{rate_unit}",
            parts=tuple(
                line_working(a, output, hours, rate_unit, currency)
                for a in analysis.lines
                if a.line.group == group
            ),
        )
        for group in used
    )
    figures = " + ".join(shown(analysis.groups[group]) for group in used)
    return Working(name, analysis.rate, f"{currency}/{rate_unit}", " + ".join(used), figures, parts=parts)
