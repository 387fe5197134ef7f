"""Build-ups worked out, line by line."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from ...core.numbers.entry import read_entry
from ...core.numbers.rounding import exact
from ...core.numbers.units import unit
from ...core.numbers.working import shown
from ...core.numbers.written import written
from ...core.pricing import build_up as rate_rules
from ...core.pricing.build_up import GROUPS, Analysis, LineAnalysis, analyse
from ...store.models import BuildUp, BuildUpLine, Resource
from ..keeping.acting import Actor, find
from ..keeping.graph import ids_in
from .views import BuildUpBrief, BuildUpLineView, BuildUpView, GroupTotal

_CENT = Decimal("0.0001")

MOST_NESTED = 60  # rates within rates within rates …


def build_ups(actor: Actor) -> list[BuildUpBrief]:
    """The project's build-ups by heading."""
    query = BuildUp.select().where(BuildUp.project == actor.project_id).order_by(BuildUp.heading, BuildUp.id)
    return [BuildUpBrief.model_validate(row) for row in query]


def build_up_view(actor: Actor, build_up_id: int) -> BuildUpView:
    """A build-up with every line worked out and its groups' subtotals."""
    row = find(BuildUp, actor, build_up_id)
    rows = lines_in(row.id)
    analysis = analyse(core_lines(row), *output_of(row))
    return BuildUpView(
        id=row.id, version=row.version, name=row.name, unit=row.unit, heading=row.heading, kind=row.kind,
        rate=row.rate, output=written(row.output),
        hours=written(row.hours),
        lines=[_line_view(line, [a for a in analysis.lines if a.line.row == line.id]) for line in rows],
        groups=[
            _group_total(analysis, g)
            for g in GROUPS
            if any(a.line.group == g for a in analysis.lines)
        ],
        findings=[f.says for f in analysis.findings], items=row.items.count(),
    )  # fmt: skip


def _group_total(analysis: Analysis, group: str) -> GroupTotal:
    amount = _of_group(analysis.lines, group, "amount")
    return GroupTotal(group=group, amount=amount, unit_price=_kept(analysis.groups[group]))


def _line_view(row: BuildUpLine, worked: list[LineAnalysis]) -> BuildUpLineView:
    """A line as it stands; a gang's is the sum of those who work in it."""
    own = core_line(row)
    gang = bool(row.nested_id) and row.nested.kind == "gang"
    amount, unit_price = (
        _kept(sum((getattr(a, name) for a in worked), Decimal(0))) for name in ("amount", "unit_price")
    )
    first = worked[0] if worked and not gang else None
    return BuildUpLineView(
        id=row.id, version=row.version, group=row.group, basis=row.basis, percent_of=row.percent_of,
        resource=row.resource_id, nested=row.nested_id,
        gang=gang, name=own.name, unit=own.unit, quantity=written(row.quantity), note=row.note,
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


def core_lines(build_up: BuildUp) -> list[rate_rules.BuildUpLine]:
    """A build-up's lines as the core takes them, with the prices they have now; a gang's as those who work
    in it."""
    return [part for line in lines_in(build_up.id) for part in core_parts(line)]


def lines_in(build_up_id: int) -> list[BuildUpLine]:
    """The rows of a build-up in order, with what they draw on."""
    nested = BuildUp.alias()
    query = (
        BuildUpLine.select(BuildUpLine, Resource, nested)
        .left_outer_join(Resource)
        .switch(BuildUpLine)
        .left_outer_join(nested, on=(BuildUpLine.nested == nested.id), attr="nested")
        .where(BuildUpLine.build_up == build_up_id)
        .order_by(BuildUpLine.position, BuildUpLine.id)
    )
    return list(query)


def core_parts(line: BuildUpLine) -> tuple[rate_rules.BuildUpLine, ...]:
    """A build-up's line as the core takes it: one, or one for each line of the gang it draws on."""
    own = core_line(line)
    if line.nested_id and line.nested.kind == "gang":
        return rate_rules.of_gang(own, [core_line(member) for member in lines_in(line.nested_id)])
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
    quantity = exact(
        read_entry(line.quantity, source.unit, field="quantity", minimum=0) / unit(source.unit).size
    )
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


def output_of(build_up: BuildUp) -> tuple[Decimal, Decimal]:
    """A build-up's output and the hours it is done in."""
    return exact(read_entry(build_up.output, "", field="output")), exact(
        read_entry(build_up.hours, "h", field="hours")
    )


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
