"""The bars of a make-up's lines, as they stand in the bending schedule."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..bars.schedule import BarLine, ScheduleLine, scheduled
from ..findings import Finding
from ..numbers.formula import Formula
from ..refusals import BadEntry
from .document import STRAIGHT, Bar
from .makeup import MakeUp

Column = NDArray[np.float64]
AND = " and "  # between the places of bars that are one bar
_SMALLEST = 0.0005  # m: what is shorter is no bar
_LEG = 4  # decimals of a leg in m to which bars are one bar


def bar_columns(
    makeup: MakeUp, values: Mapping[str, Column], number: int
) -> list[tuple[Bar, dict[str, Column]]]:
    """Every bar of the make-up with what its formulas come to for each line; lengths in m."""
    metre = makeup.system.base(makeup.dimensions["length"])

    def column(name: str, formula: Formula) -> Column:
        found = np.broadcast_to(np.asarray(formula.value(values), dtype=float), (number,))
        return found * metre if formula.dimension == makeup.dimensions["length"] else found

    return [
        (bar, {name: column(name, formula) for name, formula in formulas.items()})
        for bar, formulas in makeup.bars
    ]


def scheduled_bars(
    makeup: MakeUp,
    columns: list[tuple[Bar, dict[str, Column]]],
    members: Mapping[str, Column],
    values: Mapping[str, float],
    low: int,
    high: int,
) -> tuple[tuple[ScheduleLine, ...], tuple[Finding, ...]]:
    """The bars of one element, those alike on one line; what can't be bent is told.

    Args:
        columns: what the formulas of the bars come to (see :func:`bar_columns`).
        members: for each output, how many of it every line gives, ddt lines below zero.
        values: what the element's inputs come to.
        low, high: where its lines stand in the columns.
    """
    metre = makeup.system.base(makeup.dimensions["length"])
    step, stock = (values.get(name, 0.0) * metre for name in ("cut_step", "stock"))
    rules = makeup.rules
    changes: dict[str, object] = {}
    if "cut_step" in values:
        changes["cut_step"] = f"{step!r} m"
    if stock > 0:
        changes["stock"] = (f"{stock!r} m",)
    rules = rules.model_copy(update=changes)
    bars = list[BarLine]()
    for bar, found in columns:
        mine = {name: column[low:high] for name, column in found.items()}
        for at, line in enumerate(_alike(_lines(bar, mine, members[bar.output][low:high], stock))):
            key = bar.key if not at else f"{bar.key}-{at + 1}"
            bars.append(replace(line, key=key, size=rules.size_of(float(line.size)), grade=rules.grade))
    lines, findings = list[ScheduleLine](), list[Finding]()
    for line in _one_mark(bars):
        try:
            lines.append(scheduled(line, rules))
        except BadEntry as error:
            findings.append(Finding(f"{line.label}: {error.sentence}", line.line, code="bar"))
    return tuple(lines), tuple(findings)


def _lines(bar: Bar, mine: Mapping[str, Column], members: Column, stock: float) -> Iterator[BarLine]:
    """The bars of every line; the size still as its diameter in m."""
    legs = [name for name in mine if name not in ("number", "d", "run", "laid")]
    laid: dict[float, float] = {}
    first: dict[float, int] = {}
    for at in np.flatnonzero(members):
        each, d = float(mine["number"][at]), float(mine["d"][at])
        sizes = {
            name: float(mine[name][at])
            for name in (*legs, *(["run"] if bar.run else ["laid"] if bar.laid else []))
        }
        if not (np.isfinite([each, d, *sizes.values()]).all() and each > 0 and d > 0):
            continue
        one = BarLine("", "", repr(d), float(members[at]), each, bar.shape, sizes, label=bar.label,
            output=bar.output, line=int(at), exact=bar.exact)  # fmt: skip
        if bar.laid:
            laid[d] = laid.get(d, 0.0) + float(members[at]) * each * sizes["laid"]
            first.setdefault(d, int(at))
        elif bar.run:
            yield from _from_stock(one, sizes["run"], stock)
        else:
            yield _straight(one)
    for d, length in laid.items():
        one = BarLine("", "", repr(d), 1.0, 1.0, "00", {}, label=bar.label, output=bar.output, line=first[d])
        yield from _from_stock(one, length, stock)


def _straight(bar: BarLine) -> BarLine:
    """A bar whose bobs are nothing is straight."""
    between = STRAIGHT.get(bar.shape)
    legs = list(bar.legs.values())
    if between is None or legs[0] > 0:
        return bar
    return replace(bar, shape="00", legs={"A": legs[between]})


def _from_stock(bar: BarLine, length: float, stock: float) -> Iterator[BarLine]:
    """A run made up of whole stock bars and a last one, cut where it is laid, so to no step; below zero
    where more is taken off than laid."""
    whole = np.floor(abs(length) / stock + 1e-9) if stock > 0 else 0.0
    for number, piece in ((whole, stock), (1.0, abs(length) - whole * stock)):
        if number > 0 and piece > _SMALLEST:
            yield replace(
                bar, members=bar.members if length > 0 else -bar.members, each=bar.each * float(number),
                shape="00", legs={"A": piece}, exact=True,
            )  # fmt: skip


def _one_mark(bars: list[BarLine]) -> list[BarLine]:
    """Bars that lie in different places and are the same bar, put together: both ways of a square footing."""
    found: dict[object, BarLine] = {}
    for bar in bars:
        same = (bar.output, bar.members, _bar(bar))
        before = found.get(same)
        if before is None:
            found[same] = bar
        else:
            label = f"{before.label}{AND}{bar.label[:1].lower()}{bar.label[1:]}"
            found[same] = replace(before, each=before.each + bar.each, label=label)
    return list(found.values())


def _bar(line: BarLine) -> object:
    """What makes a bar the bar it is."""
    return (line.size, line.shape, line.exact, *(round(leg, _LEG) for leg in line.legs.values()))


def _alike(lines: Iterator[BarLine]) -> list[BarLine]:
    """Lines of the same bar put together: as so many members of so many, or where these differ as one."""
    found: dict[object, BarLine] = {}
    for line in lines:
        same = _bar(line)
        before = found.get(same)
        if before is None:
            found[same] = line
        elif before.each == line.each:
            found[same] = replace(before, members=before.members + line.members)
        else:
            total = before.members * before.each + line.members * line.each
            found[same] = replace(before, members=1.0 if total >= 0 else -1.0, each=abs(total))
    return [line for line in found.values() if line.members and line.each]
