"""Build-ups worked out, line by line."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from decimal import Decimal
from functools import lru_cache
from typing import Any

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import RATE, exact
from ...core.numbers.units import unit
from ...core.numbers.working import shown
from ...core.numbers.written import written
from ...core.pricing import build_up as rate_rules
from ...core.pricing.build_up import GROUPS, Analysis, LineAnalysis, Terms, analyse
from ...store.models import BuildUp, BuildUpLine, Resource
from ..bill.reading import billed_by, places_of
from ..keeping.acting import Actor, find
from ..keeping.graph import ids_in
from .views import BuildUpBrief, BuildUpLineView, BuildUpView, GroupTotal

_CENT = Decimal("0.0001")

Drawn = Mapping[int, list[BuildUpLine]]  # rows by the rate they are of
MOST_NESTED = 60  # rates within rates within rates …


def build_ups(actor: Actor) -> list[BuildUpBrief]:
    """The project's build-ups by heading."""
    query = BuildUp.select().where(BuildUp.project == actor.project_id).order_by(BuildUp.heading, BuildUp.id)
    return [BuildUpBrief.model_validate(row) for row in query]


def build_up_view(actor: Actor, build_up_id: int) -> BuildUpView:
    """A build-up with every line worked out and its groups' subtotals."""
    row = find(BuildUp, actor, build_up_id)
    known = lines_of([row.id])
    rows, lines = known[row.id], core_lines(row, known)
    terms = terms_of(row, lines)
    analysis = analyse(lines, terms)
    return BuildUpView(
        id=row.id, version=row.version, name=row.name, unit=row.unit, heading=row.heading, kind=row.kind,
        rate=row.rate, output=written(row.output), hours=written(row.hours), added=row.added,
        added_on=row.added_on, note=row.note, cost=_kept(analysis.cost), adds=_kept(analysis.added),
        billed=terms.billed,
        lines=[
            _line_view(line, [a for a in analysis.lines if a.line.row == line.id], terms) for line in rows
        ],
        groups=[
            _group_total(analysis, g)
            for g in GROUPS
            if any(a.line.group == g for a in analysis.lines)
        ],
        findings=[f.says for f in analysis.findings], items=row.items.count(),
    )  # fmt: skip


def _group_total(analysis: Analysis, group: str) -> GroupTotal:
    found = analysis.of_group(group)
    return GroupTotal(
        group=group, unit=found.unit, amount=_kept(found.amount), unit_price=_kept(found.unit_price),
        total_quantity=None if found.total_quantity is None else _kept(found.total_quantity),
        unit_quantity=None if found.unit_quantity is None else _kept(found.unit_quantity),
    )  # fmt: skip


def _line_view(row: BuildUpLine, worked: list[LineAnalysis], terms: Terms) -> BuildUpLineView:
    """A line as it stands; a gang's is the sum of those who work in it."""
    own = core_line(row)
    gang = bool(row.nested_id) and row.nested.kind == "gang"
    amount, unit_price = (
        _kept(sum((getattr(a, name) for a in worked), Decimal(0))) for name in ("amount", "unit_price")
    )
    # A gang's quantity is of its hours, which one who works in it alone has as well.
    first = worked[0] if worked and not gang else analyse([own], terms).lines[0] if gang else None
    return BuildUpLineView(
        id=row.id, version=row.version, group=row.group, basis=row.basis, percent_of=row.percent_of,
        resource=row.resource_id, nested=row.nested_id,
        gang=gang, name=own.name, unit=own.unit, quantity=written(row.quantity), entered=own.quantity,
        note=row.note,
        allowance=row.allowance,
        escalation=row.escalation, price=own.price,
        total_quantity=_kept(first.total_quantity if first else own.quantity), amount=amount,
        unit_quantity=_kept(first.unit_quantity if first else Decimal(0)), unit_price=unit_price,
        shares={g: _of_group(worked, g, "unit_price") for g in dict.fromkeys(a.line.group for a in worked)},
    )  # fmt: skip


def _of_group(lines: Iterable[LineAnalysis], group: str, name: str) -> Decimal:
    """What the lines of a group come to."""
    return _kept(sum((getattr(a, name) for a in lines if a.line.group == group), Decimal(0)))


def _kept(value: Decimal) -> Decimal:
    return value.quantize(_CENT)


def core_lines(build_up: BuildUp, known: Drawn | None = None) -> list[rate_rules.BuildUpLine]:
    """A build-up's lines as the core takes them, with the prices they have now; a gang's as those who work
    in it.

    Args:
        known: its rows and its gangs', where they were read already.
    """
    day = exact(build_up.project.working_day)
    known = known if known is not None else lines_of([build_up.id])
    return [part for line in known[build_up.id] for part in _core_parts(line, day, known)]


def lines_of(build_up_ids: Iterable[int]) -> Drawn:
    """The rows of build-ups in order, by build-up, with what they draw on; those of the gangs among that
    too."""
    found: dict[int, list[BuildUpLine]] = {}
    fresh = set(build_up_ids)
    while fresh:
        rows = BuildUpLine.those(BuildUpLine.build_up, fresh, BuildUpLine.position, BuildUpLine.id)
        resources = _by_id(Resource, {row.resource_id for row in rows})
        nested = _by_id(BuildUp, {row.nested_id for row in rows})
        found |= {each: [] for each in fresh}
        for row in rows:
            row.__rel__ |= {"resource": resources.get(row.resource_id), "nested": nested.get(row.nested_id)}
            found[row.build_up_id].append(row)
        fresh = {each for each, row in nested.items() if row.kind == "gang"} - set(found)
    return found


def _by_id(table: Any, ids: set[int | None]) -> dict[int, Any]:
    return {row.id: row for row in table.those(table.id, ids - {None})}


def _core_parts(line: BuildUpLine, day: Decimal, known: Drawn) -> tuple[rate_rules.BuildUpLine, ...]:
    """A build-up's line as the core takes it: one, or one for each line of the gang it draws on; ``day`` are
    the hours of a working day."""
    own = core_line(line)
    if line.nested_id and line.nested.kind == "gang":
        members = [part for member in known[line.nested_id] for part in _core_parts(member, day, known)]
        return rate_rules.of_gang(own, members, day)
    return (own,)


def core_line(line: BuildUpLine) -> rate_rules.BuildUpLine:
    """A build-up's line as the core takes it."""
    if line.basis == "percent":
        share = exact(read_entry(line.quantity, "%", field="quantity") * 100)
        name = f"{shown(share, least=0)} % of {line.percent_of}"
        return rate_rules.BuildUpLine(
            name, line.group, "percent", share, "%", Decimal(0), None, percent_of=line.percent_of, row=line.id
        )
    source, price = (
        (line.resource, line.resource.price) if line.resource_id else (line.nested, line.nested.cost)
    )
    link = f"resource:{line.resource_id}" if line.resource_id else f"build-up:{line.nested_id}"
    quantity = _quantity(line.quantity, source.unit, line.basis)
    return rate_rules.BuildUpLine(
        source.name,
        line.group,
        line.basis,
        quantity,
        source.unit,
        line.allowance,
        price,
        line.escalation,
        link,
        row=line.id,
    )


@lru_cache(maxsize=20_000)  # a project's entries are mostly the same few hundred
def _quantity(text: str, symbol: str, basis: str) -> Decimal:
    return exact(quantity_in(text, symbol, basis))


_A_DAY = re.compile(r"\s*(?:/|per)\s*(?:days?|d)\b", re.IGNORECASE)


def quantity_in(text: str, symbol: str, basis: str) -> float:
    """The quantity of a line in the unit of what it draws on; what a day takes may be typed as ``160 l/day``.

    Raises:
        BadEntry: it can't be read, or is below zero.
    """
    plain = _A_DAY.sub("", text) if basis == "day" else text
    return read_entry(plain, symbol, field="quantity", minimum=0) / unit(symbol).size


def terms_of(build_up: BuildUp, lines: Iterable[rate_rules.BuildUpLine]) -> Terms:
    """What a build-up is reckoned by besides its lines; how much is billed by it where something is had
    once."""
    output, hours = (
        exact(read_entry(text, symbol, field=field))
        for text, symbol, field in ((build_up.output, "", "output"), (build_up.hours, "h", "hours"))
    )
    fixed = any(line.basis == "fixed" for line in lines)
    billed = billed_by([build_up.id]).get(build_up.id) if fixed else None
    project = build_up.project
    return Terms(
        output, hours, exact(project.working_day), billed, build_up.added, build_up.added_on,
        places_of(project)[RATE],
    )  # fmt: skip


def nesting(project_id: int) -> dict[str, list[str]]:
    """For each build-up of a project, the build-ups its lines draw on (ids as text)."""
    uses: dict[str, list[str]] = {
        str(i): [] for i in sorted(ids_in(BuildUp.select(BuildUp.id).where(BuildUp.project == project_id)))
    }
    lines = BuildUpLine.select(BuildUpLine.build_up, BuildUpLine.nested).where(
        (BuildUpLine.project == project_id) & BuildUpLine.nested.is_null(False)
    )
    for outer, inner in lines.tuples():
        uses[str(outer)].append(str(inner))
    return uses
